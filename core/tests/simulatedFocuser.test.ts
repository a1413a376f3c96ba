import { describe, expect, it } from 'vitest';
import {
  SimulatedFocuser,
  measuredBacklash,
  readFocusRun,
  type FocusPoint,
  type SimulatedSpec
} from '../src/focus/index.ts';

const made = (more: Partial<SimulatedSpec> = {}): SimulatedFocuser =>
  new SimulatedFocuser({
    lastStep: 8000,
    umPerStep: 4.8,
    backlash: 60,
    slip: 0,
    bestStep: 3000,
    leastHfrPx: 2.1,
    perStepPx: 0.012,
    scatter: 0,
    seed: 5,
    ...more
  });

describe('the focuser that ships', () => {
  it('counts what it is told, loses its backlash once a reversal, and shows the star where the tube is', () => {
    const focuser = made();
    focuser.zero();
    expect(focuser.move(3060).position).toBe(3060);
    // Sixty steps were lost on the way out of the zero.
    expect(focuser.frame().hfrPx).toBeCloseTo(2.1, 2);
    focuser.move(3000);
    expect(focuser.frame().hfrPx).toBeCloseTo(2.1, 2);
    focuser.move(2900);
    expect(focuser.frame().hfrPx).toBeCloseTo(Math.hypot(2.1, 0.012 * 100), 2);
  });

  it('goes on from what is kept of it as if nothing had been between', () => {
    const whole = made({ slip: 0.5, scatter: 0.05 });
    const kept = made({ slip: 0.5, scatter: 0.05 });
    for (const focuser of [whole, kept]) {
      focuser.zero();
      focuser.move(3500);
      focuser.frame();
    }
    const again = SimulatedFocuser.from(JSON.parse(JSON.stringify(kept.memory)));
    for (const to of [3300, 3100, 2900, 9999]) {
      expect(again.move(to)).toEqual(whole.move(to));
      expect(again.frame()).toEqual(whole.frame());
    }
  });

  it('stops at its ends, and says so', () => {
    const focuser = made();
    focuser.zero();
    expect(focuser.move(9000)).toMatchObject({ position: 9000, stopped: true });
    expect(focuser.move(8900).stopped).toBe(false);
    expect(focuser.zero()).toMatchObject({ position: 0, stopped: false });
  });

  it('with a slipping clutch is where nobody counts', () => {
    const focuser = made({ slip: 1 });
    focuser.zero();
    focuser.move(3060);
    expect(focuser.frame().hfrPx).toBeGreaterThan(2.2);
  });

  it('is the same for the same seed', () => {
    const run = (seed: number) => {
      const focuser = made({ seed, scatter: 0.03 });
      focuser.zero();
      return [1000, 2000, 3000].map((to) => (focuser.move(to), focuser.frame().hfrPx));
    };
    expect(run(7)).toEqual(run(7));
    expect(run(7)).not.toEqual(run(8));
  });

  it('walked out and in again tells its backlash, and either way its focus', () => {
    const focuser = made({ scatter: 0.01 });
    focuser.zero();
    const points: FocusPoint[] = [2600, 2750, 2900, 3050, 3200, 3350, 3500].map(
      (to) => (focuser.move(to), focuser.frame())
    );
    expect(Math.abs(readFocusRun(points).bestPosition! - 3060)).toBeLessThan(10);
    for (const to of [3350, 3200, 3050, 2900, 2750, 2600]) {
      focuser.move(to);
      points.push(focuser.frame());
    }
    const { steps, standard } = measuredBacklash(points)!;
    expect(Math.abs(steps - 60)).toBeLessThan(4 * standard + 2);
  });
});
