import { describe, expect, it } from 'vitest';
import type { Part } from '../src/drawer/index.ts';
import {
  frameScatterOf,
  nearestByRings,
  readExperimentsText,
  startingSchools,
  tuneFrom,
  type Experiment
} from '../src/experiment/index.ts';
import { dice } from './dice.ts';

const frame = (spacingMm: number, value: number, standard = 0.01, uncertaintyMm = 0): Experiment => ({
  spacingMm,
  uncertaintyMm,
  radial: { value, standard }
});
type Eye = NonNullable<Experiment['eye']>;
const eye = (
  spacingMm: number,
  stretch: Eye['stretch'],
  strength?: number,
  versusLast?: Eye['versusLast']
): Experiment => ({
  spacingMm,
  eye: {
    stretch,
    ...(strength === undefined ? {} : { strength }),
    ...(versusLast === undefined ? {} : { versusLast })
  }
});

describe('frames at several spacings', () => {
  it('give the crossing, its interval, the slope and what the corrector forgives', () => {
    const answer = tuneFrom([frame(55, 0.11), frame(56, 0.05), frame(58, -0.07)]);
    expect(answer.model).toBe('linear');
    expect(answer.bestMm).toBeCloseTo(56.83, 1);
    expect(answer.slopePerMm).toBeCloseTo(-0.06, 3);
    expect(answer.toleranceMm).toBeCloseTo(0.05 / 0.06, 2);
    const [from, to] = answer.interval95Mm!;
    expect(from).toBeLessThan(answer.bestMm!);
    expect(to).toBeGreaterThan(answer.bestMm!);
    expect(answer).toMatchObject({ enough: true, nextMm: null, outliers: [] });
  });

  it('the sense is learned: turned round, the same crossing', () => {
    const one = tuneFrom([frame(55, 0.11), frame(58, -0.07)]);
    const other = tuneFrom([frame(55, -0.11), frame(58, 0.07)]);
    expect(other.bestMm).toBeCloseTo(one.bestMm!, 9);
    expect(other.slopePerMm).toBeCloseTo(-one.slopePerMm!, 9);
  });

  it('one spacing decides nothing, however often; it says so, and where to look', () => {
    const answer = tuneFrom([frame(55, 0.1), frame(55, 0.11)], 57);
    expect(answer).toMatchObject({ bestMm: null, interval95Mm: null, nextMm: 57, enough: false });
    expect(answer.why).toMatch(/one spacing.*both ways are taught/);
    expect(tuneFrom([], 57)).toMatchObject({ bestMm: null, nextMm: 57 });
  });

  it('a frame that does not go with the others is left out and named', () => {
    const line = [54, 55, 56, 57, 58].map((x) => frame(x, 0.06 * (x - 56.2)));
    const answer = tuneFrom([...line, frame(56.5, -0.4)]);
    expect(answer.outliers).toEqual([5]);
    expect(answer.bestMm).toBeCloseTo(56.2, 2);
  });

  it('a curve is told from a line, and its crossing taken', () => {
    const at = (x: number): number => 0.05 * (x - 56) + 0.02 * (x - 56) ** 2;
    const answer = tuneFrom([54.9, 55.4, 56.3, 57, 58, 59].map((x) => frame(x, at(x), 0.004)));
    expect(answer.model).toBe('quadratic');
    expect(answer.bestMm).toBeCloseTo(56, 1);
  });

  it('a sweep wins over frames where both decide', () => {
    const frames = [frame(55, 0.1), frame(57, -0.02)];
    const swept: Experiment[] = [54.5, 56, 57.5].map((x) => ({
      spacingMm: x,
      sweep: { astigmatismUm: 40 * (x - 56.4), standardUm: 3 }
    }));
    const answer = tuneFrom([...frames, ...swept]);
    expect(answer.bestMm).toBeCloseTo(56.4, 3);
    // What can be seen is still said by frames.
    expect(answer.slopePerMm).toBeCloseTo(-0.06, 3);
  });

  it('the interval holds the truth in 95 of 100 series', () => {
    const { normal } = dice(11);
    const SERIES = 1000;
    let held = 0;
    for (let series = 0; series < SERIES; series++) {
      const entries = [54, 55, 56.5, 58, 59].map((x) =>
        frame(x, -0.05 * (x + 0.06 * normal() - 56.7) + 0.015 * normal(), 0.015, 0.12)
      );
      const interval = tuneFrom(entries).interval95Mm;
      if (interval && interval[0] <= 56.7 && 56.7 <= interval[1]) held++;
    }
    expect(Math.abs(held / SERIES - 0.95)).toBeLessThan(0.02);
  });
});

