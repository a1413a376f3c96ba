import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import type { SentChange } from './transport.ts';

/** Parts by number as documents; null: not there. */
export type KeptSnapshot = [partId: string, document: Record<string, unknown> | null][];

/** A change that no reply has come for. */
export interface KeptChange {
  changeId: string;
  label: string;
  before: KeptSnapshot;
  after: KeptSnapshot;
  /** As it was sent: it is sent again letter by letter. */
  sent?: SentChange;
}

/** What one tab has not yet sent of the drawer. */
export interface Unsent {
  tabId: string;
  /** Versions of the parts that the changes were made from; null: not there. */
  bases: [partId: string, version: number | null][];
  changes: KeptChange[];
  /** ms since the epoch. */
  changedAt: number;
}

interface Schema extends DBSchema {
  unsent: { key: string; value: Unsent };
}

let opened: Promise<IDBPDatabase<Schema>> | undefined;

const open = (): Promise<IDBPDatabase<Schema>> =>
  (opened ??= openDB<Schema>('lodestone-drawer', 1, {
    upgrade: (database) => void database.createObjectStore('unsent', { keyPath: 'tabId' })
  }));

/** Unsent changes in the browser's own database; they outlive the tab and the server. */
export const unsentStore = {
  put: async (unsent: Unsent): Promise<void> => void (await (await open()).put('unsent', unsent)),
  drop: async (tabId: string): Promise<void> => (await open()).delete('unsent', tabId),
  list: async (): Promise<Unsent[]> => (await open()).getAll('unsent')
};

export type UnsentStore = typeof unsentStore;
