import type { Part } from '../drawer/part.ts';
import { doubtsOf } from '../doubt/doubts.ts';
import { Spread } from '../doubt/spread.ts';
import { chanceWithin } from '../doubt/uncertainty.ts';
import type { Train } from '../train/model.ts';
import { SAME_SHARE } from '../light/light.ts';
import { arrange } from './arrange.ts';
import { widestFirst } from './orders.ts';
import { spansAsked } from './stood.ts';
import { strain } from '../length/settle.ts';
import { taskOf, withSpans, withoutUnknown, type StackTask, type Supply } from './task.ts';
import {
  compareStacks,
  searchStacks,
  type Progress,
  type ProvenOrder,
  type SearchOutcome,
  type Stack,
  type StackRank
} from './searcher.ts';
import { judged, type Dialled, type FilledGap, type PlacedPart, type Solution } from './solution.ts';
import { fillingLength, placedDials, settledWithin } from './stack.ts';
import { toMm } from '../units.ts';

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
  /** Share of the light that the corners are to get, as far as the fixed parts leave it; null where nothing is asked. */
  leastCornerLight: number | null;
  /** What was asked and could not be had together with the tolerance, in words. */
  unmet: string[];
}

export const DEFAULT_MAX_PIECES = 6;
export const DEFAULT_LIMIT = 20;

/** The likeliest are looked for among so many of the closest. */
const LIKELY_AMONG = 400;

/** Takes copies of parts from their groups, each once. */
class Hand {
  readonly #taken = new Map<number, number>();
  constructor(private readonly task: StackTask) {}
  take(group: number): Part {
    const at = this.#taken.get(group) ?? 0;
    this.#taken.set(group, at + 1);
    return this.task.groups[group]!.parts[at]!;
  }
}

const asTold = (setting: number): number => Number(toMm(setting).toFixed(6));

/** Where the dials of a stack are set: the train's own, and after them those of the placed parts and their joints. */
interface SetDials {
  dials: Dialled[];
  strain: number;
  /** What the dials in each gap add, mm. */
  addedMm: number[];
}

const NO_DIALS: SetDials = { dials: [], strain: 0, addedMm: [] };

/** Sets a stack's dials; the settings of placed parts are also written beside them. Lengths in mm. */
function setDials(task: StackTask, { fillings, shims }: Stack, rings: readonly (readonly PlacedPart[])[]): SetDials {
  const placed = placedDials(task, fillings);
  if (task.need === null && task.limits.length === 0) return NO_DIALS;
  if (placed.length === 0 && (task.need === null || task.trainDials.length === 0)) return NO_DIALS;
  const settled = settledWithin(task, fillings, shims);
  if (!settled) return NO_DIALS;
  const own = task.trainDials.map(({ dial }) => dial);
  const addedMm = task.gaps.map(() => 0);
  const told = task.trainDials.map(({ of }, index): Dialled => ({
    id: of.id,
    setMm: asTold(settled.set[index]!),
    placed: false,
    ...(of.kind === 'lock-ring' ? { lockRing: true } : {})
  }));
  placed.forEach(({ gap, of, at }, index) => {
    const addMm = asTold(settled.set[own.length + index]!);
    addedMm[gap]! += addMm;
    if (of === 'part') {
      const ring = rings[gap]![at]!;
      ring.setMm = addMm;
      if (task.gaps[gap]!.counts) told.push({ id: ring.part.partId, setMm: addMm, placed: true });
      return;
    }
    const setMm = asTold(fillings[gap]!.joints[at]!.connector.plain! + settled.set[own.length + index]!);
    const ring = rings[gap]![at];
    if (ring) ring.openMm = setMm;
    told.push({
      id: ring?.part.partId ?? task.gaps[gap]!.followerId,
      setMm,
      placed: ring !== undefined,
      lockRing: true
    });
  });
  return { dials: told, strain: strain([...own, ...placed.map(({ dial }) => dial)], settled.set), addedMm };
}

