import type { Part } from '../drawer/part.ts';
import { standingIn, type Train } from '../train/model.ts';
import { DEFAULT_MAX_PIECES, findStacks, type FindOptions, type FindResult } from './find.ts';
import { isFilling, kindOf } from './task.ts';
import { withCopies, type Solution } from './solution.ts';

/** What several trains are to have of each other. */
export type Sharing =
  /** No copy stands in two trains: all of them can stand assembled at once. */
  | 'apart'
  /** One train is changed over into the next: as many parts as can stay the same. */
  | 'changeover';

export interface Together {
  /** One stack a train, in their order. */
  stacks: Solution[];
  /** Drawer parts that go out or come in for a change from each train to the next, all changes together. */
  moves: number;
  pieces: number;
}

/** A part that stands in more of the trains than there are copies of it, whatever fills their gaps. */
export interface Collision {
  partId: string;
  /** Indices of the trains it stands in. */
  trains: number[];
  copies: number;
}

export interface TogetherResult {
  /** The best way to give every train its stack; undefined where none was found. */
  best: Together | undefined;
  /** No other choice within the limits is better: fewer moves (for a changeover), then pieces, then buys. */
  exhausted: boolean;
  /** Every choice of stacks of at most so many pieces each was weighed, exhausted or not. */
  weighedPieces: number;
  /** Indices of trains that have no stack inside the tolerance at all. */
  without: number[];
  /** For trains kept apart: parts that keep them from standing assembled at once. */
  collisions: Collision[];
}

export interface TogetherProgress {
  /** Index of the train that is being searched. */
  train: number;
  of: number;
  /** Share of its search that is done. */
  share: number;
}

export interface TogetherOptions extends Omit<FindOptions, 'prefer' | 'limit' | 'pinned' | 'onProgress'> {
  /** Copies tied up in assembled trains other than these. */
  tied?: ReadonlyMap<string, number> | undefined;
  onProgress?: ((progress: TogetherProgress) => void) | undefined;
}

/** A stack with what it needs of each kind of part, and what it costs: pieces, buys, residual in µm. */
interface Choice {
  stack: Solution;
  needs: Int32Array;
  cost: readonly number[];
}

/** Stacks listed for each train at first, and combinations of them weighed at the most. */
const LISTED_FIRST = 100;
const WEIGHED = 2 ** 22;

const add = (a: readonly number[], b: readonly number[]): number[] => a.map((each, index) => each + b[index]!);

/** Lexical order of costs; the sum of the least of each is the least of the sums. */
function atLeast(a: readonly number[], b: readonly number[]): boolean {
  for (let at = 0; at < a.length; at++) if (a[at] !== b[at]) return a[at]! > b[at]!;
  return true;
}

/** Parts that go out or come in between two trains, by kind. */
function movesBetween(a: Int32Array, b: Int32Array): number {
  let moves = 0;
  for (let kind = 0; kind < a.length; kind++) moves += Math.abs(a[kind]! - b[kind]!);
  return moves;
}

const plus = (a: Int32Array, b: Int32Array): Int32Array => a.map((count, kind) => count + b[kind]!);

const placedIn = ({ gaps }: Solution) => gaps.flatMap(({ placed }) => placed);

/** The drawer by kinds of parts, for the trains at hand. */
class Kinds {
  readonly #index = new Map<string, number>();
  readonly #ofPart = new Map<string, number>();
  readonly parts: Part[][] = [];

  /** @param standing numbers of parts that stand in the trains; those the drawer does not have are kinds too */
  constructor(parts: readonly Part[], standing: Iterable<string>) {
    for (const part of parts) this.#kind(part.partId, isFilling(part) ? kindOf(part) : part.partId).push(part);
    for (const partId of standing) if (!this.#ofPart.has(partId)) this.#kind(partId, partId);
  }

  #kind(partId: string, key: string): Part[] {
    const kind = this.#index.get(key) ?? this.parts.push([]) - 1;
    this.#index.set(key, kind);
    this.#ofPart.set(partId, kind);
    return this.parts[kind]!;
  }

