import { fromUnit } from '@lodestone/core/why';
import { layoutOf } from '@lodestone/core/shape';
import { ledgerOf } from '@lodestone/core/length';
import type { Train } from '@lodestone/core/train';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import heron from '../../../demo/heron.json' with { type: 'json' };
import { RailView, niceStep } from './view.svelte.ts';

const train = heron as Train;
const layout = layoutOf(train, ledgerOf(train));
function viewed(widthPx = 960): RailView {
  const view = new RailView(() => layout);
  view.widthPx = widthPx;
  return view;
}

describe('steps of the graduation', () => {
  it.each([
    [0.9, 1],
    [1, 1],
    [1.1, 2],
    [2.3, 5],
    [7, 10],
    [0.03, 0.05],
    [46, 50]
  ])('%f is followed by %f', (least, step) => {
    expect(niceStep(least)).toBeCloseTo(step, 12);
  });
});

describe('the window onto the axis', () => {
  const anyWindow = fc.record({
    widthPx: fc.integer({ min: 300, max: 3000 }),
    zoom: fc.double({ min: 0.6, max: 40, noNaN: true }),
    shiftPx: fc.integer({ min: -4000, max: 4000 })
  });
  const at = ({ widthPx, zoom, shiftPx }: { widthPx: number; zoom: number; shiftPx: number }): RailView => {
    const view = viewed(widthPx);
    view.zoom = zoom;
    view.shiftPx = shiftPx;
    return view;
  };

  it('at rest shows the whole train, with room for the words beside the last plane', () => {
    for (const widthPx of [360, 960, 2400]) {
      const view = viewed(widthPx);
      expect(view.x(layout.extent.fromMm)).toBeGreaterThan(0);
      expect(view.x(layout.extent.toMm)).toBeLessThan(widthPx - 100);
    }
  });

  it('is to scale wherever it is zoomed and moved to', () => {
    fc.assert(
      fc.property(
        anyWindow,
        fc.double({ min: -200, max: 200, noNaN: true }),
        fc.double({ min: 0, max: 100, noNaN: true }),
        (window, mm, lengthMm) => {
          const view = at(window);
          expect(view.x(mm + lengthMm) - view.x(mm)).toBeCloseTo(lengthMm * view.pxPerMm, 6);
          expect(view.x.invert(view.x(mm))).toBeCloseTo(mm, 6);
        }
      )
    );
  });

  it('carries figures that are neither crowded nor rare, evenly spaced, in either unit', () => {
    fc.assert(
      fc.property(anyWindow, fc.constantFrom(fromUnit(1, 'mm'), fromUnit(1, 'in')), (window, unitMm) => {
        const view = at(window);
        const marks = view.graduations(unitMm);
        const figures = marks.filter(({ figure }) => figure !== undefined);
        const apartPx = view.x(10 * (marks[1]!.mm - marks[0]!.mm)) - view.x(0);
        expect(apartPx).toBeGreaterThan(45.9);
        expect(apartPx).toBeLessThan(46 * 2.51);
        for (const { mm, figure } of figures) expect(Number(figure!.replace('−', '-'))).toBeCloseTo(mm / unitMm, 6);
        expect(marks.every(({ mm }) => view.x(mm) > -1 && view.x(mm) < view.widthPx + 1)).toBe(true);
      })
    );
  });

  it('moves only as far as it takes to show a place, and not at all where it is in sight', () => {
    const view = viewed();
    const { shiftPx, pxPerMm } = view;
    view.reveal(0, 10);
    expect(view.shiftPx).toBe(shiftPx);
    view.zoom = 8;
    for (const [fromMm, toMm] of [
      [60, 61],
      [-50, -45]
    ] as const) {
      view.reveal(fromMm, toMm);
      expect(view.x(fromMm)).toBeGreaterThan(39.9);
      expect(view.x(toMm)).toBeLessThan(view.widthPx - 39.9);
    }
    expect(view.pxPerMm).toBeCloseTo(8 * pxPerMm, 9);
    view.reset();
    expect([view.zoom, view.shiftPx]).toEqual([1, 0]);
  });
});
