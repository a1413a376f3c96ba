import type { Half, Halves } from './halves.ts';

/** Entries of a half that stand at one place with one set of dials, in order of their sum. */
export interface Sorted {
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
export function grouped(halves: Halves, half: Half, ending: boolean): Sorted[] {
  /** Room for every signature there will be: those that crossings add are numbered as they come. */
  const signatures = 2 ** 20;
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
  const reachedFrom: (readonly { place: number; added: number; dials: readonly number[] }[])[] = [];
  const reached = (standing: number) =>
    (reachedFrom[standing] ??= halves
      .crossings(standing, -1)
      .slice(0, ending ? undefined : 1)
      .map(({ gap, face, added, dials }) => ({ place: gap * halves.faces + face, added, dials })));

  for (let entry = 0; entry < half.length; entry++) {
    for (const reach of reached(half.place[entry]!)) {
      const dials = halves.signatures.withAll(half.dials[entry]!, reach.dials);
      counts[indexOf(reach.place * signatures + dials)]!++;
    }
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
    const places = reached(half.place[entry]!);
    for (let reach = 0; reach < places.length; reach++) {
      const { place, added, dials } = places[reach]!;
      const index = indexOf(place * signatures + halves.signatures.withAll(half.dials[entry]!, dials));
      const at = filled[index]!++;
      const group = groups[index]!;
      group.sums[at] = sum + added;
      group.entries[at] = entry;
      group.reaches[at] = reach;
    }
  }
  return groups.map(sortedGroup);
}
