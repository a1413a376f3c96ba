import type { Train } from '@lodestone/core';
import type { Part } from '@lodestone/core/drawer';
import { filledTrain } from '@lodestone/core/finder';
import { startFinder } from '$lib/workers/startFinder.ts';
import type { FinderWorker } from '$lib/workers/finder.worker.ts';
import { proxy, wrap } from 'comlink';

/** Whether the open places of a train can be filled. */
export interface Filling {
  can: boolean;
  say: string;
  /** The train as the best stack closes it. */
  filled?: Train;
}

const MOST_PIECES = 6;

/** Asks the finder whether a train with open places can be closed, and with what. @returns what ends the search too */
export function fillingOf(train: Train, parts: readonly Part[]): { answer: Promise<Filling>; stop: () => void } {
  const worker = startFinder();
  const finder = wrap<FinderWorker>(worker);
  const task = {
    train,
    parts,
    prefer: 'fewest' as const,
    maxPieces: MOST_PIECES,
    cornerLight: undefined,
    withShop: false,
    pinned: [],
    forbidden: [],
    tied: []
  };
  const answer = finder
    .find(
      task,
      proxy(() => undefined)
    )
    .then(({ result, advice }): Filling => {
      const [best] = result.solutions;
      if (!best?.inTolerance) {
        const [first] = advice;
        return {
          can: false,
          say: first ? `no stack of the drawer closes it. ${first.message}` : 'no stack of the drawer closes it'
        };
      }
      const partIds = best.gaps.flatMap(({ placed }) => placed.map(({ part }) => part.partId));
      const bought = best.buys > 0 ? `, ${best.buys} of them to buy` : '';
      return {
        can: true,
        say: `with ${partIds.join(', ') || 'nothing more'}${bought}`,
        filled: filledTrain(train, best)
      };
    })
    .finally(() => worker.terminate());
  return { answer, stop: () => worker.terminate() };
}
