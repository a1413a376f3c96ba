import type { Train } from './model.ts';

/** Longest name of a train (its schema). */
const LONGEST_NAME = 200;

/** A name that none of some trains has yet: `Heron 2`. */
function freeName(name: string, taken: ReadonlySet<string>): string {
  const plain = name.replace(/ \d+$/, '').slice(0, LONGEST_NAME - 8);
  for (let number = 2; ; number++) if (!taken.has(`${plain} ${number}`)) return `${plain} ${number}`;
}

/**
 * A train to begin another one with: its telescope, parts, settings and what was measured of them, without what happened
 * with it (how far it was assembled, nights, tries, focus runs, flats, sag tests, packing).
 *
 * @param taken names of the trains there are
 */
export function startedFrom(train: Train, taken: Iterable<string>): Train {
  const {
    assembly: _assembly,
    nights: _nights,
    tuning: _tuning,
    focusing: _focusing,
    flats: _flats,
    sag: _sag,
    packing: _packing,
    variantOf: _variantOf,
    ...kept
  } = train;
  return { ...kept, name: freeName(train.name, new Set(taken)) };
}
