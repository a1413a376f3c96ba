import { errorFunction } from 'simple-statistics';
import { logOfMean } from '../stats/scatter.ts';
import { sizesIn } from './cornerSize.ts';
import { sharesOf } from './repeats.ts';
import type { Experiment } from './generated/types.ts';

/** Stretch in the corners that is just seen (common practice, no source). */
export const SEEN = 0.05;
/** Astigmatism that is just seen at usual focal ratios, μm (common practice, no source). */
export const SEEN_UM = 20;

/** What an experiment shows, as an eye would say it: + outward, − circling, in steps of what is just seen. */
interface Seen {
  /** Undefined where only the side was said. */
  signed: number | undefined;
  side: -1 | 0 | 1;
  standard: number;
  isMeasured?: true;
  /** The corners are so bad, whichever way: the side was not said. */
  isEither?: true;
}

/** An eye rounds to whole steps, and is not always of one mind (common practice, no source). */
const EYE_STANDARD = 0.6;
/** What else a measured stretch differs by, in the same steps. */
const FRAME_STANDARD = 0.3;
/** No corrector keeps to a law more closely than this share. */
const LAW_SHARE = 0.15;
/** An eye knows no more than that it is strong. */
const STRONGEST = 3;
/** Entries that are simply wrong. */
const LAPSE = 0.06;
const LAPSE_BESIDE_SIZE = 0.3;

export function seenIn({ sweep, radial, eye }: Experiment): Seen | undefined {
  const measured = (value: number, standard: number): Seen => ({
    signed: value,
    side: Math.abs(value) < 2 * standard ? 0 : value > 0 ? 1 : -1,
    standard: Math.hypot(FRAME_STANDARD, standard, LAW_SHARE * value),
    isMeasured: true
  });
  if (sweep) return measured(sweep.astigmatismUm / SEEN_UM, sweep.standardUm / SEEN_UM);
  if (radial) return measured(radial.value / SEEN, radial.standard / SEEN);
  if (!eye) return undefined;
  if (eye.stretch === 'unknown') {
    return eye.strength ? { signed: eye.strength, side: 0, standard: EYE_STANDARD, isEither: true } : undefined;
  }
  if (eye.stretch === 'round' || eye.strength === 0) return { signed: 0, side: 0, standard: EYE_STANDARD };
  const side = eye.stretch === 'outward' ? 1 : -1;
  return {
    signed: eye.strength === undefined ? undefined : side * eye.strength,
    side,
    standard: EYE_STANDARD
  };
}

const below = (z: number): number => 0.5 + 0.5 * errorFunction(z / Math.SQRT2);

/** How the stretch goes with the distance from the best: which sense it has on either side. */
interface Law {
  /** Sense of a spacing that is too short, and of one that is too long. */
  short: -1 | 1;
  long: -1 | 1;
  /** Steps of what is just seen, a millimetre. */
  slope: number;
  before: number;
}

/** Slopes that correctors have, in steps of what is just seen a millimetre. */
const SLOPES = [0.3, 0.5, 0.8, 1.2, 1.8, 2.7];
/** The stretch mostly changes its sense at the best; with some correctors it has the same on both sides. */
const SENSES: readonly Pick<Law, 'short' | 'long' | 'before'>[] = [
  { short: 1, long: -1, before: 0.4 },
  { short: -1, long: 1, before: 0.4 },
  { short: 1, long: 1, before: 0.1 },
  { short: -1, long: -1, before: 0.1 }
];
const LAWS: readonly Law[] = SENSES.flatMap((senses) => SLOPES.map((slope) => ({ ...senses, slope })));

/** A stretch that has the same sense on both sides grows with the square of the distance; so far off as fast as another, mm. */
const SQUARE_AT_MM = 3;

const signedAt = ({ short, long, slope }: Law, off: number): number =>
  short === long ? (slope * short * off * off) / SQUARE_AT_MM : slope * Math.abs(off) * (off < 0 ? short : long);

/** Chance (density) of what was seen under a law, where the spacing is off by so much. */
function chanceOf(law: Law, off: number, seen: Seen, lapse = LAPSE): number {
  const { signed, side, standard, isMeasured, isEither } = seen;
  const expected = isEither ? Math.abs(signedAt(law, off)) : signedAt(law, off);
  const isStrongest = !isMeasured && signed !== undefined && Math.abs(signed) >= STRONGEST;
  let chance: number;
  if (signed === undefined) chance = below((side * expected - 0.5) / standard) / STRONGEST;
  else if (isStrongest) chance = below((Math.sign(signed) * expected - STRONGEST + 0.5) / standard);
  else chance = Math.exp(-0.5 * ((signed - expected) / standard) ** 2) / (standard * Math.sqrt(2 * Math.PI));
  return (1 - lapse) * chance + lapse / (2 * STRONGEST + 1);
}

