// Lines that decide at a limit, or because something is not known: each asked on both sides of what it decides.
// Figures are worked out beside each; common practice, no source, where none is named.
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { COMPARED_ROWS, bestOf, compared } from '../src/compare/index.ts';
import { checkTrain } from '../src/check/index.ts';
import { fitAt } from '../src/joint/index.ts';
import { quantityInWords } from '../src/why/index.ts';
import type { BodyElement, Corrector, Port, Train } from '../src/train/index.ts';
import { infinityWhenShort } from '../src/check/backFocus.ts';
import { narrowed, nearestSetting, type Dial } from '../src/length/settle.ts';
import { tubesFor } from '../src/check/otherParts.ts';
import { spacingOf } from '../src/experiment/index.ts';
import type { Part } from '../src/drawer/index.ts';
import { camera, corrector, part, train } from './trains.ts';

const thread = (name: string, gender: 'male' | 'female', more: object = {}): Port =>
  ({ thread: name, gender, ...more }) as Port;
const codes = (of: Train): string[] => checkTrain(of).problems.map(({ code }) => code);

describe('a published figure that was read from the wrong plane', () => {
  const asked = (asks: Corrector, threadMm: number | undefined): boolean => {
    const male = thread('M48x0.75', 'male', threadMm === undefined ? {} : { lengthMm: threadMm });
    return codes(train([corrector(asks, { camera: male }), camera(55)])).includes('datum-misread');
  };

  it.each([
    // Tuned one thread longer, to within 0.3 mm: measured from the tip, published as from the shoulder.
    [{ backFocusMm: 55, tunedMm: 59.5 }, 4.5, true],
    [{ backFocusMm: 55, tunedMm: 59.79 }, 4.5, true],
    [{ backFocusMm: 55, tunedMm: 59.81 }, 4.5, false],
    [{ backFocusMm: 55, tunedMm: 59.21 }, 4.5, true],
    [{ backFocusMm: 55, tunedMm: 59.19 }, 4.5, false],
    // One shorter says it only of what is counted from the tip.
    [{ backFocusMm: 55, tunedMm: 50.5 }, 4.5, false],
    [{ backFocusMm: 55, tunedMm: 50.5, datum: 'thread-tip' }, 4.5, true],
    [{ backFocusMm: 55, tunedMm: 59.5, datum: 'thread-tip' }, 4.5, false],
    // Glass is no shoulder; and what is not known accuses nobody.
    [{ backFocusMm: 55, tunedMm: 59.5, datum: 'last-surface', datumOffsetMm: 2 }, 4.5, false],
    [{ backFocusMm: 55 }, 4.5, false],
    [{ tunedMm: 59.5 }, 4.5, false],
    [{ backFocusMm: 55, tunedMm: 59.5 }, undefined, false],
    // A thread as short as that would be any tuning.
    [{ backFocusMm: 55, tunedMm: 55.3 }, 0.3, false],
    [{ backFocusMm: 55, tunedMm: 55.4 }, 0.4, true]
  ] as [Corrector, number | undefined, boolean][])('%j with a thread of %s mm: %s', (asks, threadMm, expected) => {
    expect(asked(asks, threadMm)).toBe(expected);
  });
});

describe('infinity of a lens that stands too near', () => {
  // Scale at infinity of a lens f racked out by x: f + f²/x; 400 mm, 0.4 mm short: 400.4 m (thin lens).
  const lens = (nearLimitMm: number | undefined): Train => {
    const made = train([camera(46.1)]);
    return {
      ...made,
      host: {
        ...made.host,
        kind: 'camera-lens',
        focalLengthMm: 400,
        corrector: { backFocusMm: 46.5, toleranceMm: 0.05 },
        ...(nearLimitMm === undefined ? {} : { nearLimitMm })
      }
    };
  };

  it('is kept by one that focuses as near, lost by one that does not, and not known of one that does not say', () => {
    const at = /as near as ([\d.]+) m/.exec(infinityWhenShort(lens(undefined), 0.4).sentence);
    expect(Number(at?.[1])).toBeCloseTo(400.4, -1);
    expect(infinityWhenShort(lens(2500), 0.4).kept).toBe(true);
    expect(infinityWhenShort(lens(600_000), 0.4).kept).toBe(false);
    expect(infinityWhenShort(lens(undefined), 0.4).kept).toBeUndefined();
  });

  it('exactly as near is near enough', () => {
    let [near, far] = [1, 1e9];
    for (let step = 0; step < 200 && far - near > 0; step++) {
      const middle = (near + far) / 2;
      if (middle === near || middle === far) break;
      if (infinityWhenShort(lens(middle), 0.4).kept) near = middle;
      else far = middle;
    }
    expect(near / 1000).toBeCloseTo(400.4, 0);
    expect(infinityWhenShort(lens(near), 0.4).kept).toBe(true);
  });

  it('is told with the name of the lens and why', () => {
    const lost = checkTrain(lens(600_000)).problems.find(({ code }) => code === 'infinity-lost');
    expect(lost?.message).toMatch(/^host: The lens does not reach infinity: .* its closest focus is 600 m/);
  });
});

