import { readDrawer, type Part } from '../src/drawer/index.ts';
import type { Port, Train } from '../src/train/index.ts';

/** Numbers in [0, 1) that are the same on every run (mulberry32, from memory). */
export function seeded(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  };
}

/** Threads as they are spread over a real drawer: most rings are M48, then M54 and M42 (common practice, no source). */
const THREADS = ['M42x0.75', 'M48x0.75', 'M48x0.75', 'M54x0.75', 'M54x0.75', 'M63x1', 'M68x1'] as const;
const male = (thread: string): Port => ({ thread, gender: 'male', lengthMm: 4 });
const female = (thread: string): Port => ({ thread, gender: 'female', lengthMm: 5 });

/**
 * A drawer of rings, adapters and a few shims. Lengths are measured to a hundredth, so that stacks hardly ever come
 * out exactly; all shims together leave three turns in any joint.
 *
 * @param stepMm what lengths are rounded to, mm
 */
export function randomDrawer(size: number, seed: number, stepMm = 0.01): Part[] {
  const random = seeded(seed);
  const pick = <T>(from: readonly T[]): T => from[Math.floor(random() * from.length)]!;
  const parts: object[] = [];
  const shims = [0.1, 0.2, 0.3].slice(0, Math.min(3, Math.floor(size / 4)));
  for (const lengthMm of shims) {
    parts.push({ partId: `S${parts.length}`, kind: 'shim', name: 'Shim', lengthMm, quantity: 2 });
  }
  while (parts.length < size) {
    const thread = pick(THREADS);
    const other = pick(THREADS);
    const ring = random() < 0.7;
    const exact = ring ? 2 + random() * 20 : 1 + random() * 4;
    const lengthMm = Number((Math.round(exact / stepMm) * stepMm).toFixed(2));
    const faces = ring
      ? { sky: female(thread), camera: male(thread) }
      : random() < 0.5
        ? { sky: female(thread), camera: male(other) }
        : { sky: male(thread), camera: random() < 0.5 ? male(other) : female(other), reversible: true };
    const kind = ring ? 'spacer' : 'adapter';
    parts.push({ partId: `P${parts.length}`, kind, name: `Part ${parts.length}`, lengthMm, ...faces });
  }
  const reading = readDrawer({ lodestone: 'drawer/1', parts });
  if (!reading.ok) throw new Error('the drawer must be valid');
  return reading.document;
}

/** A train with one gap M48 to M48, or with a second M54 to M54 behind a guider. */
export function randomTrain(gaps: 1 | 2, seed: number): Train {
  const random = seeded(seed + 17);
  const asks = Number((55 + random() * 25).toFixed(3));
  const second = gaps === 2;
  // Now and then the gap needs an adapter, which the drawer may not have.
  const last = random() < 0.3 ? 'M42x0.75' : second ? 'M54x0.75' : 'M48x0.75';
  return {
    lodestone: 'train/1',
    name: 'bench',
    host: { name: 'host', kind: 'refractor', apertureMm: 100, focalLengthMm: 600, camera: female('M68x1') },
    elements: [
      {
        id: 'corrector',
        kind: 'corrector',
        name: 'corrector',
        lengthMm: 30,
        sky: male('M68x1'),
        camera: male('M48x0.75'),
        corrector: { backFocusMm: asks + (second ? 20 : 0), toleranceMm: 0.1 }
      },
      { id: 'gap-1', kind: 'gap', name: 'gap' },
      ...(second
        ? [
            {
              id: 'guider',
              kind: 'off-axis-guider' as const,
              name: 'guider',
              lengthMm: 17.2,
              sky: female('M48x0.75'),
              camera: male('M54x0.75')
            },
            { id: 'gap-2', kind: 'gap' as const, name: 'gap' }
          ]
        : []),
      {
        id: 'camera',
        kind: 'camera',
        name: 'camera',
        lengthMm: 17.5,
        sky: female(last) as never
      }
    ]
  };
}
