import {
  SEEN,
  SEEN_UM,
  beliefOf,
  chanceBelow,
  mostTelling,
  pastIn,
  quantileOf,
  seenIn,
  tellsOrder,
  worseOnBothSides,
  type Belief
} from './belief.ts';
import { cornerSizeOf, swellingAt, type CornerSize } from './cornerSize.ts';
import { bestByStretch, stretchCurve, type Measured, type StretchBest } from './stretch.ts';
import type { Experiment } from './generated/types.ts';

/** What all experiments say together, as `tune --json` prints it. */
export interface TuneAnswer {
  /** Null where the entries decide nothing. */
  bestMm: number | null;
  interval95Mm: [number, number] | null;
  model: 'linear' | 'quadratic' | 'bracket';
  /** Stretch (or, of sweeps alone, micrometres of astigmatism) a millimetre; its sign is this corrector's own. */
  slopePerMm: number | null;
  /** How far from the best the stars of the corners still look round. */
  toleranceMm: number | null;
  /** Experiments that do not go with the others. */
  outliers: number[];
  nextMm: number | null;
  enough: boolean;
  /** What is missing, or why this is the next one. */
  why: string;
}

/** An eye that says so strongly is sure of the side. */
const FIRMLY = 2;
/** Longest step beyond what was tried, mm. */
const LONGEST_STEP_MM = 3;
const FIRST_STEP_MM = 1;
/** A step beyond what was tried that is shorter than this shows no difference, mm. */
const LEAST_STEP_MM = 0.75;
/** A bracket by eye so narrow (half-width) is as good as eyes are, mm. */
const EYES_ENOUGH_MM = 0.5;
/** Spacings nearer to each other than this are one: rings are not set finer, mm. */
const SAME_MM = 0.1;
/** Nearer than this to one that was tried, another frame tells nothing new, mm. */
const APART_MM = 0.2;
/** Fewer spacings than this never suffice, whatever frames state of themselves. */
const LEAST_SPACINGS = 3;
/** After so many spacings another one does not help: something else is wrong. */
const MOST_SPACINGS = 10;
/** A second zero of the stretch nearer than this is within reach of a wrong beginning, mm. */
const FALSE_ZERO_MM = 8;
/** Places for the next try, mm apart. */
const GRID_MM = 0.25;
/** Blur that is just seen: corner stars larger by this than at their least. */
const SEEN_GROWTH = 1.15;

const NOTHING: TuneAnswer = {
  bestMm: null,
  interval95Mm: null,
  model: 'bracket',
  slopePerMm: null,
  toleranceMm: null,
  outliers: [],
  nextMm: null,
  enough: false,
  why: 'Nothing was tried yet.'
};

const GIVEN_UP =
  'So many spacings were tried that another will not help. Take ten frames without a change to see how far they differ by themselves, and look for tilt, loose joints and tracking first.';

/** Spacings that were tried, each once, from short to long. */
function triedOf(experiments: readonly Experiment[]): number[] {
  const sorted = experiments.map(({ spacingMm }) => spacingMm).toSorted((a, b) => a - b);
  return sorted.filter((each, at) => at === 0 || each - sorted[at - 1]! > SAME_MM);
}

const isTried = (tried: readonly number[], mm: number): boolean => tried.some((each) => Math.abs(each - mm) < APART_MM);

/** Places that are worth a try: a grid within a step of what was tried, without what was tried. */
function offeredFrom(tried: readonly number[]): number[] {
  const [low, high] = [tried[0]! - LONGEST_STEP_MM, tried.at(-1)! + LONGEST_STEP_MM];
  const first = Math.ceil(low / GRID_MM);
  return Array.from({ length: Math.floor(high / GRID_MM) - first + 1 }, (_, at) => (first + at) * GRID_MM).filter(
    (mm) => !isTried(tried, mm)
  );
}

