import { placeInWords, sameJson, valueInWords } from '@lodestone/core/train';
import { freePartId, mergedPart, partToDocument, type Part } from '@lodestone/core/drawer';
import type { Rebased, Rules } from '$lib/sync/rules.ts';
import type { OwnedPart } from './transport.ts';

/** The drawer as it is kept: parts by number, and the number of the state it is in. */
export interface DrawerState {
  number: number;
  /** The newest state it has something of: replies tell of a few parts only. */
  holds: number;
  parts: ReadonlyMap<string, OwnedPart>;
}

/** What a part was, and what it shall be; undefined: not there. */
export interface PartChange {
  before: Part | undefined;
  after: Part | undefined;
  /** Set aside, because what it adds has the number of another part by now. */
  added?: true;
}

/** Parts that change together, by number. */
export type DrawerChange = ReadonlyMap<string, PartChange>;

export const sameParts = (a: Part | undefined, b: Part | undefined): boolean =>
  a === b || (a !== undefined && b !== undefined && sameJson(partToDocument(a), partToDocument(b)));

const byNumber = (a: [string, unknown], b: [string, unknown]): number => (a[0] < b[0] ? -1 : 1);

/** A part nobody but this page knows of yet. */
const fresh = (part: Part): OwnedPart => ({ part, version: 0, photo: null, changedAt: new Date().toISOString() });

function withParts(state: DrawerState, change: DrawerChange): DrawerState {
  const parts = new Map(state.parts);
  let added = false;
  for (const [partId, { after }] of change) {
    const owned = parts.get(partId);
    if (!after) parts.delete(partId);
    else if (owned) parts.set(partId, { ...owned, part: after });
    else {
      parts.set(partId, fresh(after));
      added = true;
    }
  }
  return { ...state, parts: added ? new Map([...parts].sort(byNumber)) : parts };
}

/** `location: “Tin 6” elsewhere, “Tin 7” here`. */
function clashInWords(key: string, theirs: Part, ours: Part): string {
  const [there, here] = [theirs, ours].map((part) => valueInWords(partToDocument(part)[key]));
  const what = placeInWords({}, `/${key}`);
  return there !== undefined && here !== undefined
    ? `${what}: ${there} elsewhere, ${here} here`
    : `${what}: changed elsewhere too`;
}

type RebasedPart =
  | { kind: 'goes'; change: PartChange }
  | { kind: 'done' }
  | { kind: 'clash'; reason: string; clashing: PartChange; goes?: PartChange };

/** A change of one part on what it is now. */
function rebasedPart(partId: string, change: PartChange, now: Part | undefined, holds: 'theirs' | 'ours'): RebasedPart {
  const { before, after } = change;
  if (sameParts(now, after)) return { kind: 'done' };
  if (sameParts(now, before)) return { kind: 'goes', change };
  const clash = (what: string, goes?: PartChange): RebasedPart => ({
    kind: 'clash',
    reason: `${partId}: ${what}`,
    clashing: change,
    ...(goes ? { goes } : {})
  });
  if (!before) {
    const reason = `${partId}: another part was given this number meanwhile`;
    return { kind: 'clash', reason, clashing: { before, after, added: true } };
  }
  if (!now) return clash('was deleted from the drawer meanwhile');
  if (!after) return clash('was changed meanwhile, and is not deleted');
  const { part, clashes } = mergedPart(before, after, now, holds);
  if (!part) return clash('what you changed does not go together with what was changed meanwhile');
  const goes = sameParts(part, now) ? undefined : { before: now, after: part };
  if (clashes.length === 0 || holds === 'ours') return goes ? { kind: 'goes', change: goes } : { kind: 'done' };
  return clash(clashes.map((key) => clashInWords(key, now, after)).join('; '), goes);
}

export const drawerRules: Rules<DrawerState, DrawerChange> = {
  apply: withParts,

  rebaseOnto(_base, theirs, holds = 'theirs') {
    /** What earlier changes of ours have made of their parts. */
    const made = new Map<string, Part | undefined>();
    return (change): Rebased<DrawerChange> => {
      const goes = new Map<string, PartChange>();
      const clashing = new Map<string, PartChange>();
      const reasons: string[] = [];
      for (const [partId, each] of change) {
        const now = made.has(partId) ? made.get(partId) : theirs.parts.get(partId)?.part;
        const rebased = rebasedPart(partId, each, now, holds);
        if (rebased.kind === 'clash') {
          clashing.set(partId, rebased.clashing);
          reasons.push(rebased.reason);
        }
        const going = rebased.kind === 'goes' ? rebased.change : rebased.kind === 'clash' ? rebased.goes : undefined;
        if (!going) continue;
        goes.set(partId, going);
        made.set(partId, going.after);
      }
      if (clashing.size === 0) return goes.size === 0 ? { kind: 'done' } : { kind: 'goes', change: goes };
      return { kind: 'clash', reason: reasons.join('; '), clashing, ...(goes.size === 0 ? {} : { goes }) };
    };
  },

  joined(earlier, later) {
    const same = earlier.size === later.size && [...later.keys()].every((partId) => earlier.has(partId));
    if (!same) return undefined;
    return new Map([...later].map(([partId, { after }]) => [partId, { before: earlier.get(partId)!.before, after }]));
  },

  changesNothing: (state, change) =>
    [...change].every(([partId, { after }]) => sameParts(state.parts.get(partId)?.part, after))
};

/**
 * A change that was set aside as it has to be to hold on what is there now: ours wherever both changed the same.
 *
 * @returns why that cannot be
 */
export function forcedChange(change: DrawerChange, now: DrawerState): DrawerChange | string {
  const forced = new Map<string, PartChange>();
  for (const [partId, { before, after }] of change) {
    const there = now.parts.get(partId)?.part;
    let made = after;
    if (after && before && there) {
      made = mergedPart(before, after, there, 'ours').part;
      if (!made) return `${partId}: your change makes no part of what it is now.`;
    }
    forced.set(partId, { before: there, after: made });
  }
  return forced;
}

/** Whether a change that was set aside would add parts under numbers that others have now. */
export const isNumberTaken = (change: DrawerChange): boolean => [...change.values()].some(({ added }) => added);

/** The same change under the next free numbers, where its own were given to others meanwhile. */
export function renumbered(change: DrawerChange, now: DrawerState): DrawerChange {
  const taken = new Set(now.parts.keys());
  return new Map(
    [...change].map(([partId, { before, after, added }]): [string, PartChange] => {
      if (!after || !added || !taken.has(partId)) return [partId, { before, after }];
      const free = freePartId(taken, after.element.kind);
      taken.add(free);
      return [free, { before: undefined, after: { ...after, partId: free, element: { ...after.element, id: free } } }];
    })
  );
}