describe('a dial that may only be set between two lengths', () => {
  const dial = fc
    .record({
      min: fc.integer({ min: -40, max: 40 }),
      steps: fc.integer({ min: 0, max: 12 }),
      step: fc.integer({ min: 1, max: 7 })
    })
    .chain(({ min, steps, step }) =>
      // The end stop need not lie on a mark.
      fc.integer({ min: 0, max: step - 1 }).map((beyond): Dial => ({ min, max: min + steps * step + beyond, step }))
    );
  const settingsOf = ({ min, max, step }: Dial): number[] => {
    const marks: number[] = [];
    for (let at = min; at <= max; at += step) marks.push(at);
    return [...new Set([...marks, max])];
  };

  it('has just those of its settings that lie there', () => {
    fc.assert(
      fc.property(dial, fc.integer({ min: -60, max: 80 }), fc.integer({ min: 0, max: 60 }), (of, from, wide) => {
        const to = from + wide;
        const inside = settingsOf(of).filter((at) => at >= from && at <= to);
        const left = narrowed(of, from, to);
        expect(left ? settingsOf(left) : []).toEqual(inside);
      })
    );
  });

  it('without steps has all of what lies there', () => {
    const free: Dial = { min: 10, max: 20, step: 0 };
    expect(narrowed(free, 12, 15)).toEqual({ min: 12, max: 15, step: 0 });
    expect(narrowed(free, 5, 12)).toEqual({ min: 10, max: 12, step: 0 });
    expect(narrowed(free, 20, 30)).toEqual({ min: 20, max: 20, step: 0 });
    expect(narrowed(free, 21, 30)).toBeUndefined();
    expect(narrowed(free, 10, 20)).toBe(free);
  });

  it('is set to the nearest of its settings, whichever that is', () => {
    fc.assert(
      fc.property(dial, fc.double({ min: -60, max: 120, noNaN: true }), (of, wanted) => {
        const inside = Math.min(of.max, Math.max(of.min, wanted));
        const off = (at: number): number => Math.abs(at - inside);
        const best = Math.min(...settingsOf(of).map(off));
        expect(off(nearestSetting(of, wanted))).toBeCloseTo(best, 9);
      })
    );
  });
});

describe('tubes that carry a guide camera farther out', () => {
  const ring = (partId: string, lengthMm: number, quantity = 1, more: Partial<BodyElement> = {}): Part => ({
    partId,
    quantity,
    measurements: [],
    element: {
      ...part(partId, lengthMm, { sky: thread('M42x0.75', 'female'), camera: thread('M42x0.75', 'male'), ...more })
    }
  });
  const port = thread('M42x0.75', 'male');
  const ways = (parts: readonly Part[], least: number, most: number): string[] =>
    tubesFor(port, least, most, parts).map((way) => way.map(({ partId }) => partId).join('+'));

  it('are of the drawer, one before two, the nearest to the middle first', () => {
    const rings = [ring('A', 5), ring('B', 10), ring('C', 14), ring('D', 20)];
    expect(ways(rings, 9, 15).slice(0, 3)).toEqual(['B', 'C', 'A+B']);
    expect(ways(rings, 11, 15).slice(0, 2)).toEqual(['C', 'A+B']);
    expect(ways(rings, 24, 26)).toEqual(['A+D', 'B+C']);
  });

  it('are twice the same only where there are two of it', () => {
    expect(ways([ring('A', 5)], 10, 10)).toEqual([]);
    expect(ways([ring('A', 5, 2)], 10, 10)).toEqual(['A+A']);
  });

  it('have to fit on both sides', () => {
    expect(ways([ring('A', 10, 1, { camera: thread('M48x0.75', 'male') })], 10, 10)).toEqual([]);
    expect(ways([ring('A', 10, 1, { sky: thread('M48x0.75', 'female') })], 10, 10)).toEqual([]);
    expect(ways([ring('A', 10)], 10, 10)).toEqual(['A']);
  });
});

