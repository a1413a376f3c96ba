import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { placeLabels } from '../src/shape/index.ts';

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