describe('what frames at one spacing differ by', () => {
  it('counts against all of them, where they say too little of it themselves', () => {
    const alike = [frame(55, 0.1), frame(55, 0.102), frame(55, 0.098), frame(57, -0.02)];
    const apart = [frame(55, 0.14), frame(55, 0.1), frame(55, 0.06), frame(57, -0.02)];
    const width = (entries: Experiment[]): number => {
      const [from, to] = tuneFrom(entries).interval95Mm!;
      return to - from;
    };
    expect(width(apart)).toBeGreaterThan(1.15 * width(alike));
  });

  it('is learned from them, and told beside what they state', () => {
    const ten = Array.from({ length: 10 }, (_, at) => frame(55, 0.1 + (at % 2 ? 0.02 : -0.02), 0.01));
    const scatter = frameScatterOf([...ten, frame(57, -0.02)])!;
    // Ten values of ±0.02: s = 0.02 √(10/9) (a calculation).
    expect(scatter.standard).toBeCloseTo(0.02 * Math.sqrt(10 / 9), 12);
    expect(scatter).toMatchObject({ frames: 10, stated: 0.01 });
    expect(frameScatterOf([frame(55, 0.1), frame(55, 0.12), frame(57, 0)])).toBeUndefined();
  });

  it('of one setup says nothing of how well its place is known: two spacings stay two', () => {
    const ten = Array.from({ length: 10 }, (_, at) => frame(55, 0.1 + 0.002 * (at % 3), 0.01));
    const width = (entries: Experiment[]): number => {
      const [from, to] = tuneFrom(entries).interval95Mm!;
      return to - from;
    };
    expect(width([...ten, frame(57, -0.02)])).toBeGreaterThan(0.9 * width([frame(55, 0.102), frame(57, -0.02)]));
    expect(tuneFrom([...ten, frame(57, -0.02)]).enough).toBe(false);
  });

  it('an eye that is sure of the other side is left out, and named; one that is unsure is not', () => {
    const frames = [frame(54, 0.14), frame(56, 0), frame(58, -0.14)];
    expect(tuneFrom([...frames, eye(54.5, 'circling', 3)]).outliers).toEqual([3]);
    expect(tuneFrom([...frames, eye(54.5, 'circling', 1), eye(55.9, 'circling', 3)]).outliers).toEqual([]);
  });
});

