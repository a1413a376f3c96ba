import { isRecord } from './isRecord.ts';
import { HOST, type Element, type Train } from './model.ts';
import { OperationError, TRAIN, apply, type Operation } from './operations.ts';
import { sameJson } from './sameJson.ts';

/** Two sides changed the same thing, and not to the same. */
export interface Clash {
  /** Element id, `host` or `train`. */
  at: string;
  /** Key that both have set; absent where the element as a whole is meant: removed, replaced or moved. */
  key?: string;
  /** What they have set it to, and what we have. */
  theirs?: unknown;
  ours?: unknown;
}

/** An operation as it is to be carried out on another side's document, or what forbids that. */
export type Rebased =
  | { kind: 'goes'; operation: Operation }
  /** They have done the same. */
  | { kind: 'done' }
  | { kind: 'clash'; clash: Clash };

const valueAt = (target: unknown, path: readonly string[]): unknown =>
  path.reduce<unknown>((node, key) => (isRecord(node) && Object.hasOwn(node, key) ? node[key] : undefined), target);

/** What a `set` changes: an element, the host or the train; undefined where it is not there. */
const targetIn = (train: Train, at: string): object | undefined =>
  at === TRAIN ? train : at === HOST ? train.host : train.elements.find(({ id }) => id === at);

/** Longest common subsequence of two lists without repeats: what kept its order. */
function keptOrder(before: readonly string[], after: readonly string[]): ReadonlySet<string> {
  const width = after.length + 1;
  const longest = new Uint16Array((before.length + 1) * width);
  for (let b = before.length - 1; b >= 0; b--) {
    for (let a = after.length - 1; a >= 0; a--) {
      longest[b * width + a] =
        before[b] === after[a]
          ? longest[(b + 1) * width + a + 1]! + 1
          : Math.max(longest[(b + 1) * width + a]!, longest[b * width + a + 1]!);
    }
  }
  const kept = new Set<string>();
  for (let b = 0, a = 0; b < before.length && a < after.length;) {
    if (before[b] === after[a]) {
      kept.add(before[b]!);
      b++;
      a++;
    } else if (longest[(b + 1) * width + a]! >= longest[b * width + a + 1]!) b++;
    else a++;
  }
  return kept;
}

/** Ids of elements that both documents have, in another order. */
export function movedBetween(before: Train, after: Train): ReadonlySet<string> {
  const there = new Set(after.elements.map(({ id }) => id));
  const common = before.elements.map(({ id }) => id).filter((id) => there.has(id));
  const had = new Set(common);
  const now = after.elements.map(({ id }) => id).filter((id) => had.has(id));
  const kept = keptOrder(common, now);
  return new Set(common.filter((id) => !kept.has(id)));
}

/**
 * Carries operations that were made on `base` over to `theirs`, another document made from `base`. Operations on
 * different elements or keys go together; the same key set to the same value is done already; everything else is a
 * clash, which a person has to settle.
 *
 * @param base what both sides started from
 * @param theirs what the other side has made of it
 * @param holds whose value stands where both have set the same key: theirs, which makes it a clash, or ours
 * @returns a function to be called with our operations, in their order
 */