/** One spacing nearer to the best than another, as an eye says it, or as sizes that differ do. */
interface Compared {
  nearer: number;
  farther: number;
  isAlike: boolean;
}

function comparedIn(experiments: readonly Experiment[]): Compared[] {
  return experiments.flatMap(({ spacingMm, eye }, index): Compared[] => {
    const last = experiments[index - 1]?.spacingMm;
    if (last === undefined || last === spacingMm || !eye?.versusLast) return [];
    const isBetter = eye.versusLast === 'better';
    return [
      { nearer: isBetter ? spacingMm : last, farther: isBetter ? last : spacingMm, isAlike: eye.versusLast === 'same' }
    ];
  });
}

/** Least ratios of corner stars to those of the middle, and how fast a blur grows, a millimetre: what correctors have. */
const LEAST_RATIOS = [1, 1.1, 1.25];
const BLURS = Array.from({ length: 14 }, (_, at) => 0.04 * 1.3 ** at);
/** No blur keeps to its law more closely than this share. */
const BLUR_SHARE = 0.05;

/** Logarithm of the chance that corner stars are as large as they are, where the best is at a place. */
function sizeLog(experiments: readonly Experiment[]): (place: number) => number {
  const sized = sizesIn(experiments);
  if (sized.length === 0) return () => 0;
  const shares = sharesOf(sized);
  const of = (place: number, least: number, blur: number): number =>
    sized.reduce((sum, { x, ratio, standard }, at) => {
      const expected = Math.hypot(least, blur * (x - place));
      return sum - shares[at]! * 0.5 * ((ratio - expected) / Math.hypot(standard, BLUR_SHARE * expected)) ** 2;
    }, 0);
  return (place) => logOfMean(LEAST_RATIOS.flatMap((least) => BLURS.map((blur) => of(place, least, blur))));
}

/** Between which spacings the best lies by those that say they are past it. */
export function pastIn(experiments: readonly Experiment[]): [number, number][] {
  return experiments.flatMap(({ spacingMm, eye }, index): [number, number][] => {
    const last = experiments.slice(0, index).findLast((each) => each.spacingMm !== spacingMm)?.spacingMm;
    return eye?.past && last !== undefined ? [[Math.min(last, spacingMm), Math.max(last, spacingMm)]] : [];
  });
}

/** How far beyond what was tried the best is looked for, mm. */
const REACH_MM = 8;
const PLACES = 96;
/** A published value is seldom off by more, mm (standard deviation). */
const PUBLISHED_MM = 3;

/** How likely every place is to be the best. */
export interface Belief {
  places: readonly number[];
  /** One row a place, one column a law; they add up to 1. */
  chances: readonly Float64Array[];
}

/** Sizes differ where they do by so many of their standard deviations. */
const DIFFER = 3;

/**
 * Between which spacings the best lies since both are worse than one between them: corners get steadily worse on either
 * side of the best. An eye compares, or sees a stretch stronger by a step; sizes differ beyond doubt.
 */
export function worseOnBothSides(experiments: readonly Experiment[]): [number, number][] {
  const compared = comparedIn(experiments).filter(({ isAlike }) => !isAlike);
  const isWorse = (one: Experiment, other: Experiment): boolean => {
    const [p, q] = [one.eye && seenIn(one)?.signed, other.eye && seenIn(other)?.signed];
    if (p !== undefined && q !== undefined && Math.abs(p) >= Math.abs(q) + 1) return true;
    return (
      one.size !== undefined &&
      other.size !== undefined &&
      one.size.cornerPct - other.size.cornerPct > DIFFER * Math.hypot(one.size.standardPct, other.size.standardPct)
    );
  };
  const spacings = [...new Set(experiments.map(({ spacingMm }) => spacingMm))];
  return spacings.flatMap((middle): [number, number][] => {
    const here = experiments.filter(({ spacingMm }) => spacingMm === middle);
    const worse = [
      ...experiments
        .filter((each) => each.spacingMm !== middle && here.some((one) => isWorse(each, one)))
        .map(({ spacingMm }) => spacingMm),
      ...compared.filter(({ nearer }) => nearer === middle).map(({ farther }) => farther)
    ];
    const [below, above] = [worse.filter((x) => x < middle), worse.filter((x) => x > middle)];
    return below.length > 0 && above.length > 0 ? [[Math.max(...below), Math.min(...above)]] : [];
  });
}

/** Whether entries tell anything of where the best is. */
export const tellsOrder = (experiments: readonly Experiment[]): boolean =>
  experiments.some((each) => seenIn(each) !== undefined || each.size !== undefined || each.eye?.past) ||
  comparedIn(experiments).length > 0;