/** The untried place nearest to a wanted one; the wanted one itself where nothing is in the way. */
function untriedNear(tried: readonly number[], wantedMm: number): number | null {
  const within = Math.max(tried[0]! - LONGEST_STEP_MM, Math.min(tried.at(-1)! + LONGEST_STEP_MM, wantedMm));
  if (!isTried(tried, within)) return within;
  const offered = offeredFrom(tried);
  return offered.length === 0
    ? null
    : offered.reduce((a, b) => (Math.abs(b - wantedMm) < Math.abs(a - wantedMm) ? b : a));
}

/** An entry on one side of the best: + outward, − circling, 0 round. */
interface Sided {
  index: number;
  x: number;
  side: number;
  strength: number;
}

const sidedIn = (experiments: readonly Experiment[]): Sided[] =>
  experiments.flatMap((experiment, index) => {
    const seen = seenIn(experiment);
    return seen && !seen.isEither
      ? [{ index, x: experiment.spacingMm, side: seen.side, strength: Math.min(3, Math.abs(seen.signed ?? 1)) }]
      : [];
  });

/** The split of entries into two sides that contradicts the fewest: those below are of one side, those above of the other. */
function splitOf(entries: readonly Sided[]): { below: Sided; above: Sided; wrong: Sided[] } | undefined {
  const firm = entries.filter(({ side }) => side !== 0).toSorted((p, q) => p.x - q.x);
  if (!firm.some(({ side }) => side > 0) || !firm.some(({ side }) => side < 0)) return undefined;
  let best: { low: Sided[]; high: Sided[]; wrong: Sided[]; cost: number } | undefined;
  for (const sense of [1, -1]) {
    for (let at = 1; at < firm.length; at++) {
      // Entries at one spacing belong together.
      if (firm[at]!.x === firm[at - 1]!.x) continue;
      const low = firm.slice(0, at).filter(({ side }) => side === -sense);
      const high = firm.slice(at).filter(({ side }) => side === sense);
      const wrong = firm.filter((entry) => !low.includes(entry) && !high.includes(entry));
      const cost = wrong.reduce((sum, { strength }) => sum + 0.5 + strength, 0);
      if (low.length > 0 && high.length > 0 && (!best || cost < best.cost)) best = { low, high, wrong, cost };
    }
  }
  return (
    best && {
      below: best.low.reduce((a, b) => (b.x > a.x ? b : a)),
      above: best.high.reduce((a, b) => (b.x < a.x ? b : a)),
      wrong: best.wrong
    }
  );
}

/** Where entries of more than this share of all strength contradict the others, none is believed. */
const MOST_CONTRADICTED = 0.2;
/** As likely as this to lie beyond what was tried, the best is looked for there. */
const BEYOND = 0.5;

/** The place believed best, while it is untried; else where a look tells most, on the side the entries speak for. */
function nextByOrder(
  belief: Belief,
  tried: readonly number[],
  bracket: [number, number] | undefined,
  isContradicted: boolean
): number | null {
  const [low, high] = [tried[0]!, tried.at(-1)!];
  const [below, above] = [chanceBelow(belief, low), 1 - chanceBelow(belief, high)];
  const isWithin = isContradicted || below + above < BEYOND;
  const region: [number, number] =
    bracket ??
    (isWithin
      ? [Math.max(low, quantileOf(belief, 0.05)), Math.min(high, quantileOf(belief, 0.95))]
      : below > above
        ? [low - LONGEST_STEP_MM, low - LEAST_STEP_MM]
        : [high + LEAST_STEP_MM, high + LONGEST_STEP_MM]);
  const likely = likelyIn(belief, region);
  if (!isTried(tried, likely)) return likely;
  const offered = offeredFrom(tried);
  const within = offered.filter((mm) => mm > region[0] && mm < region[1]);
  return mostTelling(belief, within.length > 0 || bracket ? within : offered) ?? null;
}

/** Where the best is likely within some ends: between what is believed and the middle, since strengths are only ranks. */
const likelyIn = (belief: Belief, [from, to]: [number, number]): number =>
  (quantileOf(belief, 0.5, [from, to]) + (from + to) / 2) / 2;

