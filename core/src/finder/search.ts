import { settle, stretchesOf, type Dial } from './dials.ts';
import { Halves, modesOf, type Half } from './halves.ts';
import type { Edge, Problem } from './problem.ts';
import { fillingsOf, layShims, type Filling, type ShimPlan } from './stack.ts';
import { wholeUm } from './units.ts';

/** An order that the search itself proves. */
export type ProvenOrder = 'closest' | 'fewest';

/** A stack the search has found: one of all its equivalent orders. */
export interface Stack {
  fillings: Filling[];
  shims: ShimPlan;
  /** Residual after dials, whole micrometres, without its sign; 0 where nothing is asked for. */
  residualUm: number;
  pieces: number;
  buys: number;
  price: number;
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

/** Entries of a half that stand at one place with one set of dials, in order of their sum. */
interface Sorted {
  place: number;
  dials: number;
  sums: Float64Array;
  /** Entry of the half, and which of its crossings leads here. */
  entries: Int32Array;
  reaches: Uint8Array;
}

/** Room for every entry a half may have, each reached over three gaps; with sums up to 10 m still exact in a double. */
const INDEX_SPAN = 2 ** 24;

/** Sorts a group by its sums: sum and index share one double, which sorts fastest. */
function sortedGroup({ place, dials, sums, entries, reaches }: Sorted): Sorted {
  // Recesses can make a sum negative.
  let shift = 0;
  for (const sum of sums) if (sum < shift) shift = sum;
  const count = sums.length;
  const packed = new Float64Array(count);
  for (let at = 0; at < count; at++) packed[at] = (sums[at]! - shift) * INDEX_SPAN + at;
  packed.sort();
  const sorted = {
    place,
    dials,
    sums: new Float64Array(count),
    entries: new Int32Array(count),
    reaches: new Uint8Array(count)
  };
  for (let at = 0; at < count; at++) {
    const index = packed[at]! % INDEX_SPAN;
    sorted.sums[at] = sums[index]!;
    sorted.entries[at] = entries[index]!;
    sorted.reaches[at] = reaches[index]!;
  }
  return sorted;
}

/** Sorts beginnings by where they stand; ends also by where they reach back to over gaps that stay empty. */
function grouped(halves: Halves, half: Half, ending: boolean): Sorted[] {
  const signatures = halves.signatures.all.length;
  const indices = new Map<number, number>();
  const counts: number[] = [];
  const indexOf = (key: number): number => {
    let index = indices.get(key);
    if (index === undefined) {
      index = counts.push(0) - 1;
      indices.set(key, index);
    }
    return index;
  };
  /** For each standing place: the places reached from it. */
  const reachedFrom: (readonly { place: number; added: number }[])[] = [];
  const reached = (standing: number) =>
    (reachedFrom[standing] ??= halves
      .crossings(standing, -1)
      .slice(0, ending ? undefined : 1)
      .map(({ gap, face, added }) => ({ place: gap * halves.faces + face, added })));

  for (let entry = 0; entry < half.length; entry++) {
    const dials = half.dials[entry]!;
    for (const { place } of reached(half.place[entry]!)) counts[indexOf(place * signatures + dials)]!++;
  }
  const groups: Sorted[] = [];
  for (const [key, index] of indices) {
    const count = counts[index]!;
    groups[index] = {
      place: Math.floor(key / signatures),
      dials: key % signatures,
      sums: new Float64Array(count),
      entries: new Int32Array(count),
      reaches: new Uint8Array(count)
    };
  }
  const filled = new Int32Array(groups.length);
  for (let entry = 0; entry < half.length; entry++) {
    const sum = half.sum[entry]!;
    const dials = half.dials[entry]!;
    const places = reached(half.place[entry]!);
    for (let reach = 0; reach < places.length; reach++) {
      const { place, added } = places[reach]!;
      const index = indexOf(place * signatures + dials);
      const at = filled[index]!++;
      const group = groups[index]!;
      group.sums[at] = sum + added;
      group.entries[at] = entry;
      group.reaches[at] = reach;
    }
  }
  return groups.map(sortedGroup);
}

/** A multiset of shims. */
interface ShimSet {
  shims: number[];
  sum: number;
  buys: number;
  price: number;
}

/** Every multiset of exactly `count` shims, thickest first. */
function shimSets({ shims, groups }: Problem, count: number): ShimSet[] {
  const order = shims.map((_shim, index) => index).sort((a, b) => shims[b]!.length - shims[a]!.length);
  const found: ShimSet[] = [];
  const add = (from: number, chosen: number[]): void => {
    if (chosen.length === count) {
      found.push({
        shims: [...chosen],
        sum: chosen.reduce((sum, shim) => sum + shims[shim]!.length, 0),
        buys: chosen.reduce((sum, shim) => sum + groups[shims[shim]!.group]!.buy, 0),
        price: chosen.reduce((sum, shim) => sum + groups[shims[shim]!.group]!.price, 0)
      });
      return;
    }
    for (let at = from; at < order.length; at++) {
      const shim = order[at]!;
      const used = chosen.filter((each) => each === shim).length;
      if (used >= groups[shims[shim]!.group]!.parts.length) continue;
      chosen.push(shim);
      add(at, chosen);
      chosen.pop();
    }
  };
  add(0, []);
  return found;
}

const gcd = (a: number, b: number): number => (b === 0 ? a : gcd(b, a % b));

/**
 * A residual that no stack can get below, whole micrometres: every length is a multiple of some step, and what is
 * needed need not be.
 */
function leastResidual({ need, edges, shims, connectors, trainDials, partDials }: Problem): number {
  if (need === null) return 0;
  const dials = [...trainDials.map(({ dial }) => dial), ...partDials];
  if (dials.some(({ step }) => step === 0)) return 0;
  const lengths = [
    ...edges.map(({ length }) => length),
    ...shims.map(({ length }) => length),
    ...connectors.flatMap((row) =>
      row.flatMap((connector) => (connector ? [connector.plain ?? 0, connector.held?.length ?? 0] : []))
    ),
    ...dials.flatMap(({ min, max, step }) => [min, max, step])
  ];
  const step = lengths.reduce((common, length) => gcd(common, Math.abs(length)), 0);
  if (step === 0) return wholeUm(need);
  const over = ((need % step) + step) % step;
  return wholeUm(Math.min(over, step - over));
}

/** Orders stacks as the preference says. */
export const compareStacks =
  (prefer: ProvenOrder) =>
  (a: Stack, b: Stack): number =>
    prefer === 'closest'
      ? a.residualUm - b.residualUm || a.pieces - b.pieces || a.buys - b.buys || a.price - b.price
      : a.pieces - b.pieces || a.buys - b.buys || a.residualUm - b.residualUm || a.price - b.price;

const CHECK_EVERY = 4096;

/** Residuals looked for in turn, whole micrometres: what is near fills the list, so that the far need not be looked at. */
const CAPS_UM = [0, 3, 10, 30, 100, 300, 1000, 3000, 10_000, Infinity];

/**
 * Finds the best stacks: exact, over ordered stacks of every gap together.
 *
 * A stack of k parts is a beginning of one half of them and an end of the other that meet at one joint; both are
 * listed by length, so that for each of the one those of the other that bring the sum near to what is needed are found by walking
 * through both lists once (Horowitz & Sahni 1974, from memory). Numbers of pieces are taken in turn, which makes the
 * search stop as soon as nothing longer can be better.
 */
export function searchStacks(problem: Problem, options: SearchOptions): SearchOutcome {
  const { prefer, maxPieces, limit, pinned = [], onProgress } = options;
  const { gaps, need, groups, shims: shimKinds, connectors, edges } = problem;
  const halves = new Halves(problem);
  const compare = compareStacks(prefer);
  const best: Stack[] = [];
  const keys = new Map<string, Stack>();
  const byPieces = new Map<number, Stack>();
  const least = leastResidual(problem);
  const canBuy = groups.some(({ buy }) => buy === 1);
  const trainDials = problem.trainDials.map(({ dial }) => dial);
  const shimmable = connectors.some((row) =>
    row.some((connector) => connector && (connector.room > 0 || connector.held))
  );

  let stopped = false;
  let operations = 0;
  let cap: number = Infinity;

  const dialCache = new Map<number, { dials: Dial[]; stretches: [number, number][] }>();
  const dialsOf = (signature: number) => {
    let known = dialCache.get(signature);
    if (!known) {
      const dials = [...trainDials, ...halves.signatures.all[signature]!.map((dial) => problem.partDials[dial]!)];
      known = { dials, stretches: stretchesOf(dials) };
      dialCache.set(signature, known);
    }
    return known;
  };

  /** Largest residual that would still be kept, with this number of pieces, whole micrometres. */
  const worthUm = (pieces: number): number => {
    const most = prefer === 'fewest' ? wholeUm(problem.tolerance) : Infinity;
    if (need === null) return Infinity;
    if (best.length < limit) return most;
    const worst = best.at(-1)!;
    if (prefer === 'fewest') return worst.pieces < pieces ? -1 : canBuy ? most : Math.min(most, worst.residualUm - 1);
    // Of equal residual, more pieces are worse, and as many are no better unless they are cheaper.
    return worst.pieces < pieces || !canBuy ? worst.residualUm - 1 : worst.residualUm;
  };

  const consider = (stack: Stack): void => {
    const known = keys.get(stack.key);
    const leader = byPieces.get(stack.pieces);
    if (!leader || compareStacks('closest')(stack, leader) < 0) byPieces.set(stack.pieces, stack);
    if (known && compare(known, stack) <= 0) return;
    if (known) best.splice(best.indexOf(known), 1);
    else if (best.length >= limit && compare(stack, best.at(-1)!) >= 0) return;
    keys.set(stack.key, stack);
    let at = best.length;
    while (at > 0 && compare(stack, best[at - 1]!) < 0) at--;
    best.splice(at, 0, stack);
    if (best.length > limit) keys.delete(best.pop()!.key);
  };

  /** Copies of each group in a list of edges never exceed what there is; pinned parts all stand in it. */
  const suppliable = (used: readonly Edge[], shims: readonly number[]): boolean => {
    for (let at = 0; at < used.length; at++) {
      const { group } = used[at]!;
      let count = 1;
      for (let before = 0; before < at; before++) if (used[before]!.group === group) count++;
      if (count > groups[group]!.parts.length) return false;
    }
    return pinned.every((partId) => {
      const holds = (group: number): boolean => groups[group]!.parts.some((part) => part.partId === partId);
      return used.some(({ group }) => holds(group)) || shims.some((shim) => holds(shimKinds[shim]!.group));
    });
  };

  /** Largest sum of shims any stack can hold is not known; a set that finds no room is turned down one by one. */
  const meet = (begun: Sorted, ended: Sorted, parts: [number, number], shims: ShimSet, pieces: number): void => {
    const gap = Math.floor(begun.place / halves.faces);
    if (gap !== Math.floor(ended.place / halves.faces)) return;
    const connector = connectors[begun.place % halves.faces]![ended.place % halves.faces];
    if (!connector) return;
    const signature = halves.signatures.union(begun.dials, ended.dials);
    const { dials, stretches } = dialsOf(signature);
    for (const mode of modesOf(connector, shimKinds.length > 0)) {
      const between = mode.length * gaps[gap]!.counts + shims.sum;
      for (const [from, to] of stretches) {
        walk(begun, ended, between, from, to, pieces, (left, right) =>
          take(begun, ended, left, right, parts, mode.held, between, shims, pieces, dials)
        );
        if (stopped) return;
      }
    }
  };

  /** Visits every pair whose sum, with dials between `from` and `to`, comes near enough to what is needed. */
  const walk = (
    { sums: lefts }: Sorted,
    { sums: rights }: Sorted,
    between: number,
    from: number,
    to: number,
    pieces: number,
    visit: (left: number, right: number) => void
  ): void => {
    let high = rights.length - 1;
    for (let left = 0; left < lefts.length; left++) {
      if (++operations % CHECK_EVERY === 0 && !report(pieces)) return;
      const worth = Math.min(cap, worthUm(pieces));
      if (worth < 0) return;
      if (need === null) {
        for (let right = 0; right < rights.length; right++) visit(left, right);
        continue;
      }
      // Half a micrometre more than rounds to `worth`; the residual is reckoned exactly in `take`.
      const slack = (worth + 0.5) * 10 + 1e-6;
      const exact = need - between - lefts[left]!;
      const top = exact - from + slack;
      const bottom = exact - to - slack;
      while (high >= 0 && rights[high]! > top) high--;
      if (high < 0) return;
      for (let right = high; right >= 0 && rights[right]! >= bottom; right--) {
        operations++;
        visit(left, right);
        if (stopped) return;
      }
    }
  };

  const take = (
    begun: Sorted,
    ended: Sorted,
    left: number,
    right: number,
    [leftParts, rightParts]: [number, number],
    held: 0 | 1,
    between: number,
    shims: ShimSet,
    pieces: number,
    dials: readonly Dial[]
  ): void => {
    const total = begun.sums[left]! + ended.sums[right]! + between;
    const residualUm = need === null ? 0 : wholeUm(settle(dials, need - total).miss);
    if (residualUm > Math.min(cap, worthUm(pieces))) return;
    const beginnings = halves.beginnings(leftParts);
    const ends = halves.ends(rightParts);
    const headEntry = begun.entries[left]!;
    const tailEntry = ended.entries[right]!;
    const tail = halves.crossings(ends.place[tailEntry]!, -1)[ended.reaches[right]!]!;
    const heldJoints = beginnings.held[headEntry]! + ends.held[tailEntry]! + tail.held + held;
    if (heldJoints > shims.shims.length) return;
    if (tail.crossed === 0 && leftParts > 0 && rightParts > 0) {
      const last = edges[beginnings.edge[headEntry]!]!;
      const first = edges[ends.edge[tailEntry]!]!;
      if (last.in === first.in && last.out === first.out && last.index > first.index) return;
    }
    const before = halves.stepsOf('begun', leftParts, headEntry);
    const after = halves.stepsOf('ended', rightParts, tailEntry);
    const used = [...before, ...after].map(({ edge }) => edges[edge]!);
    const buys = used.reduce((sum, { group }) => sum + groups[group]!.buy, shims.buys);
    const price = used.reduce((sum, { group }) => sum + groups[group]!.price, shims.price);
    const rank = { residualUm, pieces, buys, price } as Stack;
    const leader = byPieces.get(pieces);
    const leads = !leader || compareStacks('closest')(rank, leader) < 0;
    if (!leads && best.length >= limit && compare(rank, best.at(-1)!) >= 0) return;
    if (!suppliable(used, shims.shims)) return;

    let crossing = held as number;
    for (let at = 0; at < tail.crossed; at++) crossing |= ((tail.modes >> (tail.crossed - 1 - at)) & 1) << (at + 1);
    const fillings = fillingsOf(problem, before, { crossed: tail.crossed, modes: crossing }, after);
    const key = `${fillings
      .map((filling) =>
        filling.edges
          .map(({ group }) => group)
          .sort((a, b) => a - b)
          .join(',')
      )
      .join(';')}|${shims.shims.join(',')}|${total}`;
    const known = keys.get(key);
    if (known && compare(known, rank) <= 0) return;
    const plan = layShims(problem, fillings, shims.shims);
    if (!plan) return;
    consider({ fillings, shims: plan, residualUm, pieces, buys, price, key });
  };

  let share = 0;
  const report = (pieces: number): boolean => {
    if (onProgress && !onProgress({ pieces, most: maxPieces, share, best })) stopped = true;
    return !stopped;
  };

  const sortedBegun = new Map<number, Sorted[]>();
  const sortedEnded = new Map<number, Sorted[]>();
  const begunOf = (parts: number): Sorted[] => {
    let known = sortedBegun.get(parts);
    if (!known) sortedBegun.set(parts, (known = grouped(halves, halves.beginnings(parts), false)));
    return known;
  };
  const endedOf = (parts: number): Sorted[] => {
    let known = sortedEnded.get(parts);
    if (!known) sortedEnded.set(parts, (known = grouped(halves, halves.ends(parts), true)));
    return known;
  };

  if (gaps.length > 0) {
    for (let pieces = 0; pieces <= maxPieces && !stopped; pieces++) {
      if (worthUm(pieces) < 0) break;
      if (
        prefer === 'closest' &&
        best.length >= limit &&
        best.at(-1)!.residualUm <= least &&
        best.at(-1)!.pieces < pieces
      )
        break;
      for (let shimCount = 0; shimCount <= (shimmable ? pieces : 0) && !stopped; shimCount++) {
        share = shimCount / (pieces + 1);
        if (!report(pieces)) break;
        const sets = shimSets(problem, shimCount);
        if (sets.length === 0) break;
        const parts = pieces - shimCount;
        // Of an odd number the extra part goes to the side that branches less.
        const half = Math.floor(parts / 2);
        const left = parts % 2 === 1 && halves.beginnings(half).length <= halves.ends(half).length ? half + 1 : half;
        const begun = begunOf(left);
        const ended = endedOf(parts - left);
        for (cap of CAPS_UM) {
          for (const head of begun) {
            for (const tail of ended) {
              for (const set of sets) {
                if (stopped) break;
                meet(head, tail, [left, parts - left], set, pieces);
              }
            }
          }
          // What is farther off would not be kept any more.
          if (need === null || cap >= worthUm(pieces)) break;
        }
      }
    }
  }
  return {
    stacks: best,
    exhausted: !stopped && !halves.cut,
    byPieces: [...byPieces.values()].sort((a, b) => a.pieces - b.pieces)
  };
}
