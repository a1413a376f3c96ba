import type { Halves, Side } from './halves.ts';

/** Entries of a half that stand at one place with one set of dials; {@link sortOnce} puts them in order of their sum. */
export interface Sorted {
  place: number;
  dials: number;
  sums: Float64Array;
  /** Entry of the half, and which of its crossings leads here. */
  entries: Int32Array;
  reaches: Uint8Array;
  inOrder: boolean;
}

/** Room for every entry a half may have, each reached over three gaps; with sums up to 10 m still exact in a double. */
const INDEX_SPAN = 2 ** 24;

/** Sorts a group by its sums, once: sum and index share one double, which sorts fastest. */
export function sortOnce(group: Sorted): Sorted {
  if (group.inOrder) return group;
  const { sums, entries, reaches } = group;
  // Recesses can make a sum negative.
  let shift = 0;
  for (const sum of sums) if (sum < shift) shift = sum;
  const count = sums.length;
  const packed = new Float64Array(count);
  for (let at = 0; at < count; at++) packed[at] = (sums[at]! - shift) * INDEX_SPAN + at;
  packed.sort();
  group.sums = new Float64Array(count);
  group.entries = new Int32Array(count);
  group.reaches = new Uint8Array(count);
  for (let at = 0; at < count; at++) {
    const index = packed[at]! % INDEX_SPAN;
    group.sums[at] = sums[index]!;
    group.entries[at] = entries[index]!;
    group.reaches[at] = reaches[index]!;
  }
  group.inOrder = true;
  return group;
}

/** Room for every signature of dials there will be. */
const SIGNATURES = 2 ** 20;

/** Where the entries that stand at one place with one set of dials are put: groups, and what the way there adds. */
type Ways = readonly { group: number; added: number }[];

/** Numbers standings and groups as they are met. */
class Standings {
  readonly ways: Ways[] = [];
  readonly groups: { place: number; dials: number; count: number }[] = [];
  readonly #halves: Halves;
  readonly #ending: boolean;
  readonly #byKey = new Map<number, number>();
  /** Most entries have no dial: those are found by their place alone. */
  readonly #plain: number[] = [];
  readonly #groupOf = new Map<number, number>();

  constructor(halves: Halves, ending: boolean) {
    this.#halves = halves;
    this.#ending = ending;
  }

  of(place: number, dials: number): number {
    const key = place * SIGNATURES + dials;
    const known = dials === 0 ? this.#plain[place] : this.#byKey.get(key);
    if (known !== undefined) return known;
    const { faces, signatures } = this.#halves;
    const reached = this.#halves.crossings(place, -1).slice(0, this.#ending ? undefined : 1);
    const standing =
      this.ways.push(
        reached.map((reach) => ({
          group: this.#group(reach.gap * faces + reach.face, signatures.withAll(dials, reach.dials)),
          added: reach.added
        }))
      ) - 1;
    if (dials === 0) this.#plain[place] = standing;
    else this.#byKey.set(key, standing);
    return standing;
  }

  #group(place: number, dials: number): number {
    const key = place * SIGNATURES + dials;
    let group = this.#groupOf.get(key);
    if (group === undefined) {
      group = this.groups.push({ place, dials, count: 0 }) - 1;
      this.#groupOf.set(key, group);
    }
    return group;
  }
}

/**
 * Groups beginnings by where they stand; ends also by where they reach back to over gaps that stay empty.
 *
 * @param from first entry that is taken
 * @param to entry before which it ends
 */
export function grouped(halves: Halves, side: Side, parts: number, from: number, to: number): Sorted[] {
  const standings = new Standings(halves, side === 'ended');
  const { place, dials, sum } = halves.level(side, parts);
  const standingOf = new Int32Array(to - from);
  for (let entry = from; entry < to; entry++) {
    const standing = standings.of(place[entry]!, dials[entry]!);
    standingOf[entry - from] = standing;
    for (const { group } of standings.ways[standing]!) standings.groups[group]!.count++;
  }
  const groups = standings.groups.map((group): Sorted => ({
    place: group.place,
    dials: group.dials,
    sums: new Float64Array(group.count),
    entries: new Int32Array(group.count),
    reaches: new Uint8Array(group.count),
    inOrder: false
  }));
  const filled = new Int32Array(groups.length);
  for (let entry = from; entry < to; entry++) {
    const ways = standings.ways[standingOf[entry - from]!]!;
    for (let reach = 0; reach < ways.length; reach++) {
      const { group, added } = ways[reach]!;
      const at = filled[group]!++;
      const into = groups[group]!;
      into.sums[at] = sum[entry]! + added;
      into.entries[at] = entry;
      into.reaches[at] = reach;
    }
  }
  return groups;
}