/** What brackets have in common; undefined where there is none, or they exclude each other. */
function bracketOf(brackets: readonly [number, number][]): [number, number] | undefined {
  if (brackets.length === 0) return undefined;
  const [from, to] = [Math.max(...brackets.map(([from]) => from)), Math.min(...brackets.map(([, to]) => to))];
  return to > from ? [from, to] : undefined;
}

/** Wider than this, what is believed is no answer yet, mm. */
const WIDEST_ANSWER_MM = 4;

/** What sides, strengths, sizes and “better” or “worse” tell together, while no measurement decides it. */
function byOrder(
  experiments: readonly Experiment[],
  tried: readonly number[],
  publishedMm: number | undefined
): TuneAnswer {
  const sided = sidedIn(experiments);
  const [only] = tried;
  if (tried.length === 1) {
    const untriedMm =
      publishedMm !== undefined && !isTried(tried, publishedMm) && Math.abs(publishedMm - only!) <= 3 * LONGEST_STEP_MM
        ? publishedMm
        : undefined;
    if (sided.length > 0 && sided.every(({ side }) => side === 0)) {
      return {
        ...NOTHING,
        bestMm: only!,
        nextMm: only! + FIRST_STEP_MM,
        why: 'The corners look round here. One try to either side shows how far that reaches.'
      };
    }
    const strongest = Math.max(1, ...sided.map(({ strength }) => strength));
    return {
      ...NOTHING,
      nextMm: untriedMm ?? only! + Math.min(LONGEST_STEP_MM, FIRST_STEP_MM * strongest),
      why: `Only one spacing was tried${experiments.length > 1 ? ', though more than once' : ''}. A second one shows which way this corrector elongates corner stars: both ways are taught.`
    };
  }
  if (!tellsOrder(experiments)) {
    const nextMm =
      publishedMm !== undefined && !isTried(tried, publishedMm) ? publishedMm : tried.at(-1)! + FIRST_STEP_MM;
    return { ...NOTHING, nextMm, why: 'None of these entries describes the corners.' };
  }
  const belief = beliefOf(experiments, publishedMm);
  const [least, middle, most] = [0.025, 0.5, 0.975].map((share) => quantileOf(belief, share)) as [
    number,
    number,
    number
  ];
  const split = splitOf(sided);
  const wrong = split?.wrong.map(({ index }) => index).toSorted((a, b) => a - b) ?? [];
  const weightOf = (entries: readonly Sided[]): number => entries.reduce((sum, { strength }) => sum + strength, 0);
  const isAgreed = split !== undefined && weightOf(split.wrong) <= MOST_CONTRADICTED * weightOf(sided);
  const agreeing = experiments.filter((_, index) => !wrong.includes(index));
  const turned = [...pastIn(experiments), ...worseOnBothSides(agreeing)];
  const bracket = bracketOf(isAgreed ? [[split.below.x, split.above.x], ...turned] : turned);
  const interval: [number, number] = bracket ?? [least, most];
  const isWithin = middle > tried[0]! - SAME_MM && middle < tried.at(-1)! + SAME_MM;
  const isAnswer = bracket !== undefined || (wrong.length === 0 && most - least <= WIDEST_ANSWER_MM && isWithin);
  const bestMm = isAnswer ? (bracket ? likelyIn(belief, bracket) : middle) : null;
  const half = (interval[1] - interval[0]) / 2;
  const enough = isAnswer && isWithin && wrong.length === 0 && tried.length >= LEAST_SPACINGS && half <= EYES_ENOUGH_MM;
  const isSpent = tried.length >= MOST_SPACINGS;
  const nextMm = enough || isSpent ? null : nextByOrder(belief, tried, bracket, wrong.length > 0);
  return {
    ...NOTHING,
    bestMm,
    interval95Mm: isAnswer ? interval : null,
    outliers: wrong,
    nextMm,
    enough,
    why: enough
      ? 'Enough: the eye sees no finer.'
      : isSpent
        ? GIVEN_UP
        : wrong.length > 0
          ? `Experiment ${wrong.map((index) => index + 1).join(', ')} contradicts the others. Look at it again before you trust any of them.`
          : bracket
            ? nextMm === null
              ? 'Nothing is left to try between the two sides: take a frame at both.'
              : `The best spacing is between ${bracket[0].toFixed(2)} and ${bracket[1].toFixed(2)} mm: the corners change there.`
            : isWithin
              ? 'It is worse on both sides of what was tried.'
              : middle > tried.at(-1)!
                ? 'The corners get better toward longer spacings: go on until they are past the best.'
                : 'The corners get better toward shorter spacings: go on until they are past the best.'
  };
}

