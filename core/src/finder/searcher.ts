import { settle, stretchesOf, type Dial } from '../length/settle.ts';
import { wholeUm } from '../units.ts';
import { Halves, modesOf, type Mode, type Side } from './halves.ts';
import { shimSets, type ShimSet } from './shimSets.ts';
import { grouped, sortOnce, type Sorted } from './sorted.ts';
import { fillingsOf, layShims, settledWithin, type Filling, type ShimPlan } from './stack.ts';
import type { Edge, StackTask } from './task.ts';

/** An order that the search itself proves. */
export type ProvenOrder = 'closest' | 'fewest';

/** What stacks are ordered by. */
export interface StackRank {
  /** Residual after dials, whole micrometres, without its sign; 0 where nothing is asked for. */
  residualUm: number;
  pieces: number;
  buys: number;
  price: number;
}

/** A stack the search has found: one of all its equivalent orders. */
export interface Stack extends StackRank {
  fillings: Filling[];
  shims: ShimPlan;
  /** What tells it from others: the parts of each gap, the shims, the length. */
  key: string;
}

/** How far a search is. */
export interface Progress {
  /** Stacks of so many pieces are being looked at, of so many at the most. */
  pieces: number;
  most: number;
  /** Share of the work with this number of pieces that is done. */
  share: number;
  /** The best so far; not proven. */
  best: readonly Stack[];
}

export interface SearchOptions {
  prefer: ProvenOrder;
  maxPieces: number;
  limit: number;
  /** Part numbers of which at least one copy must stand in a gap. */
  pinned?: readonly string[] | undefined;
  /** Only stacks with at least one part of which a face is not known. */
  onlyUnknown?: boolean | undefined;
  /** Called now and then; false ends the search. */
  onProgress?: ((progress: Progress) => boolean) | undefined;
}

export interface SearchOutcome {
  stacks: Stack[];
  /** Every stack within the limits was looked at, or shown to be no better. */
  exhausted: boolean;
  /** The best stack of each number of pieces, where there is one. */
  byPieces: Stack[];
}

const gcd = (a: number, b: number): number => (b === 0 ? a : gcd(b, a % b));

/**
 * A residual that no stack can get below, whole micrometres: every length is a multiple of some step, and what is
 * needed need not be.
 */
function leastResidual({ need, edges, shims, connectors, trainDials, dials }: StackTask): number {
  if (need === null) return 0;
  const all = [...trainDials.map(({ dial }) => dial), ...dials];
  if (all.some(({ step }) => step === 0)) return 0;
  const lengths = [
    ...edges.map(({ length }) => length),
    ...shims.map(({ length }) => length),
    ...connectors.flatMap((row) =>
      row.flatMap((connector) => (connector ? [connector.plain ?? 0, connector.held?.length ?? 0] : []))
    ),
    ...all.flatMap(({ min, max, step }) => [min, max, step])
  ];
  const step = lengths.reduce((common, length) => gcd(common, Math.abs(length)), 0);
  if (step === 0) return wholeUm(need);
  const over = ((need % step) + step) % step;
  return wholeUm(Math.min(over, step - over));
}

/** Orders stacks as the preference says. */
export const compareStacks =
  (prefer: ProvenOrder) =>
  (a: StackRank, b: StackRank): number =>
    prefer === 'closest'
      ? a.residualUm - b.residualUm || a.pieces - b.pieces || a.buys - b.buys || a.price - b.price
      : a.pieces - b.pieces || a.buys - b.buys || a.residualUm - b.residualUm || a.price - b.price;

const byCloseness = compareStacks('closest');

const CHECK_EVERY = 4096;

/** Residuals looked for in turn, whole micrometres: what is near fills the list, so that the far need not be looked at. */
const CAPS_UM = [0, 3, 10, 30, 100, 300, 1000, 3000, 10_000, Infinity];

/** So many of a half are looked at before the rest is made: where the list fills with them, the rest need not be. */
const TASTE = 2 ** 14;

interface Portion {
  groups: Sorted[];
  /** Entry of the half before which it ends. */
  to: number;
}

