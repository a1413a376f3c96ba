import type { Train } from '@lodestone/core/train';
import type { LengthUnit } from '@lodestone/core/why';
import type { Part } from '@lodestone/core/drawer';
import { filledTrain } from '@lodestone/core/finder';
import { ask } from '$lib/workers/ask.ts';
import { startFinder } from '$lib/workers/start.ts';
import type { FinderAnswer, FinderWorker } from '$lib/workers/finder.worker.ts';
import { proxy } from 'comlink';

/** Whether the open places of a train can be filled. */
export interface Filling {
  can: boolean;
  say: string;
  /** The train as the best stack closes it. */
  filled?: Train;
}

const MOST_PIECES = 6;

/** Asks the finder whether a train with open places can be closed, and with what. @throws where it cannot be asked */
export async function fillingOf(
  train: Train,
  parts: readonly Part[],
  unit: LengthUnit,
  signal: AbortSignal
): Promise<Filling> {
  const task = {
    train,
    parts,
    unit,
    prefer: 'fewest' as const,
    maxPieces: MOST_PIECES,
    cornerLight: undefined,
    withShop: false,
    pinned: [],
    forbidden: [],
    tied: []
  };
  const { result, advice } = await ask<FinderWorker, FinderAnswer>(
    startFinder,
    (finder) =>
      finder.find(
        task,
        proxy(() => undefined)
      ),
    { signal }
  );
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
}
