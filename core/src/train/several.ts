import type { Train } from './model.ts';
import { apply, type Operation } from './operations.ts';

const together = (operations: readonly Operation[]): Operation | undefined =>
  operations.length === 1 ? operations[0] : operations.length > 1 ? { op: 'batch', operations } : undefined;

/**
 * Moves elements one place toward the sky (−1) or the camera (1), each past the neighbour that is not moved itself.
 *
 * @returns undefined where all of them stand at the end already
 */
export function shiftOf(train: Train, ids: readonly string[], by: -1 | 1): Operation | undefined {
  const operations: Operation[] = [];
  let { elements } = train;
  const own = elements.filter(({ id }) => ids.includes(id));
  for (const { id } of by < 0 ? own : own.toReversed()) {
    const index = elements.findIndex((element) => element.id === id);
    const neighbour = elements[index + by];
    // Those before it had no room: neither has it.
    if (!neighbour || ids.includes(neighbour.id)) continue;
    const move = { op: 'move', id, before: by < 0 ? neighbour.id : (elements[index + 2]?.id ?? null) } as const;
    operations.push(move);
    ({ elements } = apply({ ...train, elements }, move));
  }
  return together(operations);
}

/** Takes elements out. @returns undefined where none of them is in the train */
export const removalOf = ({ elements }: Train, ids: readonly string[]): Operation | undefined =>
  together(elements.filter(({ id }) => ids.includes(id)).map(({ id }) => ({ op: 'remove', id })));
