import type { LengthUnit } from '@lodestone/core/why';
import type { Train } from '@lodestone/core/train';
import type { Part } from '@lodestone/core/drawer';
import {
  adviseOn,
  findStacks,
  findTogether,
  otherOrders,
  suggest,
  type Advice,
  type FindOptions,
  type FindResult,
  type Preference,
  type Sharing,
  type Solution,
  type Suggestion,
  type TogetherResult
} from '@lodestone/core/finder';
import { nextTry, type NextTry } from '@lodestone/core/experiment';
import { expose } from 'comlink';

/** What is asked of the finder, as it can be sent to a worker. */
export interface FinderTask {
  train: Train;
  parts: readonly Part[];
  prefer: Preference;
  maxPieces: number;
  /** Share of the light the corners are to get; as the train says where undefined. */
  cornerLight: number | undefined;
  /** Unit that what is said is in. */
  unit: LengthUnit;
  /** Parts that would have to be bought may be used, even where owned ones do. */
  withShop: boolean;
  pinned: readonly string[];
  forbidden: readonly string[];
  tied: readonly (readonly [string, number])[];
}

export interface FinderReport {
  /** Share of the numbers of pieces that are done. */
  share: number;
  pieces: number;
  best: Solution | undefined;
}

export interface FinderAnswer {
  result: FindResult;
  advice: Advice[];
}

const LIMIT = 20;
const TELL_EVERY_MS = 80;

const optionsOf = ({
  prefer,
  maxPieces,
  cornerLight,
  unit,
  pinned,
  forbidden,
  tied
}: FinderTask): Omit<FindOptions, 'parts'> => ({
  prefer,
  maxPieces,
  cornerLight,
  unit,
  limit: LIMIT,
  pinned,
  forbidden: new Set(forbidden),
  tied: new Map(tied)
});

/** The finder away from the page, which goes on answering; it is stopped by ending the worker. */
const finder = {
  find(task: FinderTask, tell: (report: FinderReport) => void): FinderAnswer {
    const { train, withShop } = task;
    let told = 0;
    const owned = task.parts.filter((part) => part.owned);
    const options = { ...optionsOf(task), parts: withShop ? task.parts : owned };
    const search = (parts: readonly Part[], prefer = task.prefer): FindResult =>
      findStacks(train, {
        ...options,
        parts,
        prefer,
        onProgress: ({ pieces, most, share, best }) => {
          const now = performance.now();
          if (now - told > TELL_EVERY_MS) {
            told = now;
            tell({ share: (pieces + share) / (most + 1), pieces, best });
          }
          return true;
        }
      });
    let result = search(options.parts);
    // What is owned does not do: then what could be bought is looked at unasked.
    if (!withShop && owned.length < task.parts.length && !result.solutions.some(({ inTolerance }) => inTolerance)) {
      const bought = search(task.parts);
      if (bought.solutions.some(({ inTolerance }) => inTolerance)) result = bought;
    }
    // Where nothing is within tolerance the nearest misses say by how much.
    if (task.prefer === 'fewest' && result.solutions.length === 0) {
      result = search(options.parts, 'closest');
    }
    return { result, advice: adviseOn(train, options, result) };
  },

  /** The easiest single step that brings a train inside its tolerance. */
  suggest(task: FinderTask): Suggestion | undefined {
    const { train } = task;
    const search = (parts: readonly Part[]) => suggest(train, { ...optionsOf(task), parts });
    const owned = task.parts.filter((part) => part.owned);
    return task.withShop ? search(task.parts) : (search(owned) ?? search(task.parts));
  },

  /** The change of rings that gives a train another spacing, out of what is owned, else with what would have to be bought. */
  nextTry(task: FinderTask, spacingMm: number): NextTry | undefined {
    const { train } = task;
    const owned = task.parts.filter((part) => part.owned);
    return (
      nextTry(train, spacingMm, { ...optionsOf(task), parts: owned }) ??
      nextTry(train, spacingMm, { ...optionsOf(task), parts: task.parts })
    );
  },

  /** Orders of a stack's parts that are just as good. */
  orders(train: Train, solution: Solution): Solution[] {
    return otherOrders(train, solution);
  },

  /** Stacks for this train and others, from one drawer. */
  together(
    { train, maxPieces, forbidden, tied, withShop, parts, unit }: FinderTask,
    others: readonly Train[],
    sharing: Sharing,
    tell: (share: number) => void
  ): TogetherResult {
    let told = 0;
    const search = (from: readonly Part[]): TogetherResult =>
      findTogether(
        [train, ...others],
        {
          parts: from,
          unit,
          maxPieces,
          forbidden: new Set(forbidden),
          tied: new Map(tied),
          onProgress: ({ train: at, of, share }) => {
            const now = performance.now();
            if (now - told < TELL_EVERY_MS) return;
            told = now;
            tell((at + share) / of);
          }
        },
        sharing
      );
    const owned = parts.filter((part) => part.owned);
    if (withShop) return search(parts);
    const found = search(owned);
    return found.best || owned.length === parts.length ? found : search(parts);
  }
};

export type FinderWorker = typeof finder;
expose(finder);
