import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import type { Aside, Entry } from './rules.ts';
import { whose } from './whose.ts';

/** What one session has not yet stored of one kind of work. */
export interface KeptSession<Change = unknown, Request = unknown> {
  /** What is kept: `drawer`, `train/…`. */
  scope: string;
  session: string;
  /** What the entries were made from, as far as they need it. */
  base: unknown;
  waiting: readonly Entry<Change>[];
  /** Changes somebody has still to decide on. */
  aside: readonly Aside<Change>[];
  /** What was sent without a reply so far: it is sent again as it was. */
  inFlight?: { count: number; request: Request };
  /** ms since the epoch. */
  changedAt: number;
}

/** Where unsaved work is kept; in the browser its own database. */
export interface KeptStore {
  put(kept: KeptSession): Promise<void>;
  drop(scope: string, session: string): Promise<void>;
  get(scope: string, session: string): Promise<KeptSession | undefined>;
  list(scope: string): Promise<KeptSession[]>;
}

interface Schema extends DBSchema {
  kept: { key: [string, string]; value: KeptSession; indexes: { scope: string } };
}

let opened: Promise<IDBPDatabase<Schema>> | undefined;

const open = (): Promise<IDBPDatabase<Schema>> => {
  opened ??= openDB<Schema>(whose('lodestone-work'), 1, {
    upgrade: (database) => {
      database.createObjectStore('kept', { keyPath: ['scope', 'session'] }).createIndex('scope', 'scope');
    },
    // The browser ended it, as when its storage is cleared: the next use opens it anew.
    terminated: () => (opened = undefined)
  });
  opened.catch(() => (opened = undefined));
  return opened;
};

/** Does something with the database; once more where the connection turns out to be closed, or its store gone. */
async function withDatabase<T>(work: (database: IDBPDatabase<Schema>) => Promise<T>): Promise<T> {
  try {
    return await work(await open());
  } catch (error) {
    if (!(error instanceof DOMException) || !['InvalidStateError', 'NotFoundError'].includes(error.name)) throw error;
    opened = undefined;
    return work(await open());
  }
}

/** Unsaved work in the browser's own database; it outlives the tab and the server. */
export const browserStore: KeptStore = {
  put: (kept) =>
    withDatabase(async (database) => {
      const writing = database.transaction('kept', 'readwrite');
      const put = writing.store.put(kept);
      // At once: a page that goes takes along what is still open.
      writing.commit();
      await Promise.all([put, writing.done]);
    }),
  drop: (scope, session) => withDatabase((database) => database.delete('kept', [scope, session])),
  get: (scope, session) => withDatabase((database) => database.get('kept', [scope, session])),
  list: (scope) => withDatabase((database) => database.getAllFromIndex('kept', 'scope', scope))
};
