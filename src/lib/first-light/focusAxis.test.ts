import { readFocusRun, type FocusBudget, type FocusPoint } from '@lodestone/core/focus';
import { describe, expect, it } from 'vitest';
import { focusAxis, type OnAxis } from './focusAxis.ts';

const budget = (extensionMm: readonly [number, number], travelMm: number | null = 150): FocusBudget =>
  ({ report: { travelMm, verdict: 'reaches' }, extensionMm, uncertaintyMm: 0.5 }) as unknown as FocusBudget;

const axisOf = (given: Partial<OnAxis>) => {
  const points = given.points ?? [];
  return focusAxis({
    points,
    answer: readFocusRun(points),
    next: undefined,
    budget: undefined,
    umPerStep: undefined,
    maxPosition: undefined,
    ...given
  });
};
/** A run whose stars are smallest at 9000. */
const run = (...positions: number[]): FocusPoint[] =>
  positions.map((position) => ({ position, hfrPx: Math.hypot(2, 0.02 * (position - 9000)), star: 'one' }));

describe('the axis of curve and tube', () => {
  it('is in mm before the first step, where nobody said what a step moves', () => {
    const axis = axisOf({ budget: budget([44, 46]) });
    expect([axis.unit, axis.farStop, axis.falls]).toEqual(['mm', 150, [43.5, 46.5]]);
    expect([axis.ofMm(45), axis.mmAt(45)]).toEqual([45, 45]);
    expect(axis.whole[0]).toBeLessThan(0);
    expect(axis.whole[1]).toBeGreaterThan(150);
  });

  it('is in steps, the tube on it, where a step is known', () => {
    const axis = axisOf({ budget: budget([44, 46]), umPerStep: 5, maxPosition: 30_000, points: run(8000, 8600) });
    expect([axis.unit, axis.farStop, axis.falls]).toEqual(['steps', 30_000, [8700, 9300]]);
    expect([axis.ofMm(45), axis.mmAt(9000)]).toEqual([9000, 45]);
  });

  it('does not place the tube where a step is not known', () => {
    const axis = axisOf({ budget: budget([44, 46]), points: run(8000, 8600) });
    expect([axis.unit, axis.ofMm(45), axis.mmAt(9000), axis.falls, axis.farStop]).toEqual([
      'steps',
      undefined,
      undefined,
      undefined,
      undefined
    ]);
    expect(axis.whole[0]).toBeLessThanOrEqual(0);
    expect(axis.whole[1]).toBeGreaterThan(8600);
  });

  it('keeps an end open where focus is bounded on one side only', () => {
    const axis = axisOf({ budget: budget([60, Infinity]) });
    expect(axis.falls).toEqual([59.5, Infinity]);
    expect(axis.whole.every(Number.isFinite)).toBe(true);
    expect(axisOf({ budget: budget([-Infinity, Infinity], null) }).falls).toBeUndefined();
  });

  it('shows the stops, focus and every frame, and from nearby what is near the best', () => {
    const points = run(0, 4000, 8700, 8900, 9000, 9100, 9300);
    const axis = axisOf({ points, maxPosition: 30_000, next: 9050 });
    expect(axis.whole[0]).toBeLessThan(0);
    expect(axis.whole[1]).toBeGreaterThan(30_000);
    expect(axis.near![0]).toBeGreaterThan(8000);
    expect(axis.near![1]).toBeLessThan(10_000);
  });

  it('has a width where nothing is known at all', () => {
    const { whole, near, unit } = axisOf({});
    expect([unit, near]).toEqual(['mm', undefined]);
    expect(whole[1] - whole[0]).toBeGreaterThan(10);
  });
});