describe('the nearest spacing by rings alone', () => {
  const ring = (partId: string, lengthMm: number, more: object = {}): Part => ({
    partId,
    element: { id: partId, kind: 'spacer', name: partId, lengthMm },
    quantity: 1,
    owned: true,
    location: '',
    state: 'spare',
    measurements: [],
    ...more
  });

  it('puts rings in, takes one out, or exchanges one, with few moved where it is as near', () => {
    const rings = [ring('A', 5), ring('B', 6.5), ring('C', 0.5), ring('D', 1)];
    expect(nearestByRings(55, 56.5, rings)).toEqual({ spacingMm: 56.5, in: ['C', 'D'], out: [] });
    expect(nearestByRings(55, 56.5, rings.slice(0, 2))).toEqual({ spacingMm: 56.5, in: ['B'], out: ['A'] });
    expect(nearestByRings(55, 56, rings)).toEqual({ spacingMm: 56, in: ['D'], out: [] });
    expect(nearestByRings(55, 50, rings)).toEqual({ spacingMm: 50, in: [], out: ['A'] });
  });

  it('takes no ring twice that is there once, none that is not owned, and offers nothing that does not bring it nearer', () => {
    expect(nearestByRings(55, 57, [ring('C', 1)])).toEqual({ spacingMm: 56, in: ['C'], out: [] });
    expect(nearestByRings(55, 57, [ring('C', 1, { quantity: 2 })])).toEqual({ spacingMm: 57, in: ['C', 'C'], out: [] });
    expect(
      nearestByRings(55, 56, [ring('X', 1, { owned: false }), ring('Y', 1, { state: 'set-aside' })])
    ).toBeUndefined();
    expect(nearestByRings(55, 55.2, [ring('A', 5)])).toBeUndefined();
  });

  it('takes no ring whose thread is longer than its bore is deep: it would stand off its like', () => {
    const threaded = (deep: number, reach: number): Part =>
      ring('A', 2, {
        element: {
          ...{ id: 'A', kind: 'spacer', name: 'A', lengthMm: 2 },
          sky: { thread: 'M48x0.75', gender: 'female', lengthMm: deep },
          camera: { thread: 'M48x0.75', gender: 'male', lengthMm: reach }
        }
      });
    // A male of 6 in a bore of 5 bottoms: its shoulder stays 1 mm off (handbook §3).
    expect(nearestByRings(55, 57, [threaded(5, 6)])).toBeUndefined();
    expect(nearestByRings(55, 57, [threaded(5, 5)])).toEqual({ spacingMm: 57, in: ['A'], out: [] });
  });

  it('takes no adapter, and no ring that sinks into a bore: what those add, only a train tells', () => {
    const faces = (camera: object): object => ({
      element: {
        id: 'A',
        kind: 'spacer',
        name: 'A',
        lengthMm: 4,
        sky: { thread: 'M48x0.75', gender: 'female' },
        camera: { thread: 'M48x0.75', gender: 'male', ...camera }
      }
    });
    const byFaces = (camera: object) => nearestByRings(55, 59, [ring('A', 4, faces(camera))]);
    expect(byFaces({})).toMatchObject({ spacingMm: 59, in: ['A'] });
    expect(byFaces({ shoulder: false })).toBeUndefined();
    expect(byFaces({ thread: 'M42x0.75' })).toBeUndefined();
  });
});

describe('by eye', () => {
  it('brackets: 105 bad, 106 to 106.5 bad, 109.5 better but past it (handbook §9)', () => {
    const answer = tuneFrom([
      eye(105, 'outward', 3),
      eye(106, 'outward', 2, 'better'),
      eye(106.5, 'outward', 2, 'same'),
      eye(109.5, 'circling', 1, 'better')
    ]);
    expect(answer).toMatchObject({ model: 'bracket', interval95Mm: [106.5, 109.5], enough: false });
    // “Try about 108”; this owner kept 108.5.
    expect(answer.nextMm).toBeGreaterThan(107.5);
    expect(answer.nextMm).toBeLessThan(108.75);
  });

  it('goes on while it grows better, and turns where it grows worse', () => {
    expect(tuneFrom([eye(105, 'outward', 3), eye(106, 'outward', 2)]).nextMm).toBeGreaterThan(106.4);
    expect(tuneFrom([eye(105, 'outward', 2), eye(106, 'outward', 3)]).nextMm).toBeLessThan(105);
    expect(tuneFrom([eye(105, 'unknown'), eye(106, 'unknown', undefined, 'worse')]).nextMm).toBeLessThan(105);
  });

  it('an eye that contradicts the others is left out', () => {
    const answer = tuneFrom([
      eye(104, 'outward', 3),
      eye(105, 'circling', 1),
      eye(106, 'outward', 2),
      eye(108, 'circling', 2),
      eye(109, 'circling', 3)
    ]);
    expect(answer.outliers).toEqual([1]);
    expect(answer.interval95Mm).toEqual([106, 108]);
  });

  it('a frame and an eye join as ordered evidence', () => {
    const answer = tuneFrom([frame(55, 0.14), eye(57, 'circling', 1)]);
    expect(answer.interval95Mm).toEqual([55, 57]);
    expect(answer.bestMm).toBeGreaterThan(56);
  });

  it('cannot tell tells nothing', () => {
    expect(tuneFrom([eye(55, 'unknown')])).toMatchObject({ bestMm: null, interval95Mm: null });
  });
});