/** What all entries together make likely: sides, strengths, better and worse, past it, and sizes. */
export function beliefOf(experiments: readonly Experiment[], publishedMm: number | undefined): Belief {
  const tried = experiments.map(({ spacingMm }) => spacingMm);
  const [low, high] = [Math.min(...tried) - REACH_MM, Math.max(...tried) + REACH_MM];
  const middle = publishedMm ?? tried[0]!;
  const seen = experiments.flatMap((experiment) => {
    const one = seenIn(experiment);
    return one ? [{ x: experiment.spacingMm, one }] : [];
  });
  // An eye that looks again has thought again; frames of one setup are one look.
  const measured = seen.filter(({ one }) => one.isMeasured);
  const shares = new Map(sharesOf(measured).map((share, at) => [measured[at]!, share]));
  const compared = comparedIn(experiments);
  const past = pastIn(experiments);
  const bySize = sizeLog(experiments);
  // Where sizes tell, a stretch that has a second zero is not taken at its word.
  const lapse = experiments.some(({ size }) => size) ? LAPSE_BESIDE_SIZE : LAPSE;
  const places = Array.from({ length: PLACES + 1 }, (_, at) => low + ((high - low) * at) / PLACES);
  const logs = places.map((place) => {
    let common = -0.5 * ((place - middle) / PUBLISHED_MM) ** 2 * (publishedMm === undefined ? 0.25 : 1) + bySize(place);
    for (const [from, to] of past) common += Math.log(place > from && place < to ? 1 - LAPSE : LAPSE);
    return LAWS.map((law) => {
      let log = common + Math.log(law.before);
      for (const each of seen) {
        const { x, one } = each;
        log += (shares.get(each) ?? 1) * Math.log(chanceOf(law, x - place, one, one.isMeasured ? lapse : LAPSE));
      }
      for (const { nearer, farther, isAlike } of compared) {
        const apart = (law.slope * (Math.abs(farther - place) - Math.abs(nearer - place))) / EYE_STANDARD;
        const chance = isAlike ? Math.exp(-0.5 * apart * apart) : below(apart);
        log += Math.log((1 - LAPSE) * chance + LAPSE / 3);
      }
      return log;
    });
  });
  const most = Math.max(...logs.flat());
  const chances = logs.map((row) => Float64Array.from(row, (log) => Math.exp(log - most)));
  const all = chances.reduce((sum, row) => sum + row.reduce((a, b) => a + b, 0), 0);
  return { places, chances: chances.map((row) => row.map((each) => each / all)) };
}

/** Below this place the best lies with that chance, mm, if it lies within these ends. */
export function quantileOf(
  { places, chances }: Belief,
  share: number,
  [from, to]: readonly [number, number] = [-Infinity, Infinity]
): number {
  const step = places[1]! - places[0]!;
  const weights = chances.map((row, at) =>
    places[at]! >= from && places[at]! <= to ? row.reduce((a, b) => a + b, 0) : 0
  );
  const wanted = share * weights.reduce((a, b) => a + b, 0);
  let sum = 0;
  for (const [at, here] of weights.entries()) {
    if (sum + here >= wanted && here > 0) {
      return Math.max(from, Math.min(to, places[at]! + step * ((wanted - sum) / here - 0.5)));
    }
    sum += here;
  }
  return places.at(-1)!;
}

/** Chance that the best lies below a place. */
export const chanceBelow = ({ places, chances }: Belief, mm: number): number =>
  chances.reduce((sum, row, at) => (places[at]! < mm ? sum + row.reduce((a, b) => a + b, 0) : sum), 0);

/** A law at a place that is less likely than this is not asked what would be seen. */
const NEGLIGIBLE = 3e-5;

/** What an eye may say of a spacing next. */
const SAYINGS = [-3, -2, -1, 0, 1, 2, 3];

/** Variance of the best that is to be expected after a look at a spacing, mm². */
function varianceAfter({ places, chances }: Belief, spacingMm: number): number {
  let expected = 0;
  for (const signed of SAYINGS) {
    const seen: Seen = { signed, side: Math.sign(signed) as Seen['side'], standard: EYE_STANDARD };
    let [weight, first, second] = [0, 0, 0];
    for (const [at, row] of chances.entries()) {
      const place = places[at]!;
      let here = 0;
      for (const [law, chance] of row.entries()) {
        if (chance > NEGLIGIBLE) here += chance * chanceOf(LAWS[law]!, spacingMm - place, seen);
      }
      weight += here;
      first += here * place;
      second += here * place * place;
    }
    if (weight > 0) expected += second - (first * first) / weight;
  }
  return expected;
}

const MOST_LOOKED_AT = 20;

/**
 * The spacing at which a look would narrow the belief most, of those offered.
 *
 * @returns undefined where none is offered
 */
export function mostTelling(belief: Belief, offered: readonly number[]): number | undefined {
  let best: { at: number; variance: number } | undefined;
  const every = Math.ceil(offered.length / MOST_LOOKED_AT);
  for (const at of offered.filter((_, index) => index % every === 0)) {
    const variance = varianceAfter(belief, at);
    if (!best || variance < best.variance) best = { at, variance };
  }
  return best?.at;
}