export function rebaseOnto(
  base: Train,
  theirs: Train,
  holds: 'theirs' | 'ours' = 'theirs'
): (operation: Operation) => Rebased {
  const before = new Map<string, Element>(base.elements.map((element) => [element.id, element]));
  const now = new Map<string, Element>(theirs.elements.map((element) => [element.id, element]));
  const moved = movedBetween(base, theirs);
  /** Put in by earlier operations of ours: nobody else knows them. */
  const ours = new Set<string>();

  /** Whether they have changed, moved or removed an element as a whole. */
  const touched = (id: string): boolean => {
    if (ours.has(id)) return false;
    const element = now.get(id);
    return element === undefined || moved.has(id) || !sameJson(before.get(id), element);
  };

  /** The element that ours was put before, or the next one after it that they still have. */
  const placeBefore = (id: string | null): string | null => {
    if (id === null || ours.has(id) || now.has(id)) return id;
    const at = base.elements.findIndex((element) => element.id === id);
    if (at < 0) return id;
    const next = base.elements.slice(at).find((element) => now.has(element.id));
    return next?.id ?? theirs.elements.at(-1)?.id ?? null;
  };

  const rebaseSet = (operation: Extract<Operation, { op: 'set' }>): Rebased => {
    const { at, path, to } = operation;
    if (ours.has(at)) return { kind: 'goes', operation };
    const target = targetIn(theirs, at);
    if (!target) return { kind: 'clash', clash: { at } };
    const theirValue = valueAt(target, path);
    if (holds === 'ours' || sameJson(valueAt(targetIn(base, at), path), theirValue)) {
      // Something on the way to the key may be gone or have become something else.
      const parent = path.slice(0, -1);
      const [had, has] = [valueAt(targetIn(base, at), parent), valueAt(target, parent)];
      const kept = parent.length === 0 || isRecord(had) === isRecord(has) || had === undefined;
      return kept ? { kind: 'goes', operation } : { kind: 'clash', clash: { at, key: path[0] } };
    }
    return sameJson(theirValue, to)
      ? { kind: 'done' }
      : { kind: 'clash', clash: { at, key: path.join('.'), theirs: theirValue, ours: to } };
  };

  const rebase = (operation: Operation): Rebased => {
    switch (operation.op) {
      case 'set':
        return rebaseSet(operation);
      case 'insert': {
        const { id } = operation.element;
        const there = now.get(id);
        if (there && !ours.has(id)) {
          return sameJson(there, operation.element) ? { kind: 'done' } : { kind: 'clash', clash: { at: id } };
        }
        ours.add(id);
        return { kind: 'goes', operation: { ...operation, before: placeBefore(operation.before) } };
      }
      case 'remove':
        if (!ours.has(operation.id) && !now.has(operation.id)) return { kind: 'done' };
        return touched(operation.id) ? { kind: 'clash', clash: { at: operation.id } } : { kind: 'goes', operation };
      case 'move':
        if (!ours.has(operation.id) && (!now.has(operation.id) || moved.has(operation.id))) {
          return { kind: 'clash', clash: { at: operation.id } };
        }
        return { kind: 'goes', operation: { ...operation, before: placeBefore(operation.before) } };
      case 'replace': {
        const there = now.get(operation.element.id);
        if (there && !ours.has(operation.id) && sameJson(there, operation.element)) return { kind: 'done' };
        if (touched(operation.id)) return { kind: 'clash', clash: { at: operation.id } };
        ours.add(operation.element.id);
        return { kind: 'goes', operation };
      }
      case 'batch': {
        const operations: Operation[] = [];
        let gone: string | undefined;
        for (const each of operation.operations) {
          const rebased = rebase(each);
          if (rebased.kind === 'clash') return rebased;
          if (rebased.kind === 'goes') operations.push(rebased.operation);
          else if (each.op === 'remove') gone = each.id;
        }
        // They took the place that ours was to fill: two stacks would stand in it.
        if (gone !== undefined && operations.some(({ op }) => op === 'insert')) {
          return { kind: 'clash', clash: { at: gone } };
        }
        return operations.length === 0 ? { kind: 'done' } : { kind: 'goes', operation: { op: 'batch', operations } };
      }
    }
  };
  return rebase;
}

/**
 * Our operations on top of another side's document, all of them, whatever they overwrite there.
 *
 * @returns undefined where they make no sense there any more
 */
export function forcedOnto(theirs: Train, operations: readonly Operation[]): Train | undefined {
  try {
    return operations.reduce(apply, theirs);
  } catch (error) {
    if (error instanceof OperationError) return undefined;
    throw error;
  }
}