/** The best spacing by corner sizes alone, in the measure stretch is told in. */
function bySizeOf(size: CornerSize | undefined, experiments: readonly Experiment[]): StretchBest | undefined {
  if (!size?.least) return undefined;
  const { at, from, to, ratio } = size.least;
  const far = experiments.reduce(
    (most, { spacingMm }) => (Math.abs(spacingMm - at) > Math.abs(most - at) ? spacingMm : most),
    at
  );
  // r² = r₀² + k² d²: k by the size farthest out.
  const blur = (size.at(far).ratio ** 2 - ratio ** 2) / (far - at) ** 2;
  return {
    at,
    from,
    to,
    model: 'quadratic',
    slopePerMm: 0,
    toleranceMm: blur > 0 ? (ratio * Math.sqrt(SEEN_GROWTH ** 2 - 1)) / Math.sqrt(blur) : 0,
    sureHalfMm: Math.max(at - from, to - at),
    outliers: []
  };
}

/** A turn by stretch and one by size are two looks at the same place: together they are narrower than either. */
function withSize(byStretch: StretchBest, bySize: StretchBest | undefined): StretchBest {
  if (!bySize || byStretch.slopePerMm !== 0) return byStretch;
  const [one, two] = [(byStretch.to - byStretch.from) / 2, (bySize.to - bySize.from) / 2];
  if (Math.abs(byStretch.at - bySize.at) > Math.hypot(one, two)) return byStretch;
  const share = two ** 2 / (one ** 2 + two ** 2);
  const at = share * byStretch.at + (1 - share) * bySize.at;
  const half = (one * two) / Math.hypot(one, two);
  return { ...byStretch, at, from: at - half, to: at + half, sureHalfMm: Math.min(byStretch.sureHalfMm, half) };
}

/** Entries of an eye that firmly say the other of what frames say of that spacing. */
function contradicting(experiments: readonly Experiment[], { at, slopePerMm }: StretchBest): number[] {
  return experiments.flatMap(({ spacingMm, radial, sweep, eye }, index) => {
    if (radial || sweep || !eye || (eye.strength ?? 1) < FIRMLY) return [];
    const side = eye.stretch === 'outward' ? 1 : eye.stretch === 'circling' ? -1 : 0;
    return side * slopePerMm * (spacingMm - at) < -SEEN ? [index] : [];
  });
}

/** Past the end of what was tried where sizes shrink that way: to where they would be least, or a good step. */
function onTo({ towardsMm, way }: CornerSize, tried: readonly number[]): number | null {
  const end = way > 0 ? tried.at(-1)! : tried[0]!;
  const wanted = towardsMm === undefined ? end + way * (LONGEST_STEP_MM - FIRST_STEP_MM) : towardsMm;
  const ahead = way * (wanted - end) >= FIRST_STEP_MM ? wanted : end + way * FIRST_STEP_MM;
  return untriedNear(tried, ahead);
}

type Value = { y: number; sigmaY: number } | undefined;
const byFrame = ({ radial }: Experiment): Value => radial && { y: radial.value, sigmaY: radial.standard };
const bySweep = ({ sweep }: Experiment): Value => sweep && { y: sweep.astigmatismUm, sigmaY: sweep.standardUm };

