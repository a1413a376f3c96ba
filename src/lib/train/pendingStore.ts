import type { Operation, Train } from '@lodestone/core';
import { isTabGone } from '$lib/ui/tabs.ts';
import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import type { Save } from './transport.ts';

/** What one tab has not yet saved of one train. */
export interface Pending {
  trainId: string;
  tabId: string;
  basedOn: number;
  document: Train;
  /** What was done since revision `basedOn`, to be done again on a newer one. */
  operations: readonly Operation[];
  /** How many of them the save in flight carries. */
  sentOperations: number;
  /** A save whose reply has not come; it must be sent again as it was. */
  inFlight?: Save;
  /** ms since the epoch. */
  changedAt: number;
}

interface Schema extends DBSchema {
  pending: { key: [string, string]; value: Pending; indexes: { trainId: string } };
}

const DATABASE = 'lodestone';
let opened: Promise<IDBPDatabase<Schema>> | undefined;

const open = (): Promise<IDBPDatabase<Schema>> =>
  (opened ??= openDB<Schema>(DATABASE, 1, {
    upgrade: (database) => {
      database.createObjectStore('pending', { keyPath: ['trainId', 'tabId'] }).createIndex('trainId', 'trainId');
    }
  }));

/** Unsaved work in the browser's own database; it outlives the tab and the server. */
export const pendingStore = {
  put: async (pending: Pending): Promise<void> => void (await (await open()).put('pending', pending)),
  drop: async (trainId: string, tabId: string): Promise<void> => (await open()).delete('pending', [trainId, tabId]),
  list: async (trainId: string): Promise<Pending[]> => (await open()).getAllFromIndex('pending', 'trainId', trainId)
};

export type PendingStore = typeof pendingStore;

/** The newest unsaved work on a train whose tab is gone. */
export async function findOrphan(trainId: string): Promise<Pending | undefined> {
  const left = (await pendingStore.list(trainId)).sort((a, b) => b.changedAt - a.changedAt);
  for (const pending of left) if (await isTabGone(pending.tabId)) return pending;
  return undefined;
}