/** A stack as it is told, its numbers taken from a check of the train it makes. */
function solutionOf(task: StackTask, found: Stack): Solution {
  const { train, gaps } = task;
  const { fillings, shims, orders } = arrange(task, found);
  const stack = { ...found, fillings, shims };
  const hand = new Hand(task);
  const rings: PlacedPart[][] = fillings.map(() => []);
  const filled = fillings.map(({ edges, joints }, gap): FilledGap => {
    const placed: PlacedPart[] = [];
    joints.forEach((_joint, at) => {
      for (const shim of shims[gap]![at]!) placed.push({ part: hand.take(task.shims[shim]!.group), reversed: false });
      const edge = edges[at];
      if (!edge) return;
      const ring = { part: hand.take(edge.group), reversed: edge.reversed };
      rings[gap]!.push(ring);
      placed.push(ring);
    });
    return { id: gaps[gap]!.id, placed, mm: 0 };
  });
  const { dials, strain: strained, addedMm } = setDials(task, stack, rings);
  const all = [...filled, ...gaps.flatMap(({ others }) => others.map((id): FilledGap => ({ id, placed: [], mm: 0 })))];
  const order = train.elements.map(({ id }) => id);
  all.sort((a, b) => order.indexOf(a.id) - order.indexOf(b.id));
  filled.forEach((gap, index) => {
    const laid = shims[index]!.flat().reduce((sum, shim) => sum + task.shims[shim]!.length, 0);
    gap.mm = toMm(fillingLength(fillings[index]!) + laid) + (addedMm[index] ?? 0);
  });
  return {
    gaps: all,
    joints: fillings.reduce((sum, { edges }) => sum + edges.length + 1, 0),
    pieces: found.pieces,
    buys: found.buys,
    price: found.price,
    dials,
    strain: strained,
    orders,
    ...judged(train, { gaps: all, dials })
  };
}

/** Whether a is at least as good as b in everything, and better in something. */
function dominates(a: Solution, b: Solution): boolean {
  const pairs = [
    [Math.round(Math.abs(a.residualMm ?? Infinity) * 1000), Math.round(Math.abs(b.residualMm ?? Infinity) * 1000)],
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
        Math.round(Math.abs(other.residualMm ?? Infinity) * 1000) ===
          Math.round(Math.abs(each.residualMm ?? Infinity) * 1000);
      return all.findIndex(same) === index;
    })
    .sort((a, b) => a.pieces - b.pieces || a.price - b.price);

/** A train without a gap has one stack: none. */
function nothingToFill(task: StackTask): Solution {
  const { dials, strain: strained } = setDials(task, EMPTY, []);
  return {
    gaps: [],
    joints: 0,
    pieces: 0,
    buys: 0,
    price: 0,
    dials,
    strain: strained,
    orders: 1,
    ...judged(task.train, { gaps: [], dials })
  };
}

const EMPTY: Stack = { fillings: [], shims: [], residualUm: 0, pieces: 0, buys: 0, price: 0, key: '' };

/** Within tolerance comes before bright, bright before what the search is ordered by (handbook §4). */
const byUse = (a: Ranked, b: Ranked): number =>
  Number(b.solution.inTolerance) - Number(a.solution.inTolerance) || a.dark - b.dark;

/** Of equals, those whose dials keep travel on both sides stand first. */
const byStrain =
  (compare: (a: StackRank, b: StackRank) => number) =>
  (a: Ranked, b: Ranked): number =>
    byUse(a, b) ||
    a.unknown - b.unknown ||
    compare(a.stack, b.stack) ||
    a.solution.strain - b.solution.strain ||
    brightness(b) - brightness(a);

/** Light in the corners, as far as half a per cent tells: of equals the bright ones stand first. */
const brightness = ({ solution }: Ranked): number => Math.round((solution.cornerLight ?? 0) * 200);

interface Ranked {
  stack: Stack;
  solution: Solution;
  /** 1: with a part of which a face is not known. */
  unknown: 0 | 1;
  /** 1: the corners get less light than is asked for. */
  dark: 0 | 1;
}

/** Whether a check of the filled train came to what the search had reckoned. */
const isAsSearched = ({ stack, solution }: Ranked): boolean =>
  solution.residualMm === null || Math.abs(Math.round(Math.abs(solution.residualMm) * 1000) - stack.residualUm) <= 1;

