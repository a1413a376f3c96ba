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
        .filter(([, radius]) => radius > 22.5 && radius < 24)
        .map(([along]) => along)
    );
    expect(spec.lengthMm - deepest).toBeGreaterThanOrEqual(1);
  });

  it.each(['Ring', 'A ring '.repeat(12), 'X'.repeat(200)])('keeps its title off the scale: %s', (title) => {
    const { shapes, width } = ringDrawing(ring(10, 4), title);
    const texts = shapes.flatMap((shape) => (shape.kind === 'text' ? [shape] : []));
    const scale = texts.find(({ text }) => text.startsWith('Scale'))!;
    const drawn = texts.find(({ text }) => text.startsWith(title.slice(0, 4)))!;
    // A letter of a sans-serif face is about 0.55 of its size wide (from memory).
    expect(drawn.x + drawn.text.length * drawn.size * 0.55).toBeLessThan(scale.x - 20);
    expect(scale.x).toBeLessThan(width);
  });
});