const measuredIn = (experiments: readonly Experiment[], of: (experiment: Experiment) => Value): Measured[] =>
  experiments.flatMap((experiment, index) => {
    const value = of(experiment);
    return value ? [{ index, x: experiment.spacingMm, sigmaX: (experiment.uncertaintyMm ?? 0) / 2, ...value }] : [];
  });

/** Curves through what was measured, for a chart: of frames, and of sweeps (μm); undefined where there is none. */
export const tunedCurves = (
  experiments: readonly Experiment[]
): { frames: ((spacingMm: number) => number) | undefined; sweeps: ((spacingMm: number) => number) | undefined } => ({
  frames: stretchCurve(measuredIn(experiments, byFrame), SEEN),
  sweeps: stretchCurve(measuredIn(experiments, bySweep), SEEN_UM)
});

/**
 * What all experiments with one corrector say together (handbook §9). Sweeps, which measure the astigmatism itself, win
 * over frames where they determine a curve; frames over the eye; and no zero of the stretch counts where corner stars are
 * swollen. Which way it stretches is learned from the entries alone.
 *
 * @param publishedMm where to look while there is only one entry
 */
export function tuneFrom(experiments: readonly Experiment[], publishedMm?: number): TuneAnswer {
  if (experiments.length === 0) return { ...NOTHING, nextMm: publishedMm ?? null };
  const tried = triedOf(experiments);
  const size = cornerSizeOf(experiments);
  const near = size?.least?.at;
  const frames = bestByStretch(measuredIn(experiments, byFrame), SEEN, near);
  const sweeps = bestByStretch(measuredIn(experiments, bySweep), SEEN_UM, near);
  const bySize = bySizeOf(size, experiments);
  const byStretch = sweeps ?? frames;
  const swelling = byStretch && size ? swellingAt(size, byStretch.at) : undefined;
  const isFalse = swelling?.isSwollen === true;
  const chosen = isFalse ? bySize : byStretch ? withSize(byStretch, bySize) : bySize;
  const isSpent = tried.length >= MOST_SPACINGS;

  if (!chosen) {
    if (!isFalse) return byOrder(experiments, tried, publishedMm);
    const where = byStretch!.at.toFixed(2);
    return {
      ...NOTHING,
      model: byStretch!.model,
      outliers: byStretch!.outliers,
      nextMm: isSpent ? null : size!.way === 0 ? untriedNear(tried, byStretch!.at) : onTo(size!, tried),
      why: isSpent
        ? GIVEN_UP
        : `The stretch is zero at ${where} mm, but corner stars are still swollen there: that is not the best. ${
            size!.way === 0
              ? 'Another spacing shows which way they shrink.'
              : `They shrink toward ${size!.way > 0 ? 'longer' : 'shorter'} spacings: go on that way.`
          }`
    };
  }

  // What can be seen is said by frames where they determine a curve.
  const { slopePerMm, toleranceMm } = frames && chosen === sweeps ? frames : chosen;
  const contradictions = frames && frames.slopePerMm !== 0 ? contradicting(experiments, frames) : [];
  const outliers = [...chosen.outliers, ...contradictions].toSorted((a, b) => a - b);
  const isWithin = chosen.at > tried[0]! - APART_MM && chosen.at < tried.at(-1)! + APART_MM;
  const otherZero = chosen.zeros?.find((zero) => Math.abs(zero - chosen.at) > 1e-6);
  const hasFalseZero =
    size?.least === undefined &&
    otherZero !== undefined &&
    Math.abs(otherZero - chosen.at) < FALSE_ZERO_MM &&
    (size === undefined || size.at(chosen.at).ratio > SEEN_GROWTH);
  const isNarrow = chosen.sureHalfMm <= toleranceMm;
  const enough =
    isNarrow && isWithin && tried.length >= LEAST_SPACINGS && !isFalse && !hasFalseZero && contradictions.length === 0;
  const isOtherInReach =
    hasFalseZero && otherZero > tried[0]! - APART_MM && otherZero < tried.at(-1)! + APART_MM && isWithin;
  const why = enough
    ? size
      ? 'Enough: the best is known more closely than the eye can see.'
      : 'Enough by elongation alone: corner sizes, which would show a false zero, are missing.'
    : isSpent
      ? GIVEN_UP
      : contradictions.length > 0
        ? `Experiment ${contradictions.map((index) => index + 1).join(', ')} contradicts the frames. Look at it again before you trust either.`
        : isFalse
          ? 'The stretch vanishes elsewhere, but corner stars are least here.'
          : hasFalseZero
            ? `The stretch vanishes at ${chosen.at.toFixed(2)} and at ${otherZero.toFixed(2)} mm. Only one of them is the best: the one where corner stars are small.`
            : !isWithin
              ? 'The best spacing is beyond those tried: try there.'
              : tried.length < LEAST_SPACINGS
                ? 'Two spacings do not show how far frames scatter: a third one does.'
                : 'Another frame narrows it: the best may still be farther off than the eye tolerates.';
  return {
    bestMm: isOtherInReach ? null : chosen.at,
    interval95Mm: isOtherInReach ? null : [chosen.from, chosen.to],
    model: chosen.model,
    slopePerMm: slopePerMm === 0 ? null : slopePerMm,
    toleranceMm,
    outliers,
    nextMm:
      enough || isSpent
        ? null
        : tried.length < LEAST_SPACINGS
          ? thirdFor(experiments, publishedMm, tried, chosen)
          : nextFor(chosen, hasFalseZero ? otherZero : undefined, tried, size),
    enough,
    why
  };
}

