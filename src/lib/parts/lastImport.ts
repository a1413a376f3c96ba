import type { Part } from '@lodestone/core/drawer';
import { browserStore, type KeptStore } from '$lib/sync/store.ts';
import { sameParts } from './rules.ts';

/** What a file changed in the drawer: it can be taken back after the page was loaded anew. */
export interface LastImport {
  fileName: string;
  /** ms since the epoch. */
  at: number;
  /** Each part as it was, and as the file made it. */
  changes: readonly { before: Part | undefined; after: Part }[];
}

const SCOPE = 'last-import';
const SESSION = 'drawer';

export async function readLastImport(store: KeptStore = browserStore): Promise<LastImport | undefined> {
  const kept = await store.get(SCOPE, SESSION);
  return kept?.base as LastImport | undefined;
}

export const keepLastImport = (last: LastImport, store: KeptStore = browserStore): Promise<void> =>
  store.put({ scope: SCOPE, session: SESSION, base: last, waiting: [], aside: [], changedAt: last.at });

export const forgetLastImport = (store: KeptStore = browserStore): Promise<void> => store.drop(SCOPE, SESSION);

/** What takes an import back: parts that were changed since it are left as they are. */
export function takingBack(
  { changes }: LastImport,
  now: (partId: string) => Part | undefined
): { put: Part[]; remove: string[]; left: string[] } {
  const result: { put: Part[]; remove: string[]; left: string[] } = { put: [], remove: [], left: [] };
  for (const { before, after } of changes) {
    if (!sameParts(now(after.partId), after)) result.left.push(after.partId);
    else if (before) result.put.push(before);
    else result.remove.push(after.partId);
  }
  return result;
}
