import {
  purchasesFor,
  reachOf,
  type Purchase,
  type ReachAsked,
  type Reached,
  type RingStock
} from '@lodestone/core/drawer';
import { expose } from 'comlink';

export interface ReachTask {
  owned: readonly RingStock[];
  toBuy: readonly RingStock[];
  asked: ReachAsked;
}

export interface ReachAnswer {
  lengths: Reached[];
  purchases: Purchase[];
}

/** What rings make, and what would fill the rest, away from the page, which goes on answering. */
const reach = {
  look: ({ owned, toBuy, asked }: ReachTask): ReachAnswer => ({
    lengths: reachOf(owned, asked),
    purchases: purchasesFor(owned, toBuy, asked)
  })
};

export type ReachWorker = typeof reach;
expose(reach);
