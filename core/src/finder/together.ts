import type { Train } from '../train/model.ts';
import { findStacks, type FindOptions, type Solution } from './find.ts';

/** What several trains are to have of each other. */
export type Sharing =
  /** No copy stands in two trains: all of them can stand assembled at once. */
  | 'apart'
  /** One train is changed over into the next: as many parts as can stay the same. */
  | 'changeover';

export interface Together {
  /** One stack a train, in their order. */
  stacks: Solution[];
  /** Parts that have to be moved for a change from each train to the next, all changes together. */
  moves: number;
  pieces: number;
}

export interface TogetherResult {
  /** The best way to give every train its stack; undefined where none was found. */
  best: Together | undefined;
  /** Every stack inside the tolerance of every train was weighed. */
  exhausted: boolean;
}

/** Stacks looked at for each train. */
const STACKS_EACH = 120;

const partsOf = ({ gaps }: Solution): Map<string, number> => {
  const counts = new Map<string, number>();
  for (const { part } of gaps.flatMap(({ placed }) => placed))
    counts.set(part.partId, (counts.get(part.partId) ?? 0) + 1);
  return counts;
};

/** Parts of one stack that are not in the other. */
function movesBetween(a: ReadonlyMap<string, number>, b: ReadonlyMap<string, number>): number {
  let moves = 0;
  for (const part of new Set([...a.keys(), ...b.keys()])) moves += Math.abs((a.get(part) ?? 0) - (b.get(part) ?? 0));
  return moves;
}

/**
 * Chooses a stack for each of several trains that share one drawer, each inside its tolerance: so that no copy is
 * wanted twice, or so that a change from one to the next moves the fewest parts. Of equals the fewest pieces.
 *
 * @param trains two or three valid documents with gaps
 */
export function findTogether(trains: readonly Train[], options: FindOptions, sharing: Sharing): TogetherResult {
  const results = trains.map((train) => findStacks(train, { ...options, prefer: 'fewest', limit: STACKS_EACH }));
  const choices = results.map(({ solutions }) => solutions.map((stack) => ({ stack, parts: partsOf(stack) })));
  const quantity = new Map(
    options.parts.map((part) => [part.partId, part.quantity - (options.tied?.get(part.partId) ?? 0)])
  );
  const exhausted = results.every((result) => result.exhausted && result.solutions.length < STACKS_EACH);
  let best: Together | undefined;
  const better = (made: Together): boolean =>
    !best ||
    (sharing === 'changeover' && made.moves !== best.moves ? made.moves < best.moves : made.pieces < best.pieces);

  const choose = (
    at: number,
    chosen: { stack: Solution; parts: Map<string, number> }[],
    used: Map<string, number>
  ): void => {
    const pieces = chosen.reduce((sum, { stack }) => sum + stack.pieces, 0);
    const moves = chosen.slice(1).reduce((sum, { parts }, index) => sum + movesBetween(chosen[index]!.parts, parts), 0);
    if (best && (sharing === 'changeover' ? moves > best.moves : pieces >= best.pieces)) return;
    if (at === choices.length) {
      const made = { stacks: chosen.map(({ stack }) => stack), moves, pieces };
      if (better(made)) best = made;
      return;
    }
    for (const choice of choices[at]!) {
      if (sharing === 'apart') {
        const after = new Map(used);
        let short = false;
        for (const [part, count] of choice.parts) {
          const total = (after.get(part) ?? 0) + count;
          if (total > (quantity.get(part) ?? 0)) short = true;
          after.set(part, total);
        }
        if (!short) choose(at + 1, [...chosen, choice], after);
      } else choose(at + 1, [...chosen, choice], used);
    }
  };
  choose(0, [], new Map());
  return { best, exhausted };
}