describe('owners who follow it from three millimetres off', () => {
  const RUNS = 200;
  const TOLERANCE = 0.9;
  const SLOPE = 0.055;
  type See = (x: number, best: number, seed: number) => Experiment;
  const bestOf = (seed: number): { best: number; start: number } => {
    const best = 56 + dice(seed).uniform();
    return { best, start: best + (seed % 2 ? 3 : -3) };
  };

  /** Tries until the best is within the tolerance, the first included. */
  function follow(seed: number, see: See, most: number): number {
    const { best, start } = bestOf(seed);
    const entries: Experiment[] = [];
    let x = start;
    for (let tries = 1; tries <= most; tries++) {
      entries.push(see(x, best, seed * 100 + tries));
      const { bestMm, nextMm, enough } = tuneFrom(entries, start);
      if (bestMm !== null && Math.abs(bestMm - best) <= TOLERANCE && (enough || tries >= 3)) return tries;
      x = nextMm ?? bestMm ?? x;
    }
    return Infinity;
  }

  /** Plain bisection, as without any of this: steps of 1 mm until the stretch turns round, then halves. */
  function bisect(seed: number, see: See, most: number): number {
    const { best, start } = bestOf(seed);
    const sideOf = ({ radial, eye }: Experiment): number =>
      radial ? Math.sign(radial.value) : eye!.stretch === 'round' ? 0 : eye!.stretch === 'outward' ? 1 : -1;
    const sizeOf = ({ radial, eye }: Experiment): number => (radial ? Math.abs(radial.value) : (eye!.strength ?? 0));
    let [x, step] = [start, 1];
    let last: { x: number; side: number; size: number } | undefined;
    let ends: [number, number] | undefined;
    for (let tries = 1; tries <= most; tries++) {
      const seen = see(x, best, seed * 100 + tries);
      const now = { x, side: sideOf(seen), size: sizeOf(seen) };
      if (now.side === 0) return Math.abs(x - best) <= TOLERANCE ? tries : Infinity;
      if (last && !ends && now.side !== last.side) ends = [last.x, x];
      else if (ends) ends = sideOf(see(ends[0], best, seed * 100 + 50)) === now.side ? [x, ends[1]] : [ends[0], x];
      else if (last && now.size > last.size) step = -step;
      if (ends && Math.abs(ends[1] - ends[0]) / 2 <= TOLERANCE) return tries;
      last = now;
      x = ends ? (ends[0] + ends[1]) / 2 : x + step;
    }
    return Infinity;
  }

  const byFrame: See = (x, best, seed) => {
    const { normal } = dice(seed);
    const sense = best > 56.5 ? 1 : -1;
    return frame(x, sense * SLOPE * (x - best) + 0.015 * normal(), 0.015, 0.1);
  };
  const byEye: See = (x, best, seed) => {
    const { normal } = dice(seed);
    const sense = best > 56.5 ? 1 : -1;
    const stretch = sense * SLOPE * (x - best) + 0.012 * normal();
    const strength = Math.min(3, Math.round(Math.abs(stretch) / 0.05));
    return strength === 0 ? eye(x, 'round', 0) : eye(x, stretch > 0 ? 'outward' : 'circling', strength);
  };
  const arrived = (walk: typeof follow, see: See, most: number): number =>
    Array.from({ length: RUNS }, (_, run) => walk(run + 1, see, most)).filter(Number.isFinite).length;

  it('are there within four frames in at least 95 of 100 runs, and bisection is not', () => {
    const followed = arrived(follow, byFrame, 4);
    expect(followed).toBeGreaterThanOrEqual(0.95 * RUNS);
    expect(arrived(bisect, byFrame, 4)).toBeLessThan(followed);
  });

  it('are there within six entries by eye alone in at least 95 of 100 runs, and bisection less often', () => {
    const followed = arrived(follow, byEye, 6);
    expect(followed).toBeGreaterThanOrEqual(0.95 * RUNS);
    expect(arrived(bisect, byEye, 6)).toBeLessThan(followed);
  });
});

