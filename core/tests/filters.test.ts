import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { assess } from '../src/check/index.ts';
import { imbalance, spreadSlots } from '../src/load/index.ts';
import { partIdsOf, type Glass, type Holder, type Train } from '../src/train/index.ts';
import { camera, corrector, part, train } from './trains.ts';

const wheel = (holder: Holder, glass: Glass[]): Train =>
  train([corrector({ backFocusMm: 60 }), part('wheel', 20, { kind: 'filter-wheel', holder, glass }), camera(17.5)]);
const codes = (of: Train): string[] =>
  assess(of)
    .findings.filter(({ level }) => level === 'error' || level === 'warning')
    .map(({ code }) => code);

describe('filters in their holder', () => {
  const glass: Glass[] = [{ slot: 1, name: 'L', thicknessMm: 2, format: '36 mm' }];

  it('are refused with the reason: slot 8 of 7, another format, glass too thick', () => {
    expect(codes(wheel({ slots: 7, format: '36mm', thickestMm: 3 }, glass))).not.toContain('filter-format');
    const beyond = wheel({ slots: 7 }, [{ ...glass[0]!, slot: 8 }]);
    expect(codes(beyond)).toContain('slot-beyond');
    expect(
      assess(beyond)
        .findings.find(({ code }) => code === 'slot-beyond')!
        .say('mm')
    ).toBe('L belongs in slot 8, and wheel has 7.');
    expect(codes(wheel({ slots: 7 }, [{ ...glass[0]!, slot: 7 }]))).not.toContain('slot-beyond');
    expect(codes(wheel({ format: '36 mm' }, [{ ...glass[0]!, format: '2in' }]))).toContain('filter-format');
    expect(codes(wheel({ thickestMm: 1.9 }, glass))).toContain('filter-thick');
    expect(codes(wheel({ thickestMm: 2 }, glass))).not.toContain('filter-thick');
    // An empty slot is no glass.
    expect(codes(wheel({ slots: 1, thickestMm: 1 }, [{ slot: 5, thicknessMm: 0 }]))).not.toContain('slot-beyond');
  });

  it('stand in one place each, and leave empty what is to stay so', () => {
    const twice = wheel({}, [
      { slot: 1, thicknessMm: 2, partId: 'F-1' },
      { slot: 2, thicknessMm: 2, partId: 'F-1' }
    ]);
    expect(codes(twice)).toContain('filter-twice');
    expect(partIdsOf(twice.elements[1]!)).toEqual(['F-1', 'F-1']);
    expect(codes(wheel({ keepEmpty: [1] }, glass))).toContain('slot-kept-empty');
    expect(codes(wheel({ keepEmpty: [2] }, glass))).not.toContain('slot-kept-empty');
  });
});

describe('a carousel', () => {
  it('with two equal filters in five slots is out by 1.618 of one side by side, by 0.618 otherwise', () => {
    // Handbook §8, calculation; the golden ratio and its inverse.
    const of = (a: number, b: number) =>
      imbalance(
        [
          { slot: a, massG: 1 },
          { slot: b, massG: 1 }
        ],
        5
      ).resultantG;
    expect(of(1, 2)).toBeCloseTo((1 + Math.sqrt(5)) / 2, 9);
    expect(of(1, 3)).toBeCloseTo((Math.sqrt(5) - 1) / 2, 9);
    expect(of(1, 4)).toBeCloseTo((Math.sqrt(5) - 1) / 2, 9);
  });

  it('is the sum of its moments as complex numbers, wherever they stand', () => {
    const slotted = fc.array(
      fc.record({ slot: fc.integer({ min: 1, max: 9 }), massG: fc.integer({ min: 0, max: 60 }) }),
      {
        maxLength: 9
      }
    );
    fc.assert(
      fc.property(slotted, (filters) => {
        const [x, y] = filters.reduce(
          ([re, im], { slot, massG }) => {
            // (cos + i sin) by repeated multiplication with the ninth root of one.
            let [a, b] = [1, 0];
            for (let step = 1; step < slot; step++) {
              const [c, s] = [Math.cos((2 * Math.PI) / 9), Math.sin((2 * Math.PI) / 9)];
              [a, b] = [a * c - b * s, a * s + b * c];
            }
            return [re + massG * a, im + massG * b];
          },
          [0, 0]
        );
        expect(imbalance(filters, 9).resultantG).toBeCloseTo(Math.hypot(x!, y!), 6);
      })
    );
  });

  it('is spread with its filters in their order, slots kept empty left alone, as well as any choice', () => {
    const masses = fc.array(fc.integer({ min: 1, max: 40 }), { minLength: 1, maxLength: 4 });
    fc.assert(
      fc.property(masses, fc.uniqueArray(fc.integer({ min: 1, max: 7 }), { maxLength: 3 }), (list, keepEmpty) => {
        const plan = spreadSlots(list, 7, keepEmpty);
        if (list.length > 7 - keepEmpty.length) return expect(plan).toBeUndefined();
        expect(plan!.slots).toEqual(plan!.slots.toSorted((a, b) => a - b));
        expect(plan!.slots.some((slot) => keepEmpty.includes(slot))).toBe(false);
        let least = Infinity;
        const walk = (chosen: number[], from: number): void => {
          if (chosen.length === list.length) {
            const { resultantG } = imbalance(
              chosen.map((slot, at) => ({ slot, massG: list[at]! })),
              7
            );
            least = Math.min(least, resultantG);
            return;
          }
          for (let slot = from; slot <= 7; slot++) if (!keepEmpty.includes(slot)) walk([...chosen, slot], slot + 1);
        };
        walk([], 1);
        expect(plan!.resultantG).toBeCloseTo(least, 9);
      })
    );
    // Two equal ones in five: never side by side.
    expect(spreadSlots([10, 10], 5)).toMatchObject({ slots: [1, 3] });
    expect(spreadSlots([10, 10, 10], 2)).toBeUndefined();
  });
});