/** The third spacing, where two say where a line would cross: all that is seen has a word in it, not the line alone. */
function thirdFor(
  experiments: readonly Experiment[],
  publishedMm: number | undefined,
  tried: readonly number[],
  chosen: StretchBest
): number | null {
  const likely = quantileOf(beliefOf(experiments, publishedMm), 0.5);
  return isTried(tried, likely) ? nextFor(chosen, undefined, tried, undefined) : untriedNear(tried, likely);
}

/** The next spacing where the best is known, but not well enough. */
function nextFor(
  chosen: StretchBest,
  otherZero: number | undefined,
  tried: readonly number[],
  size: CornerSize | undefined
): number | null {
  if (otherZero !== undefined) {
    if (size && size.way !== 0) return onTo(size, tried);
    return untriedNear(tried, otherZero);
  }
  if (!isTried(tried, chosen.at)) return untriedNear(tried, chosen.at);
  // The side that is less well tried; by a good step, since what is far from the best tells the slope.
  const [short, long] = [tried[0]!, tried.at(-1)!];
  const most = LONGEST_STEP_MM - FIRST_STEP_MM;
  const step = tried.length < LEAST_SPACINGS ? most : Math.max(FIRST_STEP_MM, Math.min(most, chosen.toleranceMm));
  return untriedNear(tried, chosen.at - short < long - chosen.at ? chosen.at - step : chosen.at + step);
}

/** One of the two readings that are taught of what stretched corners mean: neither is known to hold for a corrector. */
export interface School {
  /** What stars that point outward are said to mean. */
  outwardMeans: 'too long' | 'too short';
  nextMm: number;
}

/**
 * Where either school would go first, while the owner's own entries do not say which one holds (handbook §9: both are
 * common practice). A hypothesis, never an answer.
 *
 * @returns undefined where the entries decide it, or show no stretch
 */
export function startingSchools(experiments: readonly Experiment[]): [School, School] | undefined {
  const sided = sidedIn(experiments);
  const spacings = new Set(experiments.map(({ spacingMm }) => spacingMm));
  const last = sided.at(-1);
  if (!last || last.side === 0 || spacings.size > 1) return undefined;
  const step = Math.max(FIRST_STEP_MM, Math.min(LONGEST_STEP_MM, FIRST_STEP_MM * last.strength));
  return [
    { outwardMeans: 'too long', nextMm: last.x - last.side * step },
    { outwardMeans: 'too short', nextMm: last.x + last.side * step }
  ];
}