describe('what frames alone must not be trusted with (handbook §9)', () => {
  const sized = (spacingMm: number, value: number, cornerPct: number, standard = 0.01): Experiment => ({
    ...frame(spacingMm, value, standard),
    size: { cornerPct, standardPct: 4 }
  });

  it('a zero of the stretch where corner stars are swollen is not the best: it goes on where they shrink', () => {
    // Four frames 3 to 6 mm short of 57; the stretch passes zero among them, and the corners are two to four times as large.
    const answer = tuneFrom([
      sized(51, 0.05, 304),
      sized(52, 0.015, 240),
      sized(53, -0.017, 170),
      sized(53.8, -0.04, 124)
    ]);
    expect(answer).toMatchObject({ bestMm: null, enough: false });
    expect(answer.nextMm).toBeGreaterThan(54.5);
    expect(answer.why).toMatch(/52\.\d+ mm, but corner stars are still swollen.*longer/);
  });

  it('of two zeros the one where corners are small is the best', () => {
    const at = (x: number): Experiment =>
      sized(x, 0.02 * (x - 57) * (x - 52.5), 100 * (Math.hypot(1.1, 0.5 * (x - 57)) - 1));
    const answer = tuneFrom([51.5, 53, 54.6, 56, 57.3, 58.4].map(at));
    expect(answer.model).toBe('quadratic');
    expect(answer.bestMm).toBeCloseTo(57, 1);
    expect(answer.enough).toBe(true);
    // Without sizes nobody can say which.
    const blind = tuneFrom([51.5, 53, 54.6, 56, 57.3, 58.4].map((x) => frame(x, at(x).radial!.value)));
    expect(blind).toMatchObject({ bestMm: null, enough: false });
    expect(blind.why).toMatch(/vanishes at .* and at/);
  });

  it('the same sense on both sides: the best is where a parabola turns', () => {
    const answer = tuneFrom([54.5, 55.5, 56.5, 57.6, 58.5, 59.5].map((x) => frame(x, 0.02 * (x - 57) ** 2 + 0.004)));
    expect(answer).toMatchObject({ model: 'quadratic', enough: true, slopePerMm: null });
    expect(answer.bestMm).toBeCloseTo(57, 1);
  });

  it('two spacings never suffice, nor ten copies of one frame', () => {
    const two = tuneFrom([frame(55, 0.1, 0.001), frame(58, -0.08, 0.001)]);
    expect(two).toMatchObject({ enough: false, why: expect.stringMatching(/third/) });
    expect(two.nextMm).not.toBeNull();
    const copies = tuneFrom([...Array.from({ length: 10 }, () => frame(55, 0.1)), frame(58, -0.08)]);
    expect(copies.interval95Mm).toEqual(tuneFrom([frame(55, 0.1), frame(58, -0.08)]).interval95Mm);
    expect(
      tuneFrom(
        Array.from({ length: 10 }, () => frame(55, 0.1)),
        57
      )
    ).toMatchObject({ bestMm: null, nextMm: 57 });
  });

  it('sizes alone tell the best where they have a least', () => {
    const by = (x: number): Experiment => ({
      spacingMm: x,
      size: { cornerPct: 100 * (Math.hypot(1.1, 0.3 * (x - 56.4)) - 1), standardPct: 3 }
    });
    const answer = tuneFrom([53, 55, 57, 59].map(by));
    expect(answer.bestMm).toBeCloseTo(56.4, 1);
    expect(tuneFrom([53, 54, 55].map(by)).nextMm).toBeGreaterThan(55.5);
  });

  it('an entry that says nothing is no evidence', () => {
    expect(tuneFrom([{ spacingMm: 55 }, { spacingMm: 56 }], 57)).toMatchObject({
      bestMm: null,
      nextMm: 57,
      enough: false
    });
  });
});