/** Likeliest first; of equals the closest. */
const byLikelihood = (a: Solution, b: Solution): number =>
  (b.probability ?? 0) - (a.probability ?? 0) ||
  Math.abs(a.residualMm ?? 0) - Math.abs(b.residualMm ?? 0) ||
  a.pieces - b.pieces;

/**
 * More than any stack farther off than `residualMm` can be sure of: the chance it would have if what is put in were
 * known without doubt. Outside the tolerance no stack is likelier in than out.
 */
function likeliestBeyond({ train, ledger }: StackTask, residualMm: number): number {
  const { toleranceMm } = ledger.required;
  if (toleranceMm === null || residualMm > toleranceMm) return 0.5;
  return chanceWithin(new Spread(doubtsOf(train, ledger)), residualMm, toleranceMm) ?? 1;
}

/** One search: what came of it, best first. */
interface Listing {
  task: StackTask;
  ranked: Ranked[];
  /** Stacks that lead their number of pieces. */
  leaders: Solution[];
  exhausted: boolean;
}

/** A stack as it is told; of its orders one that leaves the corners enough light, where there is one. */
function lit(task: StackTask, stack: Stack, floor: number): { solution: Solution; dark: 0 | 1 } {
  const solution = solutionOf(task, stack);
  const isDark = ({ brightest }: Solution): boolean => brightest !== null && brightest < floor;
  if (!isDark(solution)) return { solution, dark: 0 };
  const order = solution.orders > 1 ? widestFirst(task.train, solution) : undefined;
  return order && !isDark(order) ? { solution: order, dark: 0 } : { solution, dark: 1 };
}

/** @param floor light the corners have to get, share */
function listed(task: StackTask, options: FindOptions, floor: number): Listing {
  const { prefer = 'closest', maxPieces = DEFAULT_MAX_PIECES, limit = DEFAULT_LIMIT, pinned, onProgress } = options;
  const likely = prefer === 'likeliest' && task.need !== null;
  const searchFor: ProvenOrder = prefer === 'fewest' ? 'fewest' : 'closest';
  const wanted = likely ? Math.max(limit, LIKELY_AMONG) : limit;
  let told: Stack | undefined;
  let toldAs: Solution | undefined;
  const search = (within: StackTask, most: number, onlyUnknown: boolean): SearchOutcome =>
    searchStacks(within, {
      prefer: searchFor,
      maxPieces,
      limit: most,
      pinned,
      onlyUnknown,
      onProgress: onProgress
        ? ({ best, ...progress }) => {
            if (best[0] !== told) {
              told = best[0];
              toldAs = told && solutionOf(within, told);
            }
            return onProgress({ ...progress, best: toldAs });
          }
        : undefined
    });
  const known = withoutUnknown(task);
  const first = search(known, wanted, false);
  const ranked = first.stacks.map((stack): Ranked => ({ stack, unknown: 0, ...lit(known, stack, floor) }));
  let { exhausted } = first;
  // Parts whose faces are not known stand behind those whose are.
  if (known !== task && exhausted && ranked.length < wanted) {
    const second = search(task, wanted - ranked.length, true);
    exhausted = second.exhausted;
    ranked.push(...second.stacks.map((stack): Ranked => ({ stack, unknown: 1, ...lit(task, stack, floor) })));
  }
  const isFull = ranked.length >= wanted;
  ranked.sort(byStrain(compareStacks(searchFor)));
  // Where seats hang together over more than one joint the check has the last word.
  if (!ranked.every(isAsSearched)) exhausted = false;
  // Behind a full list of dark ones there may be a bright one.
  if (isFull && ranked[0]?.dark === 1) exhausted = false;
  if (likely) {
    const farthestMm = Math.max(...ranked.map(({ solution }) => Math.abs(solution.residualMm ?? 0)), 0);
    // By likelihood alone among those that are bright; a dark one stands before them only where none of them is inside.
    const brightInside = ranked.some(({ solution, dark }) => dark === 0 && solution.inTolerance);
    const use = ({ solution, dark }: Ranked): number =>
      dark === 0 ? 1 : solution.inTolerance && !brightInside ? 0 : 2;
    ranked.sort((a, b) => use(a) - use(b) || a.unknown - b.unknown || byLikelihood(a.solution, b.solution));
    if (ranked.length >= LIKELY_AMONG)
      exhausted &&= (ranked[0]!.solution.probability ?? 0) >= likeliestBeyond(task, farthestMm);
  }
  // What leads its number of pieces mostly stands in the list already.
  const standing = new Set(first.stacks);
  const leaders = first.byPieces
    .filter((stack) => !standing.has(stack))
    .map((stack) => lit(known, stack, floor))
    .flatMap(({ solution, dark }) => (dark ? [] : [solution]));
  return { task, ranked, leaders, exhausted };
}

