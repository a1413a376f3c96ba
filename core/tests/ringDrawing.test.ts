import { describe, expect, it } from 'vitest';
import { profileOf, ringDrawing, ringFault } from '../src/drawing/index.ts';
import type { RingSpec } from '../src/finder/index.ts';

const ring = (lengthMm: number, femaleMm: number): RingSpec => ({
  lengthMm,
  toleranceMm: 0.02,
  sky: { thread: 'M48×0.75', gender: 'female', lengthMm: femaleMm },
  camera: { thread: 'M48×0.75', gender: 'male', lengthMm: 4 },
  clearMm: 44,
  outerMm: 54
});

describe('the drawing of a ring', () => {
  it('is refused where the hole would cut the ring in two, with the length that would do', () => {
    // 4 deep and a web of 1 behind it (common practice, no source).
    expect(ringFault(ring(3.67, 4))).toMatch(/5 mm long at the least, or it falls into two/);
    expect(ringFault(ring(5, 4))).toBeUndefined();
    expect(ringFault(ring(3.67, 2.6))).toBeUndefined();
  });

  it('of a ring that can be made leaves a web between hole and shank', () => {
    const spec = ring(5, 4);
    const deepest = Math.max(
      ...profileOf(spec)
        .filter(([along, radius]) => along < spec.lengthMm && radius > 22.5 && radius < 24)
        .map(([along]) => along)
    );
    expect(spec.lengthMm - deepest).toBeGreaterThanOrEqual(1);
  });

  it('dimensions the holes, the males and their undercuts on the enlarged wall', () => {
    const texts = ringDrawing(ring(10, 4.5), 'Ring').shapes.flatMap((shape) =>
      shape.kind === 'text' ? [shape.text] : []
    );
    // DIN 76-1, from memory: 0.75 pitch, groove 1.2 less than the thread; short ones about a pitch wide.
    for (const words of ['4.5 deep', '4 long', 'undercut 0.9, Ø46.8', '5:1']) expect(texts).toContain(words);
  });

  it('leaves the undercut out where the wall or the thread would be too short for it', () => {
    const undercuts = (spec: RingSpec) =>
      ringDrawing(spec, 'Ring').shapes.filter((shape) => shape.kind === 'text' && shape.text.startsWith('undercut'));
    expect(undercuts(ring(10, 4))).toHaveLength(1);
    expect(undercuts({ ...ring(10, 4), clearMm: 46 })).toHaveLength(0);
    const shortMale = { thread: 'M48×0.75', gender: 'male', lengthMm: 2 } as const;
    expect(undercuts({ ...ring(10, 4), camera: shortMale })).toHaveLength(0);
  });

  it.each([
    ['a short ring', ring(5, 4)],
    ['a long one', ring(120, 4)],
    [
      'a wide one',
      { ...ring(20, 5), sky: { thread: 'M92×1', gender: 'male', lengthMm: 6 }, outerMm: 100, clearMm: 80 }
    ],
    ['two males', { ...ring(3, 5), sky: { thread: 'M42×0.75', gender: 'male', lengthMm: 5 }, clearMm: 38 }],
    ['a narrow one', { ...ring(8, 4), sky: { slip: '1.25″', gender: 'male' }, clearMm: 28 }]
  ] as [string, RingSpec][])(
    'lets no two texts of %s run into each other, and none out of the frame',
    (_what, spec) => {
      const boxes = ringDrawing(spec, 'A ring to have made, with a name of some length').shapes.flatMap((shape) => {
        if (shape.kind !== 'text' || shape.turnDeg !== 0) return [];
        // A letter of a sans-serif face is about 0.55 of its size, capitals 0.72 of it (from memory).
        const wide = shape.text.length * (shape.size / 0.72) * 0.5;
        const left = shape.x - { start: 0, middle: wide / 2, end: wide }[shape.anchor];
        return [{ text: shape.text, left, right: left + wide, low: shape.y, high: shape.y + shape.size }];
      });
      for (const box of boxes) {
        expect(box.left, box.text).toBeGreaterThan(10);
        expect(box.right, box.text).toBeLessThan(287);
        expect(box.low, box.text).toBeGreaterThan(10);
        expect(box.high, box.text).toBeLessThan(200);
        for (const other of boxes) {
          const apart =
            other === box ||
            other.left >= box.right ||
            other.right <= box.left ||
            other.low >= box.high ||
            other.high <= box.low;
          expect(apart, `${box.text} over ${other.text}`).toBe(true);
        }
      }
    }
  );

  it('wraps a long name and keeps all of it', () => {
    const title = 'Zwischenring für den Korrektor am großen Teleskop, mit sehr langem Namen '.repeat(2).trim();
    const texts = ringDrawing(ring(10, 4), title).shapes.flatMap((shape) =>
      shape.kind === 'text' ? [shape.text] : []
    );
    expect(texts.join(' ')).toContain(title.slice(0, 60));
    for (const word of title.split(' ')) expect(texts.join(' ')).toContain(word);
  });

  it.each(['Ring', 'A ring '.repeat(12), 'X'.repeat(200)])('keeps its title off the scale: %s', (title) => {
    const { shapes, width } = ringDrawing(ring(10, 4), title);
    const texts = shapes.flatMap((shape) => (shape.kind === 'text' ? [shape] : []));
    const scale = texts.find(({ text }) => text.startsWith('Scale'))!;
    const drawn = texts.filter(({ text, y }) => title.includes(text) && Math.abs(y - scale.y) < 12);
    expect(
      drawn
        .map(({ text }) => text)
        .join('')
        .replaceAll(' ', '')
    ).toBe(title.replaceAll(' ', ''));
    // A letter of a sans-serif face is about 0.55 of its font size wide, capitals 0.72 of it high (from memory).
    for (const { x, text, size } of drawn) {
      expect(x + text.length * (size / 0.72) * 0.5).toBeLessThan(scale.x - 20);
    }
    expect(scale.x).toBeLessThan(width);
  });
});