/** Beginnings and ends that can be joined at one joint. */
interface Pair {
  begun: Sorted;
  ended: Sorted;
  begunParts: number;
  endedParts: number;
  /** How the joint may stand. */
  modes: readonly Mode[];
  /** Signature of the dials of both. */
  dials: number;
  counts: 0 | 1;
}

/** A pair with what stands between its two sides. */
interface Meeting {
  pair: Pair;
  mode: Mode;
  /** Length of the joint between them and of the shims. */
  between: number;
  shims: ShimSet;
  pieces: number;
  dials: readonly Dial[];
}

/** One search: what was found so far, and how far it is. */
class Searcher {
  readonly #task: StackTask;
  readonly #options: SearchOptions;
  readonly #halves: Halves;
  readonly #compare: (a: StackRank, b: StackRank) => number;
  readonly #best: Stack[] = [];
  readonly #keys = new Map<string, Stack>();
  readonly #byPieces = new Map<number, Stack>();
  readonly #canBuy: boolean;
  readonly #trainDials: readonly Dial[];
  readonly #dialCache = new Map<number, { dials: Dial[]; stretches: [number, number][] }>();
  /** What has been put in order of each half: a taste of it, and the rest. */
  readonly #portioned: Readonly<Record<Side, Portion[][]>> = { begun: [], ended: [] };
  #stopped = false;
  #operations = 0;
  #share = 0;
  /** Residuals beyond this are looked at in a later round, whole micrometres. */
  #capUm: number = Infinity;

  constructor(task: StackTask, options: SearchOptions) {
    this.#task = task;
    this.#options = options;
    this.#halves = new Halves(task);
    this.#compare = compareStacks(options.prefer);
    this.#canBuy = task.groups.some(({ buy }) => buy === 1);
    this.#trainDials = task.trainDials.map(({ dial }) => dial);
  }