describe('eyes that compare', () => {
  it('105 a little bad, 106 better, 107 worse: the best lies between, and a place that was tried is not tried again', () => {
    for (const answer of [
      tuneFrom([eye(105, 'outward', 2), eye(106, 'outward', 1, 'better'), eye(107, 'outward', 2, 'worse')]),
      tuneFrom([eye(105, 'unknown'), eye(106, 'unknown', undefined, 'better'), eye(107, 'unknown', undefined, 'worse')])
    ]) {
      expect(answer).toMatchObject({ interval95Mm: [105, 107], enough: false });
      expect(answer.nextMm).toBeGreaterThan(105.1);
      expect(answer.nextMm).toBeLessThan(106.9);
      expect(Math.abs(answer.nextMm! - 106)).toBeGreaterThan(0.1);
    }
  });

  it('“better, but past it” puts the best between it and the one before', () => {
    const past: Experiment = { spacingMm: 109.5, eye: { stretch: 'unknown', versusLast: 'better', past: true } };
    const answer = tuneFrom([eye(105, 'unknown'), eye(106.5, 'unknown', undefined, 'same'), past]);
    expect(answer.interval95Mm).toEqual([106.5, 109.5]);
    expect(answer.nextMm).toBeGreaterThan(107.5);
    expect(answer.nextMm).toBeLessThan(108.75);
  });

  it('that contradict each other are not enough, and have no interval', () => {
    const answer = tuneFrom([
      eye(55, 'outward', 2),
      eye(55.4, 'circling', 2),
      eye(55.8, 'outward', 2),
      eye(56.2, 'circling', 2)
    ]);
    expect(answer).toMatchObject({ bestMm: null, interval95Mm: null, enough: false });
    expect(answer.why).toMatch(/contradicts/);
  });
});

describe('three frames that hardly lie on a line', () => {
  it('still decide, with a wider interval', () => {
    const near = tuneFrom([
      frame(85, 0.09, 0.008, 0.1),
      frame(87.2, -0.05, 0.008, 0.1),
      frame(86.3, 0.005, 0.008, 0.1)
    ]);
    const off = tuneFrom([
      frame(85, 0.092, 0.0075, 0.1),
      frame(87.2, -0.116, 0.008, 0.1),
      frame(86.3, 0.005, 0.008, 0.1)
    ]);
    const width = ({ interval95Mm }: typeof near): number => interval95Mm![1] - interval95Mm![0];
    expect(off.model).toBe('linear');
    // In what was measured, since its line is steeper.
    expect(width(off) * Math.abs(off.slopePerMm!)).toBeGreaterThan(1.2 * width(near) * Math.abs(near.slopePerMm!));
    expect(width(off)).toBeLessThan(2);
  });
});