  /** How many of each kind. */
  count(partIds: Iterable<string>): Int32Array {
    const counts = new Int32Array(this.parts.length);
    for (const partId of partIds) counts[this.#ofPart.get(partId)!]!++;
    return counts;
  }

  /** Parts alike to one, itself among them, in the drawer's order. */
  like(partId: string): readonly Part[] {
    return this.parts[this.#ofPart.get(partId)!]!;
  }
}

function* repeated(counts: ReadonlyMap<string, number>): Generator<string> {
  for (const [partId, count] of counts) for (let copy = 0; copy < count; copy++) yield partId;
}

/** The choice of least cost, one stack a train; branch and bound over lists that are in order of their cost. */
function choose(
  lists: readonly (readonly Choice[])[],
  sharing: Sharing,
  capacity: Int32Array,
  standing: readonly Int32Array[]
): { chosen: Choice[]; cost: number[] } | undefined {
  const apart = sharing === 'apart';
  const least: number[][] = [[0, 0, 0]];
  for (const list of lists.toReversed()) least.unshift(add(least[0]!, list[0]!.cost));
  let best: { chosen: Choice[]; cost: number[] } | undefined;

  const from = (at: number, chosen: Choice[], used: Int32Array, moves: number, cost: readonly number[]): void => {
    if (at === lists.length) {
      best = { chosen, cost: [moves, ...cost] };
      return;
    }
    for (const choice of lists[at]!) {
      const now = add(cost, choice.cost);
      const rest = add(now, least[at + 1]!);
      if (apart) {
        // What comes later in the list costs no less.
        if (best && atLeast([0, ...rest], best.cost)) return;
        if (choice.needs.some((count, kind) => used[kind]! + count > capacity[kind]!)) continue;
        from(at + 1, [...chosen, choice], plus(used, choice.needs), 0, now);
      } else {
        const whole = plus(choice.needs, standing[at]!);
        const moved = at === 0 ? 0 : moves + movesBetween(used, whole);
        if (best && atLeast([moved, ...rest], best.cost)) continue;
        from(at + 1, [...chosen, choice], whole, moved, now);
      }
    }
  };
  from(0, [], new Int32Array(capacity.length), 0, [0, 0, 0]);
  return best;
}

/**
 * Chooses a stack for each of several trains that share one drawer, each inside its tolerance: so that no copy is
 * wanted twice, or so that a change from one to the next moves the fewest parts. Of equals the fewest pieces, then
 * the fewest to buy, then the least residuals. Parts that already stand in a train stay in it.
 *
 * @param trains two or three valid documents with gaps
 */
export function findTogether(trains: readonly Train[], options: TogetherOptions, sharing: Sharing): TogetherResult {
  const { parts, unit, forbidden, maxPieces = DEFAULT_MAX_PIECES, onProgress } = options;
  const apart = sharing === 'apart';
  const tied = options.tied ?? new Map<string, number>();
  const standing = trains.map(standingIn);
  const kinds = new Kinds(
    parts,
    standing.flatMap((counts) => [...counts.keys()])
  );
  const standingKinds = standing.map((counts) => kinds.count(repeated(counts)));

  /** Copies of a part that a train's gaps may have. */
  const free = ({ partId, quantity }: Part, train: number): number => {
    if (forbidden?.has(partId)) return 0;
    const kept = apart ? standing : [standing[train]!];
    const count = kept.reduce((sum, counts) => sum + (counts.get(partId) ?? 0), tied.get(partId) ?? 0);
    return Math.max(0, quantity - count);
  };
  const capacity = kinds.count(repeated(new Map(parts.filter(isFilling).map((part) => [part.partId, free(part, 0)]))));
  const collisions = parts.flatMap(({ partId, quantity }): Collision[] => {
    const holding = standing.flatMap((counts, train) => (counts.has(partId) ? [train] : []));
    const wanted = standing.reduce((sum, counts) => sum + (counts.get(partId) ?? 0), 0);
    const copies = quantity - (tied.get(partId) ?? 0);
    return apart && holding.length > 1 && wanted > copies ? [{ partId, trains: holding, copies }] : [];
  });

  const listed = (limit: number): FindResult[] =>
    trains.map((train, index) => {
      const kept = new Map(tied);
      for (const [other, counts] of standing.entries()) {
        if (!apart || other === index) continue;
        for (const [partId, count] of counts) kept.set(partId, (kept.get(partId) ?? 0) + count);
      }
      return findStacks(train, {
        parts,
        unit,
        forbidden,
        maxPieces,
        tied: kept,
        prefer: 'fewest',
        limit,
        onProgress: ({ pieces, most, share }) => {
          onProgress?.({ train: index, of: trains.length, share: (pieces + share) / (most + 1) });
          return true;
        }
      });
    });

  const weigh = (limit: number): TogetherResult => {
    const results = listed(limit);
    const lists = results.map(({ solutions }) =>
      solutions.map((stack): Choice => ({
        stack,
        needs: kinds.count(placedIn(stack).map(({ part }) => part.partId)),
        cost: [stack.pieces, stack.buys, Math.round(Math.abs(stack.residualMm ?? 0) * 1000)]
      }))
    );
    const cut = results.flatMap(({ solutions }, train) => (solutions.length >= limit ? [train] : []));
    const complete = results.every(({ exhausted }) => exhausted);
    const weighedPieces = complete ? Math.min(maxPieces, ...cut.map((train) => lists[train]!.at(-1)!.cost[0]! - 1)) : 0;
    const without = lists.flatMap((list, train) => (list.length === 0 ? [train] : []));
    const none = { best: undefined, weighedPieces, without, collisions };
    if (without.length > 0) return { ...none, exhausted: complete };
    const found = choose(lists, sharing, capacity, standingKinds);
    if (!found) return { ...none, exhausted: complete && cut.length === 0 };

    const { stacks, moves } = handedOut(trains, found.chosen, sharing, { kinds, free, standing });
    const [fewestMoves = 0, ...cost] = found.cost;
    // Whatever was not listed costs at least what was listed last, beside the best of the other trains.
    const noCheaper = cut.every((train) =>
      atLeast(
        lists.reduce((sum, list, at) => add(sum, (at === train ? list.at(-1)! : list[0]!).cost), [0, 0, 0]),
        cost
      )
    );
    const proven = apart ? noCheaper : moves === fewestMoves && (cut.length === 0 || (fewestMoves === 0 && noCheaper));
    const pieces = stacks.reduce((sum, stack) => sum + stack.pieces, 0);
    return { best: { stacks, moves, pieces }, exhausted: complete && proven, weighedPieces, without, collisions };
  };

  const first = weigh(LISTED_FIRST);
  const most = Math.min(2048, Math.floor(WEIGHED ** (1 / trains.length)));
  return first.exhausted || first.without.length > 0 ? first : weigh(most);
}

interface Supplies {
  kinds: Kinds;
  free: (part: Part, train: number) => number;
  standing: readonly ReadonlyMap<string, number>[];
}

/**
 * Gives every placed part a copy of its kind: for trains apart one that no other has, for a changeover one that the
 * train before has, or else one that already stands in the next.
 */
function handedOut(
  trains: readonly Train[],
  chosen: readonly Choice[],
  sharing: Sharing,
  { kinds, free, standing }: Supplies
): { stacks: Solution[]; moves: number } {
  const given = new Map<string, number>();
  const counted = (counts: ReadonlyMap<string, number>, partId: string): number => counts.get(partId) ?? 0;
  let before: Map<string, number> | undefined;
  let moves = 0;
  const stacks = chosen.map(({ stack }, train) => {
    if (sharing === 'changeover') given.clear();
    const has = new Map(standing[train]);
    const after = standing[train + 1];
    const wantedBy = (partId: string): number =>
      before && counted(before, partId) > counted(has, partId) ? 2 : after && counted(after, partId) > 0 ? 1 : 0;
    const copies = placedIn(stack).map(({ part }) => {
      const there = kinds.like(part.partId).filter((each) => counted(given, each.partId) < free(each, train));
      const copy = there.reduce((a, b) => (wantedBy(b.partId) > wantedBy(a.partId) ? b : a));
      given.set(copy.partId, counted(given, copy.partId) + 1);
      has.set(copy.partId, counted(has, copy.partId) + 1);
      return copy;
    });
    if (before) {
      for (const partId of new Set([...before.keys(), ...has.keys()]))
        moves += Math.abs(counted(before, partId) - counted(has, partId));
    }
    before = has;
    return withCopies(trains[train]!, stack, copies);
  });
  return { stacks, moves };
}
