import type { Part } from '../drawer/part.ts';
import { uncertaintyOf } from '../length/uncertainty.ts';
import type { Train } from '../train/model.ts';
import { arrange } from './arrange.ts';
import { settle } from './dials.ts';
import { problemOf, type Problem, type Supply } from './problem.ts';
import { searchStacks, type Progress, type ProvenOrder, type Stack } from './search.ts';
import { judged, type Dialled, type FilledGap, type PlacedPart, type Solution } from './solution.ts';
import { fillingLength } from './stack.ts';
import { toMm } from './units.ts';

/** What the list is ordered by; `likeliest` by the chance of being inside the tolerance. */
export type Preference = ProvenOrder | 'likeliest';

/** What the stack has to come to. Lengths in mm; null where nothing asks for a back focus. */
export interface Target {
  requiredMm: number | null;
  toleranceMm: number | null;
  /** What the gaps and dials have to add up to. */
  missingMm: number | null;
}

export interface FindOptions extends Supply {
  prefer?: Preference;
  maxPieces?: number;
  limit?: number;
  pinned?: readonly string[];
  onProgress?: (progress: FindProgress) => boolean;
}

export interface FindProgress extends Omit<Progress, 'best'> {
  /** The best stack so far, not proven. */
  best: Solution | undefined;
}

export interface FindResult {
  target: Target;
  solutions: Solution[];
  /** The first solution is proven the best within the limits. */
  exhausted: boolean;
  /** Stacks that were ranked; for `likeliest` these are the closest. */
  ranked: number;
  /** No other stack is better in residual, pieces and money at once. */
  pareto: Solution[];
}

export const DEFAULT_MAX_PIECES = 6;
export const DEFAULT_LIMIT = 20;

/** The likeliest are looked for among so many of the closest. */
const LIKELY_AMONG = 400;

/** Takes copies of parts from their groups, each once. */
class Hand {
  readonly #taken = new Map<number, number>();
  constructor(private readonly problem: Problem) {}
  take(group: number): Part {
    const at = this.#taken.get(group) ?? 0;
    this.#taken.set(group, at + 1);
    return this.problem.groups[group]!.parts[at]!;
  }
}

const asTold = (setting: number): number => Number(toMm(setting).toFixed(6));

/** Settings of the train's dials, and of those of the placed parts, which are written beside them. Lengths in mm. */
function setDials(problem: Problem, stack: Stack, rings: readonly (readonly PlacedPart[])[]): Dialled[] {
  const placed = stack.fillings.flatMap(({ edges }, gap) =>
    edges.flatMap(({ dial }, at) =>
      problem.gaps[gap]!.counts && dial >= 0 ? [{ dial: problem.partDials[dial]!, ring: rings[gap]![at]! }] : []
    )
  );
  const dials = [...problem.trainDials, ...placed].map(({ dial }) => dial);
  if (dials.length === 0 || problem.need === null) return [];
  const length =
    stack.fillings.reduce((sum, filling, gap) => sum + fillingLength(filling) * problem.gaps[gap]!.counts, 0) +
    stack.shims.flat(2).reduce((sum, shim) => sum + problem.shims[shim]!.length, 0);
  const { set } = settle(dials, problem.need - length);
  const own = problem.trainDials.map(({ id }, index) => ({ id, setMm: asTold(set[index]!), placed: false }));
  return [
    ...own,
    ...placed.map(({ ring }, index) => {
      const setMm = asTold(set[own.length + index]!);
      ring.setMm = setMm;
      return { id: ring.part.partId, setMm, placed: true };
    })
  ];
}

/** A stack as it is told, its numbers taken from a check of the train it makes. */
function solutionOf(problem: Problem, found: Stack): Solution {
  const { train, gaps } = problem;
  const { fillings, shims, orders } = arrange(problem, found);
  const stack = { ...found, fillings, shims };
  const hand = new Hand(problem);
  const rings: PlacedPart[][] = fillings.map(() => []);
  const filled = fillings.map(({ edges, joints }, gap): FilledGap => {
    const placed: PlacedPart[] = [];
    joints.forEach((_joint, at) => {
      for (const shim of shims[gap]![at]!)
        placed.push({ part: hand.take(problem.shims[shim]!.group), reversed: false });
      const edge = edges[at];
      if (!edge) return;
      const ring = { part: hand.take(edge.group), reversed: edge.reversed };
      rings[gap]!.push(ring);
      placed.push(ring);
    });
    return { id: gaps[gap]!.id, placed, mm: 0 };
  });
  const dials = setDials(problem, stack, rings);
  const all = [...filled, ...gaps.flatMap(({ others }) => others.map((id): FilledGap => ({ id, placed: [], mm: 0 })))];
  const order = train.elements.map(({ id }) => id);
  all.sort((a, b) => order.indexOf(a.id) - order.indexOf(b.id));
  filled.forEach((gap, index) => {
    const laid = shims[index]!.flat().reduce((sum, shim) => sum + problem.shims[shim]!.length, 0);
    const turned = rings[index]!.reduce((sum, { setMm = 0 }) => sum + setMm, 0);
    gap.mm = toMm(fillingLength(fillings[index]!) + laid) + turned;
  });
  return {
    gaps: all,
    joints: fillings.reduce((sum, { edges }) => sum + edges.length + 1, 0),
    pieces: found.pieces,
    buys: found.buys,
    price: found.price,
    dials,
    orders,
    ...judged(train, { gaps: all, dials })
  };
}