describe('a measurement over several elements', () => {
  const elements = [corrector({ backFocusMm: 55 }), part('a', 10), part('b', 10), part('c', 10), camera(20)];
  const measured = (group: { from: string; to: string; of?: string[] }): Train =>
    train(elements, { groups: [{ lengthMm: 20.4, ...group }] });
  const residual = (of: Train): number | null => checkTrain(of).residualMm;

  it('counts where both its ends are there, in their order', () => {
    // 10 + 10 + 10 + 20 − 55, and 0.4 more where it counts.
    expect(residual(train(elements))).toBeCloseTo(-5, 9);
    expect(residual(measured({ from: 'a', to: 'b' }))).toBeCloseTo(-4.6, 9);
    for (const group of [
      { from: 'gone', to: 'b' },
      { from: 'a', to: 'gone' },
      { from: 'gone', to: 'lost' },
      { from: 'b', to: 'a' },
      { from: 'a', to: 'a' }
    ]) {
      expect(residual(measured(group))).toBeCloseTo(-5, 9);
    }
  });

  it('counts no longer where something else stands between', () => {
    expect(residual(measured({ from: 'a', to: 'b', of: ['a', 'b'] }))).toBeCloseTo(-4.6, 9);
    expect(residual(measured({ from: 'a', to: 'b', of: ['a', 'x'] }))).toBeCloseTo(-5, 9);
    expect(residual(measured({ from: 'a', to: 'b', of: ['a', 'c', 'b'] }))).toBeCloseTo(-5, 9);
  });
});

describe('a part between two faces', () => {
  const [up, down] = [thread('M42x0.75', 'male'), thread('M48x0.75', 'female')];
  const turned = part('ring', 5, { sky: thread('M48x0.75', 'male'), camera: thread('M42x0.75', 'female') });

  it('is turned round only where it may be', () => {
    expect(fitAt({ ...turned, reversible: true }, up, down)).toEqual({ closes: 'both', reversed: true });
    expect(fitAt({ ...turned, reversible: false }, up, down)).toBeUndefined();
    expect(fitAt(turned, up, down)).toBeUndefined();
  });
});

describe('which train is best in a row', () => {
  const trains = [60, 55.5].map((lengthMm) => compared(train([corrector({ backFocusMm: 55 }), camera(lengthMm)]), []));

  it('is told of two of which it is known, and of nothing less', () => {
    const row = COMPARED_ROWS.find(({ figure, better }) => figure && better);
    expect(row).toBeDefined();
    const figured = { ...row!, figure: (_: unknown): number | null => 1 };
    let asked = 0;
    const counting = { ...row!, figure: (): number | null => asked++ };
    expect(bestOf(counting as never, trains)).toBe(row!.better === 'less' ? 0 : 1);
    expect(bestOf(counting as never, trains.slice(0, 1))).toBeUndefined();
    expect(bestOf(figured as never, trains)).toBeUndefined();
    expect(bestOf({ ...counting, better: undefined } as never, trains)).toBeUndefined();
    expect(bestOf({ ...counting, figure: undefined } as never, trains)).toBeUndefined();
    expect(
      bestOf({ ...row!, figure: (each: unknown) => (each === trains[0] ? null : 1) } as never, trains)
    ).toBeUndefined();
  });
});

describe('the spacing a train has', () => {
  it('is that of its parts from the datum, without its glass; none while a place is open or nothing asks', () => {
    expect(spacingOf(train([corrector({ backFocusMm: 55 }), part('a', 37), camera(17.5)]))).toBeCloseTo(54.5, 9);
    const open = { id: 'gap', kind: 'gap', name: 'gap' } as const;
    expect(spacingOf(train([corrector({ backFocusMm: 55 }), open, camera(17.5)]))).toBeUndefined();
    expect(spacingOf(train([part('a', 37), camera(17.5)]))).toBeUndefined();
    const deep = corrector({ backFocusMm: 55, datum: 'last-surface' });
    expect(spacingOf(train([deep, part('a', 37), camera(17.5)]))).toBeUndefined();
  });
});

describe('a quantity in words', () => {
  it('has its unit, and only lengths go with the unit a person has chosen', () => {
    expect(quantityInWords({ value: 25.4, unit: 'mm' }, 'mm')).toMatch(/^25\.40?0? mm$/);
    expect(quantityInWords({ value: 25.4, unit: 'mm' }, 'in' as never)).toMatch(/^1\.0+ in/);
    expect(quantityInWords({ value: 25.4, unit: '%' }, 'in' as never)).toBe('25.4 %');
    expect(quantityInWords({ value: 5.5, unit: 'f/' }, 'mm')).toBe('f/5.50');
    expect(quantityInWords({ value: -90, unit: '°' }, 'mm')).toBe('−90.0°');
  });
});
