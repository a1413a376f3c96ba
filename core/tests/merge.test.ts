import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { mergedPart, partToDocument, readPart, type Part } from '../src/drawer/index.ts';
import { anyDrawer } from './anyDrawer.ts';
import { drawer } from './drawer.ts';

const ring = (more: Record<string, unknown> = {}): Part => drawer({ partId: 'R-1', ...more })[0]!;
const reading = (lengthMm: number) => ({ lengthMm, instrument: 'caliper', date: '2026-11-25' });

describe('a part that two windows have changed', () => {
  it('keeps what each has changed, and ours where both changed the same', () => {
    const before = ring({ name: 'ring', location: 'Tin 1', price: 5 });
    const ours = ring({ name: 'ours', location: 'Tin 1' });
    const theirs = ring({ name: 'theirs', location: 'Tin 2', price: 5, quantity: 3 });
    const merged = mergedPart(before, ours, theirs)!;
    expect(merged).toMatchObject({ element: { name: 'ours' }, location: 'Tin 2', quantity: 3 });
    // Ours took the price out.
    expect(merged.price).toBeUndefined();
  });

  it('keeps the readings of both, without those that ours struck out', () => {
    const before = ring({ measurements: [reading(10.01), reading(10.5)] });
    const ours = ring({ measurements: [reading(10.01), reading(10.02)] });
    const theirs = ring({ measurements: [reading(10.01), reading(10.5), reading(10.03)] });
    expect(mergedPart(before, ours, theirs)!.measurements.map(({ lengthMm }) => lengthMm)).toEqual([
      10.01, 10.03, 10.02
    ]);
  });

  it('says when the two together make no part', () => {
    const shim = { kind: 'shim', lengthMm: 0.2 };
    const wedge = ring({ ...shim, wedgeMm: 0.01 });
    // A wedge belongs to a shim; they made it a ring.
    expect(mergedPart(ring(shim), wedge, ring({ kind: 'spacer' }))).toBeUndefined();
  });

  it('is theirs where ours changed nothing, and ours where theirs did not', () => {
    fc.assert(
      fc.property(anyDrawer, anyDrawer, (some, others) => {
        const [before] = some;
        const [other] = others;
        if (!before || !other) return;
        const changed = readPart({ ...partToDocument(other), partId: before.partId });
        if (!changed.ok) return;
        expect(mergedPart(before, before, changed.document)).toEqual(changed.document);
        const back = mergedPart(before, changed.document, before);
        expect(back && { ...back, measurements: [] }).toEqual({ ...changed.document, measurements: [] });
        expect(back!.measurements).toHaveLength(changed.document.measurements.length);
      }),
      { numRuns: 200 }
    );
  });
});