/** Whether a is at least as good as b in everything, and better in something. */
function dominates(a: Solution, b: Solution): boolean {
  const pairs = [
    [Math.round(Math.abs(a.residualMm ?? 0) * 1000), Math.round(Math.abs(b.residualMm ?? 0) * 1000)],
    [a.pieces, b.pieces],
    [a.price, b.price],
    [a.buys, b.buys]
  ] as const;
  return pairs.every(([x, y]) => x <= y) && pairs.some(([x, y]) => x < y);
}

const paretoOf = (solutions: readonly Solution[]): Solution[] =>
  solutions
    .filter((each) => !solutions.some((other) => dominates(other, each)))
    .filter((each, index, all) => {
      const same = (other: Solution): boolean =>
        other.pieces === each.pieces &&
        other.price === each.price &&
        Math.round(Math.abs(other.residualMm ?? 0) * 1000) === Math.round(Math.abs(each.residualMm ?? 0) * 1000);
      return all.findIndex(same) === index;
    })
    .sort((a, b) => a.pieces - b.pieces || a.price - b.price);

/** A train without a gap has one stack: none. */
function nothingToFill(problem: Problem): Solution {
  const { need, trainDials } = problem;
  const dials: Dialled[] = [];
  if (need !== null) {
    const { set } = settle(
      trainDials.map(({ dial }) => dial),
      need
    );
    trainDials.forEach(({ id }, index) => dials.push({ id, setMm: asTold(set[index]!), placed: false }));
  }
  return {
    gaps: [],
    joints: 0,
    pieces: 0,
    buys: 0,
    price: 0,
    dials,
    orders: 1,
    ...judged(problem.train, { gaps: [], dials })
  };
}

/** Likeliest first; of equals the closest. */
const byLikelihood = (a: Solution, b: Solution): number =>
  (b.probability ?? 0) - (a.probability ?? 0) ||
  Math.abs(a.residualMm ?? 0) - Math.abs(b.residualMm ?? 0) ||
  a.pieces - b.pieces;

/**
 * More than any stack farther off than `residualMm` can be sure of: the chance it would have if what is put in were
 * known without doubt. Outside the tolerance no stack is likelier in than out.
 */
function likeliestBeyond({ ledger }: Problem, residualMm: number): number {
  const { toleranceMm } = ledger.required;
  if (toleranceMm === null || residualMm > toleranceMm) return 0.5;
  return uncertaintyOf(ledger.doubts, residualMm, toleranceMm).probabilityInTolerance ?? 1;
}

/**
 * Fills a train's gaps from a drawer so that the sensor lands on the required plane.
 *
 * `closest` lists every stack that closes, ordered by |residual| after dials in whole micrometres, then pieces, then
 * buys; `fewest` those inside the tolerance, ordered by pieces, then buys, then |residual|. Every placed part is a
 * piece. `likeliest` ranks the four hundred closest by their chance of being inside the tolerance, and is exhausted
 * where none farther off could be likelier. A train that asks for no back focus gets the stacks of fewest pieces.
 *
 * @param train a valid document
 * @returns with `exhausted`, the first solution is the best of all stacks within the limits
 */
export function findStacks(train: Train, options: FindOptions): FindResult {
  const { prefer = 'closest', maxPieces = DEFAULT_MAX_PIECES, limit = DEFAULT_LIMIT, pinned, onProgress } = options;
  const problem = problemOf(train, options);
  const { required } = problem.ledger;
  const target: Target = {
    requiredMm: required.totalMm,
    toleranceMm: required.toleranceMm,
    missingMm: problem.need === null ? null : toMm(problem.need)
  };
  if (problem.gaps.length === 0) {
    const only = nothingToFill(problem);
    return {
      target,
      solutions: prefer === 'fewest' && !only.inTolerance ? [] : [only],
      exhausted: true,
      ranked: 1,
      pareto: [only]
    };
  }
  let told: Stack | undefined;
  let toldAs: Solution | undefined;
  const likely = prefer === 'likeliest' && problem.need !== null;
  const outcome = searchStacks(problem, {
    prefer: prefer === 'fewest' ? 'fewest' : 'closest',
    maxPieces,
    limit: likely ? Math.max(limit, LIKELY_AMONG) : limit,
    pinned,
    onProgress: onProgress
      ? ({ best, ...progress }) => {
          if (best[0] !== told) {
            told = best[0];
            toldAs = told && solutionOf(problem, told);
          }
          return onProgress({ ...progress, best: toldAs });
        }
      : undefined
  });
  const ranked = outcome.stacks.map((stack) => solutionOf(problem, stack));
  let { exhausted } = outcome;
  if (likely) {
    const farthestMm = Math.abs(ranked.at(-1)?.residualMm ?? 0);
    ranked.sort(byLikelihood);
    if (ranked.length >= LIKELY_AMONG)
      exhausted &&= (ranked[0]!.probability ?? 0) >= likeliestBeyond(problem, farthestMm);
  }
  const solutions = ranked.slice(0, limit);
  // What leads its number of pieces mostly stands in the list already.
  const listed = new Set(outcome.stacks);
  const leaders = outcome.byPieces.filter((stack) => !listed.has(stack)).map((stack) => solutionOf(problem, stack));
  return { target, solutions, exhausted, ranked: ranked.length, pareto: paretoOf([...leaders, ...ranked]) };
}
