import type { Group, Train } from '../train/model.ts';

/** A measurement over several elements that counts in place of their own lengths. */
export interface GroupInForce {
  group: Group;
  fromIndex: number;
  toIndex: number;
}

/** Why a measurement over several elements is not used. */
export type GroupFault = 'gone' | 'changed' | 'no-shoulder' | 'over-gap' | 'over-datum' | 'overlaps';

export interface GroupLeft {
  group: Group;
  why: GroupFault;
}

export interface Groups {
  inForce: GroupInForce[];
  left: GroupLeft[];
}

const NONE: Groups = { inForce: [], left: [] };

function faultOf(
  { elements }: Train,
  { of }: Group,
  from: number,
  to: number,
  { datumIndex, nested }: Around
): GroupFault | undefined {
  if (from < 0 || to < 0) return 'gone';
  const between = elements.slice(from, to + 1);
  if (from >= to || (of && (of.length !== between.length || between.some(({ id }, at) => id !== of[at])))) {
    return 'changed';
  }
  if ([from, to].some((end) => elements[end]!.kind === 'shim' || nested.has(end))) return 'no-shoulder';
  if (between.some(({ kind }) => kind === 'gap')) return 'over-gap';
  return from <= datumIndex && to >= datumIndex ? 'over-datum' : undefined;
}

/** What decides whether a measurement over several elements holds. */
interface Around {
  /** Index of the element the back focus is counted from. */
  datumIndex: number;
  /** Filters in an inner thread of a neighbour, by index: they have no shoulder to measure from. */
  nested: ReadonlyMap<number, unknown>;
}

/**
 * Which measurements over several elements hold for the train as it stands: all their elements are there, nothing
 * was put between them, both ends have a shoulder, and the back focus is not counted from inside.
 */
export function groupsOf(train: Train, around: Around): Groups {
  if (!train.groups || train.groups.length === 0) return NONE;
  const indexOf = new Map(train.elements.map(({ id }, index) => [id, index]));
  const found: Groups = { inForce: [], left: [] };
  for (const group of train.groups) {
    const fromIndex = indexOf.get(group.from) ?? -1;
    const toIndex = indexOf.get(group.to) ?? -1;
    const overlapping = found.inForce.some((other) => other.fromIndex <= toIndex && fromIndex <= other.toIndex);
    const why = faultOf(train, group, fromIndex, toIndex, around) ?? (overlapping ? 'overlaps' : undefined);
    if (why) found.left.push({ group, why });
    else found.inForce.push({ group, fromIndex, toIndex });
  }
  found.inForce.sort((a, b) => a.fromIndex - b.fromIndex);
  return found;
}