/** So little light that nothing is refused for it, and wide parts still go before narrow ones, share. */
const ANY_LIGHT = 1e-9;

/**
 * What is asked beside the length: less and less of it, for where nothing lands inside the tolerance with all of it.
 * What the caller asks of spans stays.
 */
function* askedOf(plain: StackTask, options: FindOptions): Generator<{ task: StackTask; unmet: string[] }> {
  const { train, facts, refuses } = plain;
  const own = options.spans || options.cornerLight === 0 ? [] : spansAsked(facts, options.unit);
  const without = own.map(({ because }) => because);
  if (own.length > 0) yield { task: withSpans(plain, own), unmet: [] };
  yield { task: plain, unmet: without };
  if (refuses) yield { task: taskOf(train, { ...options, cornerLight: ANY_LIGHT }), unmet: without };
}

/**
 * Fills a train's gaps from a drawer so that the sensor lands on the required plane.
 *
 * `closest` lists every stack that closes, ordered by |residual| after dials in whole micrometres, then pieces, then
 * buys; `fewest` those inside the tolerance, ordered by pieces, then buys, then |residual|. Every placed part is a
 * piece. `likeliest` ranks the four hundred closest by their chance of being inside the tolerance, and is exhausted
 * where none farther off could be likelier. A train that asks for no back focus gets the stacks of fewest pieces.
 *
 * Parts that take more light from the corners than is asked for are left out, and rings that keep a guide camera from
 * its focus, or a filter too far from the sensor; only where nothing lands inside the tolerance otherwise are they
 * looked at. Within tolerance comes before bright.
 *
 * @param train a valid document
 * @returns with `exhausted`, the first solution is the best of all stacks within the limits
 */
export function findStacks(train: Train, options: FindOptions): FindResult {
  const { prefer, limit = DEFAULT_LIMIT } = options;
  const task = taskOf(train, options);
  const { beam, gaps, ledger, need } = task;
  const { required } = ledger;
  const target: Target = {
    requiredMm: required.totalMm,
    toleranceMm: required.toleranceMm,
    missingMm: need === null ? null : toMm(need)
  };
  const leastCornerLight = beam ? beam.floor + SAME_SHARE : null;
  if (gaps.length === 0) {
    const only = nothingToFill(task);
    return {
      target,
      solutions: prefer === 'fewest' && !only.inTolerance ? [] : [only],
      exhausted: true,
      ranked: 1,
      pareto: [only],
      leastCornerLight,
      unmet: []
    };
  }
  const floor = beam?.floor ?? 0;
  let best: Listing | undefined;
  let unmet: string[] = [];
  for (const asked of askedOf(task, options)) {
    best = listed(asked.task, options, floor);
    unmet = asked.unmet;
    if (best.ranked.some(({ solution, dark }) => solution.inTolerance && dark === 0)) break;
  }
  const { ranked, leaders, exhausted } = best!;
  const all = ranked.map(({ solution }) => solution);
  const bright = ranked.filter(({ dark }) => dark === 0).map(({ solution }) => solution);
  return {
    target,
    solutions: all.slice(0, limit),
    exhausted,
    ranked: all.length,
    pareto: paretoOf([...leaders, ...(bright.length > 0 ? bright : all)]),
    leastCornerLight,
    // Where nothing is inside the tolerance at all, nothing else stood in the way.
    unmet: all.some(({ inTolerance }) => inTolerance) ? unmet : []
  };
}