describe('owners of four kinds of corrector who follow the next try', () => {
  type Law = (off: number, sense: number) => { stretch: number; ratio: number };
  const LAWS: Record<string, Law> = {
    'a line': (off, sense) => ({ stretch: sense * 0.055 * off, ratio: Math.hypot(1.08, 0.16 * off) }),
    'a line that bends': (off, sense) => ({
      stretch: sense * (0.05 * off + 0.006 * off ** 2),
      ratio: Math.hypot(1.1, 0.18 * off)
    }),
    'the same sense on both sides': (off, sense) => ({
      stretch: sense * 0.02 * off ** 2,
      ratio: Math.hypot(1.06, 0.2 * off)
    }),
    'a false zero 4.5 mm short': (off, sense) => ({
      stretch: (sense * 0.02 * off * (off + 4.5)) / (1 + 0.03 * off * off),
      ratio: Math.hypot(1.1, 0.5 * off)
    })
  };
  const RUNS = 60;
  const MOST = 14;

  /** Tries until the best is known to within 0.9 mm; how often “enough” was said of another, and a spacing tried twice. */
  function walk(seed: number, law: Law, see: (x: number, off: ReturnType<Law>, last: number) => Experiment) {
    const { uniform, normal } = dice(seed);
    const best = 56 + uniform();
    const sense = uniform() > 0.5 ? 1 : -1;
    const start = best + (seed % 2 ? 3 : -3);
    const entries: Experiment[] = [];
    let [x, arrived, lastBlur, twice] = [start, Infinity, NaN, 0];
    for (let tries = 1; tries <= MOST; tries++) {
      const { stretch, ratio } = law(x - best, sense);
      const seen = { stretch: stretch + 0.015 * normal(), ratio: ratio + 0.03 * normal() };
      const blur = Math.hypot(seen.ratio - 1, seen.stretch);
      entries.push(see(x, seen, blur - lastBlur));
      lastBlur = blur;
      const { bestMm, nextMm, enough } = tuneFrom(entries, start);
      const isThere = bestMm !== null && Math.abs(bestMm - best) <= 0.9;
      if (isThere && (enough || tries >= 3)) arrived = Math.min(arrived, tries);
      if (enough || nextMm === null) return { arrived, wrong: enough && !isThere, twice, ended: true };
      if (entries.some(({ spacingMm }) => Math.abs(spacingMm - nextMm) < 0.1)) twice++;
      x = nextMm;
    }
    return { arrived, wrong: false, twice, ended: false };
  }

  const byFrame = (x: number, { stretch, ratio }: ReturnType<Law>): Experiment => ({
    ...frame(x, Math.max(-1, Math.min(1, stretch)), 0.015, 0.1),
    size: { cornerPct: 100 * (ratio - 1), standardPct: 3 }
  });
  /** An eye does not call large stars round, and says what is better or worse where the difference is plain. */
  const byEye = (x: number, { stretch, ratio }: ReturnType<Law>, worse: number): Experiment => {
    const strength = Math.min(3, Math.round(Math.abs(stretch) / 0.05));
    const swollen = Math.min(3, Math.round((ratio - 1.2) / 0.25));
    const versus: Eye['versusLast'] = !(Math.abs(worse) > 0.08) ? undefined : worse > 0 ? 'worse' : 'better';
    if (swollen > strength) return eye(x, 'unknown', swollen, versus);
    return strength === 0 ? eye(x, 'round', 0, versus) : eye(x, stretch > 0 ? 'outward' : 'circling', strength, versus);
  };

  it.each(Object.entries(LAWS))('%s: there within four tries by frames in 95 of 100, and six by eye', (_, law) => {
    for (const [see, most] of [
      [byFrame, 4],
      [byEye, 6]
    ] as const) {
      const runs = Array.from({ length: RUNS }, (_run, run) => walk(run + 1, law, see));
      expect(runs.filter(({ arrived }) => arrived <= most).length).toBeGreaterThanOrEqual(0.95 * RUNS);
      expect(runs.filter(({ twice }) => twice > 0)).toEqual([]);
      expect(runs.filter(({ ended }) => !ended)).toEqual([]);
      expect(runs.filter(({ wrong }) => wrong).length).toBeLessThanOrEqual(0.02 * RUNS);
    }
  });
});

describe('where to begin while nothing decides', () => {
  it('both schools are offered, each on its own side', () => {
    const schools = startingSchools([eye(55, 'outward', 2)])!;
    expect(schools.map(({ outwardMeans, nextMm }) => [outwardMeans, nextMm])).toEqual([
      ['too long', 53],
      ['too short', 57]
    ]);
    expect(startingSchools([frame(55, -0.1)])![0].nextMm).toBeGreaterThan(55);
  });

  it('neither where two spacings were tried, or nothing is stretched', () => {
    expect(startingSchools([eye(55, 'outward', 2), eye(56, 'outward', 1)])).toBeUndefined();
    expect(startingSchools([eye(55, 'round', 0)])).toBeUndefined();
    expect(startingSchools([])).toBeUndefined();
  });
});

describe('a file of experiments', () => {
  it('is read, and what is wrong with it told with its place', () => {
    expect(readExperimentsText('{"lodestone":"experiments/1","experiments":[{"spacingMm":55}]}').ok).toBe(true);
    const wrong = readExperimentsText('{"lodestone":"experiments/1","experiments":[{"spacingMm":"55"}]}');
    expect(wrong.ok ? '' : wrong.complaints[0]!.pointer).toBe('/experiments/0/spacingMm');
    const standard = readExperimentsText(
      '{"lodestone":"experiments/1","experiments":[{"spacingMm":55,"radial":{"value":0.1,"standard":0}}]}'
    );
    expect(standard.ok).toBe(false);
  });
});
