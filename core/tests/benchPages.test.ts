import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { benchPages } from '../src/shape/index.ts';

const ROOM = 268;

describe('a train at true size over sheets of paper', () => {
  it('begins a sheet where a part would not fit any more, and goes on with one that is longer than a sheet', () => {
    const ends = [0, 100, 200, 300, 900, 905];
    const parts = ends.slice(1).map((toMm, at) => ({ fromMm: ends[at]!, toMm }));
    expect(benchPages(parts, ROOM)).toEqual([
      { fromMm: 0, toMm: 200, parts: [0, 1] },
      { fromMm: 200, toMm: 300, parts: [2] },
      { fromMm: 300, toMm: 568, parts: [3] },
      { fromMm: 568, toMm: 836, parts: [3] },
      { fromMm: 836, toMm: 905, parts: [3, 4] }
    ]);
    expect(benchPages([], ROOM)).toEqual([]);
  });

  it('shows every part whole where it fits, all of it else, and no sheet is longer than the paper', () => {
    const lengths = fc.array(fc.integer({ min: 1, max: 9000 }), { minLength: 1, maxLength: 25 });
    fc.assert(
      fc.property(lengths, fc.integer({ min: -500, max: 500 }), (tenths, start) => {
        let at = start;
        const parts = tenths.map((each) => ({ fromMm: at, toMm: (at += each / 10) }));
        const pages = benchPages(parts, ROOM);
        for (const { fromMm, toMm } of pages) expect(toMm - fromMm).toBeLessThanOrEqual(ROOM + 1e-9);
        for (const [index, part] of parts.entries()) {
          const on = pages.filter((page) => page.parts.includes(index));
          if (part.toMm - part.fromMm <= ROOM) expect(on.length).toBe(1);
          const shown = on.reduce(
            (sum, page) => sum + Math.min(page.toMm, part.toMm) - Math.max(page.fromMm, part.fromMm),
            0
          );
          expect(shown).toBeCloseTo(part.toMm - part.fromMm, 6);
        }
      })
    );
  });
});
