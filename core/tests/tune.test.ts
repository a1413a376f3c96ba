import { describe, expect, it } from 'vitest';
import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus';
import { readExperimentsText, tuneFrom, type Experiment } from '../src/experiment/index.ts';

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

function dice(seed: number) {
  const random = xoroshiro128plus(seed);
  for (let idle = 0; idle < 20; idle++) random.next();
  const uniform = (): number => ((random.next() >>> 0) + 0.5) / 2 ** 32;
  const normal = (): number => Math.sqrt(-2 * Math.log(uniform())) * Math.cos(2 * Math.PI * uniform());
  return { uniform, normal };
}

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
  /** Tries until the best is within the tolerance, the first included; bisection beside it. */
  function follow(seed: number, see: (x: number, best: number, seed: number) => Experiment, most: number) {
    const { uniform } = dice(seed);
    const best = 56 + uniform();
    const start = best + (seed % 2 ? 3 : -3);
    const entries: Experiment[] = [];
    let x = start;
    for (let tries = 1; tries <= most; tries++) {
      entries.push(see(x, best, seed * 100 + tries));
      const { bestMm, nextMm, enough } = tuneFrom(entries, start);
      const tolerance = 0.9;
      if (bestMm !== null && Math.abs(bestMm - best) <= tolerance && (enough || tries >= 3)) return tries;
      x = nextMm ?? bestMm ?? x;
    }
    return Infinity;
  }
  const SLOPE = 0.055;

  it('are there within four frames in at least 95 of 100 runs', () => {
    const see = (x: number, best: number, seed: number): Experiment => {
      const { normal } = dice(seed);
      const sense = best > 56.5 ? 1 : -1;
      return frame(x, sense * SLOPE * (x - best) + 0.015 * normal(), 0.015, 0.1);
    };
    const tries = Array.from({ length: RUNS }, (_, run) => follow(run + 1, see, 4));
    expect(tries.filter(Number.isFinite).length).toBeGreaterThanOrEqual(0.95 * RUNS);
  });

  it('are there within six entries by eye alone in at least 95 of 100 runs', () => {
    const see = (x: number, best: number, seed: number): Experiment => {
      const { normal } = dice(seed);
      const sense = best > 56.5 ? 1 : -1;
      const stretch = sense * SLOPE * (x - best) + 0.012 * normal();
      const strength = Math.min(3, Math.round(Math.abs(stretch) / 0.05));
      return strength === 0 ? eye(x, 'round', 0) : eye(x, stretch > 0 ? 'outward' : 'circling', strength);
    };
    const tries = Array.from({ length: RUNS }, (_, run) => follow(run + 1, see, 6));
    expect(tries.filter(Number.isFinite).length).toBeGreaterThanOrEqual(0.95 * RUNS);
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
