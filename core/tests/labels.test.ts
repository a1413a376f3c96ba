import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { placeLabels, placeLedLabels } from '../src/shape/index.ts';

describe('words beside a line', () => {
  it('stand over their points where there is room', () => {
    const labels = [
      { at: 20, width: 20 },
      { at: 80, width: 20 }
    ];
    expect(placeLabels(labels, 0, 100, 4)).toEqual([
      { middle: 20, row: 0 },
      { middle: 80, row: 0 }
    ]);
  });

  it('go to the next row where they would touch, the more important staying', () => {
    const labels = [
      { at: 50, width: 40 },
      { at: 60, width: 40 }
    ];
    expect(placeLabels(labels, 0, 100, 4).map(({ row }) => row)).toEqual([0, 1]);
  });

  it('whatever they are: none lies on another, all lie inside, and none farther from its point than the ends ask', () => {
    const label = fc.record({
      at: fc.double({ min: -50, max: 450, noNaN: true }),
      width: fc.double({ min: 1, max: 120, noNaN: true })
    });
    fc.assert(
      fc.property(fc.array(label, { maxLength: 12 }), (labels) => {
        const placed = placeLabels(labels, 0, 400, 6);
        placed.forEach(({ middle, row }, index) => {
          const { at, width } = labels[index]!;
          expect(middle - width / 2).toBeGreaterThanOrEqual(-1e-9);
          expect(middle + width / 2).toBeLessThanOrEqual(400 + 1e-9);
          if (at >= width / 2 && at <= 400 - width / 2) expect(middle).toBe(at);
          placed.slice(0, index).forEach((other, earlier) => {
            if (other.row !== row) return;
            const apart = Math.abs(other.middle - middle) - (labels[earlier]!.width + width) / 2;
            expect(apart).toBeGreaterThanOrEqual(6 - 1e-9);
          });
        });
      })
    );
  });
});

describe('words that a line leads from', () => {
  it('go aside before they go away: three that want one place, in two rows', () => {
    const labels = [1, 2, 3].map(() => ({ at: 50, width: 40 }));
    expect(placeLedLabels(labels, 0, 100, 4, 2)).toEqual([{ middle: 50, row: 0 }, { middle: 50, row: 1 }, undefined]);
    const placed = placeLedLabels(labels, 0, 140, 4, 2);
    expect(placed.slice(0, 2)).toEqual([
      { middle: 50, row: 0 },
      { middle: 50, row: 1 }
    ]);
    expect(placed[2]).toEqual({ middle: 94, row: 0 });
  });

  it('whatever they are: none lies on another or outside, and what has no place would have had none in any row', () => {
    const label = fc.record({
      at: fc.integer({ min: 0, max: 400 }),
      width: fc.integer({ min: 1, max: 200 })
    });
    fc.assert(
      fc.property(fc.array(label, { maxLength: 10 }), fc.integer({ min: 1, max: 3 }), (labels, rows) => {
        const placed = placeLedLabels(labels, 0, 400, 6, rows);
        const standing = (until: number) =>
          placed
            .slice(0, until)
            .flatMap((place, index) => (place ? [{ ...place, half: labels[index]!.width / 2 }] : []));
        placed.forEach((place, index) => {
          const half = labels[index]!.width / 2;
          const isFree = (middle: number, row: number): boolean =>
            middle - half >= 0 &&
            middle + half <= 400 &&
            standing(index).every(
              (other) => other.row !== row || Math.abs(other.middle - middle) >= other.half + half + 6 - 1e-9
            );
          if (place) return expect(isFree(place.middle, place.row)).toBe(true);
          // Looked for by trying every half unit of every row.
          const tries = Array.from({ length: 801 * rows }, (_, n) => isFree((n % 801) / 2, Math.floor(n / 801)));
          expect(tries).not.toContain(true);
        });
      }),
      { numRuns: 200 }
    );
  });
});