  run(): SearchOutcome {
    const { maxPieces } = this.#options;
    const least = leastResidual(this.#task);
    const shimmable = this.#task.connectors.some((row) =>
      row.some((connector) => connector && (connector.room > 0 || connector.held))
    );
    if (this.#task.gaps.length > 0) {
      for (let pieces = 0; pieces <= maxPieces && !this.#stopped; pieces++) {
        if (this.#worthUm(pieces) < 0 || this.#isProven(pieces, least)) break;
        for (let shims = 0; shims <= (shimmable ? pieces : 0) && !this.#stopped; shims++) {
          this.#share = shims / (pieces + 1);
          if (!this.#report(pieces)) break;
          const sets = shimSets(this.#task, shims);
          if (sets.length === 0) break;
          this.#withParts(pieces, pieces - shims, sets);
        }
      }
    }
    return {
      stacks: this.#best,
      exhausted: !this.#stopped && !this.#halves.cut,
      byPieces: [...this.#byPieces.values()].sort((a, b) => a.pieces - b.pieces)
    };
  }

  /** The list is full of what no stack of more pieces can be better than. */
  #isProven(pieces: number, leastUm: number): boolean {
    const { prefer, limit } = this.#options;
    const worst = this.#best.at(-1);
    if (prefer !== 'closest' || this.#best.length < limit || !worst) return false;
    return worst.residualUm <= leastUm && worst.pieces < pieces;
  }

  /** Every stack of so many parts and one of the sets of shims. */
  #withParts(pieces: number, parts: number, sets: readonly ShimSet[]): void {
    // Of an odd number the extra part goes to the side that branches less.
    const half = Math.floor(parts / 2);
    const wider =
      parts % 2 === 1 && this.#halves.grown('begun', half).length <= this.#halves.grown('ended', half).length;
    const begunParts = wider ? half + 1 : half;
    const endedParts = parts - begunParts;
    for (const begun of this.#portions('begun', begunParts)) {
      for (const ended of this.#portions('ended', endedParts)) {
        this.#withPairs(this.#pairs(begun, ended, begunParts, endedParts), pieces, sets);
        if (this.#stopped || this.#worthUm(pieces) < 0) return;
      }
    }
  }

  #withPairs(pairs: readonly Pair[], pieces: number, sets: readonly ShimSet[]): void {
    for (const cap of CAPS_UM) {
      this.#capUm = cap;
      for (const pair of pairs) {
        for (const shims of sets) {
          if (this.#stopped) return;
          this.#meet(pair, shims, pieces);
        }
      }
      // What is farther off would not be kept any more.
      if (this.#task.need === null || cap >= this.#worthUm(pieces)) return;
    }
  }

  /** Groups of beginnings and of ends that stand at the two sides of a joint that closes. */
  #pairs(beginnings: readonly Sorted[], ends: readonly Sorted[], begunParts: number, endedParts: number): Pair[] {
    const { faces, signatures } = this.#halves;
    return beginnings.flatMap((begun) => {
      const gap = Math.floor(begun.place / faces);
      const row = this.#task.connectors[begun.place % faces]!;
      return ends.flatMap((end): Pair[] => {
        const connector = row[end.place % faces];
        if (gap !== Math.floor(end.place / faces) || !connector) return [];
        const dials = signatures.union(begun.dials, end.dials);
        const modes = modesOf(this.#task, connector);
        return [
          {
            begun: sortOnce(begun),
            ended: sortOnce(end),
            begunParts,
            endedParts,
            modes,
            dials,
            counts: this.#task.gaps[gap]!.counts
          }
        ];
      });
    });
  }

  /** A taste of a half, and the rest, each made when it is come to. */
  *#portions(side: Side, parts: number): Generator<Sorted[]> {
    const known = (this.#portioned[side][parts] ??= []);
    for (const portion of [0, 1]) {
      if (!known[portion]) {
        const from = known[portion - 1]?.to ?? 0;
        const to = this.#halves.grown(side, parts, portion === 0 ? TASTE : Infinity).length;
        known[portion] = { groups: from === to ? [] : grouped(this.#halves, side, parts, from, to), to };
      }
      yield known[portion]!.groups;
    }
  }

  #report(pieces: number): boolean {
    const { onProgress, maxPieces } = this.#options;
    if (onProgress && !onProgress({ pieces, most: maxPieces, share: this.#share, best: this.#best })) {
      this.#stopped = true;
    }
    return !this.#stopped;
  }

  #dialsOf(signature: number): { dials: Dial[]; stretches: [number, number][] } {
    let known = this.#dialCache.get(signature);
    if (!known) {
      const own = this.#halves.signatures.all[signature]!.map((dial) => this.#task.dials[dial]!);
      const dials = [...this.#trainDials, ...own];
      known = { dials, stretches: stretchesOf(dials) };
      this.#dialCache.set(signature, known);
    }
    return known;
  }

  /** Largest residual that would still be kept, with this number of pieces, whole micrometres. */
  #worthUm(pieces: number): number {
    const { prefer, limit } = this.#options;
    const most = prefer === 'fewest' ? wholeUm(this.#task.tolerance) : Infinity;
    if (this.#task.need === null) return Infinity;
    if (this.#best.length < limit) return most;
    const worst = this.#best.at(-1)!;
    if (prefer === 'fewest') {
      return worst.pieces < pieces ? -1 : this.#canBuy ? most : Math.min(most, worst.residualUm - 1);
    }
    // Of equal residual, more pieces are worse, and as many are no better unless they are cheaper.
    return worst.pieces < pieces || !this.#canBuy ? worst.residualUm - 1 : worst.residualUm;
  }

  /** Joins the beginnings of one group to the ends of another, at the one joint where they meet. */
  #meet(pair: Pair, shims: ShimSet, pieces: number): void {
    const { modes, dials: both, counts } = pair;
    for (const mode of modes) {
      const signature = counts && mode.dial >= 0 ? this.#halves.signatures.with(both, mode.dial) : both;
      const { dials, stretches } = this.#dialsOf(signature);
      const between = mode.length * counts + shims.sum;
      const meeting: Meeting = { pair, mode, between, shims, pieces, dials };
      for (const [from, to] of stretches) {
        this.#walk(meeting, from, to);
        if (this.#stopped) return;
      }
    }
  }

  /** Visits every pair whose sum, with dials between `from` and `to`, comes near enough to what is needed. */
  #walk(meeting: Meeting, from: number, to: number): void {
    const lefts = meeting.pair.begun.sums;
    const rights = meeting.pair.ended.sums;
    const { pieces, between } = meeting;
    const { need } = this.#task;
    let high = rights.length - 1;
    for (let left = 0; left < lefts.length; left++) {
      if (++this.#operations % CHECK_EVERY === 0 && !this.#report(pieces)) return;
      const worth = Math.min(this.#capUm, this.#worthUm(pieces));
      if (worth < 0) return;
      if (need === null) {
        for (let right = 0; right < rights.length; right++) this.#take(meeting, left, right);
        continue;
      }
      // Half a micrometre more than rounds to `worth`; the residual is reckoned exactly in `#take`.
      const slack = (worth + 0.5) * 10 + 1e-6;
      const exact = need - between - lefts[left]!;
      const top = exact - from + slack;
      const bottom = exact - to - slack;
      while (high >= 0 && rights[high]! > top) high--;
      if (high < 0) return;
      for (let right = high; right >= 0 && rights[right]! >= bottom; right--) {
        this.#operations++;
        this.#take(meeting, left, right);
        if (this.#stopped) return;
      }
    }
  }

  /** Whether a stack of this rank would be kept, or leads those of as many pieces. */
  #isWanted(rank: StackRank): boolean {
    const leader = this.#byPieces.get(rank.pieces);
    if (!leader || byCloseness(rank, leader) < 0) return true;
    return this.#best.length < this.#options.limit || this.#compare(rank, this.#best.at(-1)!) < 0;
  }

  /** Looks at one pair: whether it makes a stack that is wanted, and can be put together. */
  #take(meeting: Meeting, left: number, right: number): void {
    const { pair, shims, pieces, mode, between, dials } = meeting;
    const { begun, ended, begunParts, endedParts } = pair;
    const { need, edges, groups } = this.#task;
    const halves = this.#halves;
    const total = begun.sums[left]! + ended.sums[right]! + between;
    const residualUm = need === null ? 0 : wholeUm(settle(dials, need - total).miss);
    if (residualUm > Math.min(this.#capUm, this.#worthUm(pieces))) return;
    const beginnings = halves.level('begun', begunParts);
    const ends = halves.level('ended', endedParts);
    const headEntry = begun.entries[left]!;
    const tailEntry = ended.entries[right]!;
    const tail = halves.crossings(ends.place[tailEntry]!, -1)[ended.reaches[right]!]!;
    const heldJoints = beginnings.held[headEntry]! + ends.held[tailEntry]! + tail.held + mode.held;
    if (heldJoints > shims.shims.length) return;
    if (tail.crossed === 0 && begunParts > 0 && endedParts > 0) {
      const last = edges[beginnings.edge[headEntry]!]!;
      const first = edges[ends.edge[tailEntry]!]!;
      if (last.in === first.in && last.out === first.out && last.index > first.index) return;
    }
    const before = halves.stepsOf('begun', begunParts, headEntry);
    const after = halves.stepsOf('ended', endedParts, tailEntry);
    const used = [...before, ...after].map(({ edge }) => edges[edge]!);
    const rank: StackRank = {
      residualUm,
      pieces,
      buys: used.reduce((sum, { group }) => sum + groups[group]!.buy, shims.buys),
      price: used.reduce((sum, { group }) => sum + groups[group]!.price, shims.price)
    };
    if (!this.#isWanted(rank) || !this.#isSuppliable(used, shims.shims)) return;

    let crossing = mode.held as number;
    for (let at = 0; at < tail.crossed; at++) crossing |= ((tail.modes >> (tail.crossed - 1 - at)) & 1) << (at + 1);
    const fillings = fillingsOf(this.#task, before, { crossed: tail.crossed, modes: crossing }, after);
    if (!this.#isWide(fillings)) return;
    const key = keyOf(fillings, shims.shims, total);
    const known = this.#keys.get(key);
    if (known && this.#compare(known, rank) <= 0) return;
    this.#consider(rank, fillings, shims.shims, key);
  }

  /** No part is too narrow for the beam in its gap. */
  #isWide(fillings: readonly Filling[]): boolean {
    const { gaps, refuses } = this.#task;
    return (
      !refuses || fillings.every(({ edges }, gap) => edges.every((each) => each.clearMm >= gaps[gap]!.narrowestMm))
    );
  }

  /** Puts a stack together and into the list, where its gaps keep their limits. */
  #consider(rank: StackRank, fillings: Filling[], shims: readonly number[], key: string): void {
    const plan = layShims(this.#task, fillings, shims);
    if (!plan) return;
    let { residualUm } = rank;
    if (this.#task.limits.length > 0 && this.#task.need !== null) {
      // Dials inside gaps with limits may not come as near as they would without.
      const settled = settledWithin(this.#task, fillings, plan);
      if (!settled) return;
      residualUm = wholeUm(settled.miss);
      if (residualUm > Math.min(this.#capUm, this.#worthUm(rank.pieces))) return;
    }
    this.#keep({ ...rank, residualUm, fillings, shims: plan, key });
  }

  #keep(stack: Stack): void {
    const { limit } = this.#options;
    const known = this.#keys.get(stack.key);
    const leader = this.#byPieces.get(stack.pieces);
    if (!leader || byCloseness(stack, leader) < 0) this.#byPieces.set(stack.pieces, stack);
    if (known && this.#compare(known, stack) <= 0) return;
    if (known) this.#best.splice(this.#best.indexOf(known), 1);
    else if (this.#best.length >= limit && this.#compare(stack, this.#best.at(-1)!) >= 0) return;
    this.#keys.set(stack.key, stack);
    let at = this.#best.length;
    while (at > 0 && this.#compare(stack, this.#best[at - 1]!) < 0) at--;
    this.#best.splice(at, 0, stack);
    if (this.#best.length > limit) this.#keys.delete(this.#best.pop()!.key);
  }

  /** Copies of each group in a list of edges never exceed what there is; pinned parts all stand in it. */
  #isSuppliable(used: readonly Edge[], shims: readonly number[]): boolean {
    const { groups, shims: shimKinds } = this.#task;
    const { pinned = [], onlyUnknown } = this.#options;
    for (let at = 0; at < used.length; at++) {
      const { group } = used[at]!;
      let count = 1;
      for (let before = 0; before < at; before++) if (used[before]!.group === group) count++;
      if (count > groups[group]!.parts.length) return false;
    }
    if (onlyUnknown && used.every(({ unknown }) => unknown === 0)) return false;
    return pinned.every((partId) => {
      const holds = (group: number): boolean => groups[group]!.parts.some((part) => part.partId === partId);
      return used.some(({ group }) => holds(group)) || shims.some((shim) => holds(shimKinds[shim]!.group));
    });
  }
}

/** What tells a stack from others: the parts of each gap in any order, the shims, the length. */
function keyOf(fillings: readonly Filling[], shims: readonly number[], total: number): string {
  let key = '';
  for (const { edges } of fillings) {
    key += `${edges
      .map(({ group }) => group)
      .sort((a, b) => a - b)
      .join(',')};`;
  }
  return `${key}|${shims.join(',')}|${total}`;
}

/**
 * Finds the best stacks: exact, over ordered stacks of every gap together.
 *
 * A stack of k parts is a beginning of one half of them and an end of the other that meet at one joint; both are
 * listed by length, so that for each of the one those of the other that bring the sum near to what is needed are
 * found by walking through both lists once (Horowitz & Sahni 1974, from memory). Numbers of pieces are taken in turn,
 * which makes the search stop as soon as nothing longer can be better.
 */
export const searchStacks = (task: StackTask, options: SearchOptions): SearchOutcome =>
  new Searcher(task, options).run();
