import { isRecord } from './isRecord.ts';
import { findElement, HOST, type Element, type Train } from './model.ts';

/** Name that stands for the train itself where `set` expects an element id. */
export const TRAIN = 'train';

/**
 * A change to a document. Each names element ids, never indices, so that it still means the same thing
 * when others have changed the document too. `before: null` is the end.
 */
export type Operation =
  | { op: 'insert'; element: Element; before: string | null }
  | { op: 'remove'; id: string }
  | { op: 'move'; id: string; before: string | null }
  | { op: 'replace'; id: string; element: Element }
  /** Sets or, with `to` undefined, clears a key of an element, of `host` or of `train`. */
  | { op: 'set'; at: string; path: readonly [string, ...string[]]; to: unknown }
  | { op: 'batch'; operations: readonly Operation[] };

/** An operation that cannot be carried out on this document. */
export class OperationError extends Error {
  override name = 'OperationError';
}

type Keyed = Record<string, unknown>;

const clone = <T>(json: T): T => (json === undefined ? json : (JSON.parse(JSON.stringify(json)) as T));

function positionOf(train: Train, id: string): number {
  const index = train.elements.findIndex((element) => element.id === id);
  if (index < 0) throw new OperationError(`No element “${id}” in this train; it may have been removed meanwhile`);
  return index;
}

const placeOf = (train: Train, before: string | null): number =>
  before === null ? train.elements.length : positionOf(train, before);

/** Copy of `node` with the value at `path` replaced, or its key dropped when `to` is undefined. */
function withValue(node: Keyed, [key, ...rest]: readonly [string, ...string[]], to: unknown): Keyed {
  const [next, ...further] = rest;
  if (next !== undefined) {
    const inner = Object.hasOwn(node, key) ? node[key] : undefined;
    if (inner === undefined && to === undefined) return node;
    if (inner !== undefined && !isRecord(inner)) {
      throw new OperationError(`“${key}” has no keys of its own, so “${next}” cannot be set`);
    }
    const changed = withValue(inner ?? {}, [next, ...further], to);
    return withValue(node, [key], Object.keys(changed).length === 0 ? undefined : changed);
  }
  if (key === '__proto__') throw new OperationError('“__proto__” is not a key of a document');
  if (to !== undefined) return { ...node, [key]: clone(to) };
  const { [key]: _dropped, ...kept } = node;
  return kept;
}

function setIn(train: Train, at: string, path: readonly [string, ...string[]], to: unknown): Train {
  // What comes back may break the schema: callers that face a person validate it before they keep it.
  if (at === TRAIN) return withValue({ ...train }, path, to) as unknown as Train;
  if (at === HOST) return { ...train, host: withValue({ ...train.host }, path, to) as unknown as Train['host'] };
  const index = positionOf(train, at);
  return { ...train, elements: train.elements.with(index, changedElement(train.elements[index]!, path, to)) };
}

/** An element with one of its keys set, or cleared where `to` is undefined; not validated. */
export const changedElement = <E extends Element>(element: E, path: readonly [string, ...string[]], to: unknown): E =>
  withValue({ ...element }, path, to) as unknown as E;

/**
 * Carries out an operation.
 *
 * @returns a new document that shares what did not change; `train` itself is left alone
 * @throws OperationError when an id is missing or already taken
 */
export function apply(train: Train, operation: Operation): Train {
  switch (operation.op) {
    case 'insert': {
      if (findElement(train, operation.element.id)) {
        throw new OperationError(`“${operation.element.id}” is already the id of an element of this train`);
      }
      const at = placeOf(train, operation.before);
      return { ...train, elements: train.elements.toSpliced(at, 0, clone(operation.element)) };
    }
    case 'remove':
      return { ...train, elements: train.elements.toSpliced(positionOf(train, operation.id), 1) };
    case 'move': {
      const moved = train.elements[positionOf(train, operation.id)]!;
      if (operation.before === operation.id) return train;
      const without = apply(train, { op: 'remove', id: operation.id });
      return { ...without, elements: without.elements.toSpliced(placeOf(without, operation.before), 0, moved) };
    }
    case 'replace': {
      const index = positionOf(train, operation.id);
      const taken = operation.element.id !== operation.id && findElement(train, operation.element.id);
      if (taken) throw new OperationError(`“${operation.element.id}” is already the id of an element of this train`);
      return { ...train, elements: train.elements.with(index, clone(operation.element)) };
    }
    case 'set':
      return setIn(train, operation.at, operation.path, operation.to);
    case 'batch':
      return operation.operations.reduce(apply, train);
  }
}

const after = (train: Train, index: number): string | null => train.elements[index + 1]?.id ?? null;

/** The object a `set` changes: an element, the host or the train. */
function targetOf(train: Train, at: string): Keyed {
  const target: object = at === TRAIN ? train : at === HOST ? train.host : train.elements[positionOf(train, at)]!;
  return target as Keyed;
}

/**
 * The operation that undoes `operation` on `train`: apply(apply(t, o), inverse(t, o)) equals t.
 *
 * @param train the document before the operation
 * @throws OperationError when the operation cannot be carried out on `train`
 */
export function inverse(train: Train, operation: Operation): Operation {
  switch (operation.op) {
    case 'insert':
      return { op: 'remove', id: operation.element.id };
    case 'remove': {
      const index = positionOf(train, operation.id);
      return { op: 'insert', element: train.elements[index]!, before: after(train, index) };
    }
    case 'move':
      return { op: 'move', id: operation.id, before: after(train, positionOf(train, operation.id)) };
    case 'replace':
      return {
        op: 'replace',
        id: operation.element.id,
        element: train.elements[positionOf(train, operation.id)]!
      };
    case 'set': {
      // Only the key itself, so that what others have set beside it since is left alone.
      const { at, path } = operation;
      let node: Keyed = targetOf(train, at);
      for (const [depth, key] of path.entries()) {
        const value = Object.hasOwn(node, key) ? node[key] : undefined;
        // What is empty, or not there, is put back as that: setting inside it made or filled it.
        if (!isRecord(value) || depth === path.length - 1 || Object.keys(value).length === 0) {
          return {
            op: 'set',
            at,
            path: value === undefined ? path : [path[0], ...path.slice(1, depth + 1)],
            to: value
          };
        }
        node = value;
      }
      return operation;
    }
    case 'batch': {
      const inverses: Operation[] = [];
      let current = train;
      for (const each of operation.operations) {
        inverses.unshift(inverse(current, each));
        current = apply(current, each);
      }
      return { op: 'batch', operations: inverses };
    }
  }
}
