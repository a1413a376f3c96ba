import { HOST, type Element, type Train } from './model.ts';
import { apply, TRAIN, type Operation } from './operations.ts';
import { differingKeys, sameJson } from './sameJson.ts';

type Keyed = Readonly<Record<string, unknown>>;

/** Sets and clears the keys of one object that are otherwise in another. */
const keysToward = (at: string, from: Keyed, to: Keyed, but?: ReadonlySet<string>): Operation[] =>
  differingKeys(from, to, but).map((key) => ({ op: 'set', at, path: [key], to: to[key] }));

const OTHERWISE = new Set(['elements', 'host', 'lodestone']);

/**
 * The operation that makes one train of another: only what differs is touched, so that it can be taken back, and goes
 * together with what others change elsewhere.
 *
 * @returns an operation with apply(from, it) equal to `to`; a batch of nothing where they are equal
 */
export function operationToward(from: Train, to: Train): Operation {
  const operations: Operation[] = [
    ...keysToward(TRAIN, from as unknown as Keyed, to as unknown as Keyed, OTHERWISE),
    ...keysToward(HOST, from.host as unknown as Keyed, to.host as unknown as Keyed)
  ];
  const wanted = new Map(to.elements.map((element) => [element.id, element]));
  for (const { id } of from.elements) if (!wanted.has(id)) operations.push({ op: 'remove', id });
  let current = operations.reduce(apply, from);
  const carryOut = (operation: Operation): void => {
    operations.push(operation);
    current = apply(current, operation);
  };
  // From the camera on: what an element stands before is in its place then.
  to.elements.toReversed().forEach((element, index, all) => {
    const before = all[index - 1]?.id ?? null;
    const at = current.elements.findIndex(({ id }) => id === element.id);
    const there: Element | undefined = current.elements[at];
    if (!there) return carryOut({ op: 'insert', element, before });
    if (!sameJson(there, element)) carryOut({ op: 'replace', id: element.id, element });
    if ((current.elements[at + 1]?.id ?? null) !== before) carryOut({ op: 'move', id: element.id, before });
  });
  return { op: 'batch', operations };
}
