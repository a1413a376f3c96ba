import { partToDocument, readPart, type Part } from '@lodestone/core/drawer';
import { isRecord } from '$lib/api/ask.ts';
import type { Outlet } from '$lib/sync/outbox.ts';
import { drawerRules, type DrawerChange, type DrawerState } from './rules.ts';
import {
  sendChange,
  type ChangeReply,
  type OwnedPart,
  type SentChange,
  type StaleParts,
  type StoredChange
} from './transport.ts';

/** What is kept of a part that a change was made from. */
interface KeptPart {
  partId: string;
  version: number;
  document: Record<string, unknown>;
}

const isKeptPart = (candidate: unknown): candidate is KeptPart =>
  isRecord(candidate) &&
  typeof candidate.partId === 'string' &&
  typeof candidate.version === 'number' &&
  isRecord(candidate.document);

const withOwned = (parts: ReadonlyMap<string, OwnedPart>, owned: readonly OwnedPart[], gone: readonly string[]) => {
  const made = new Map(parts);
  for (const each of owned) made.set(each.part.partId, each);
  for (const partId of gone) made.delete(partId);
  return made;
};

/** The drawer's way to the server: one change a request, all of it or nothing. */
export const drawerOutlet: Outlet<DrawerState, DrawerChange, SentChange, StoredChange, StaleParts> = {
  rules: drawerRules,
  most: 1,

  request([entry], { parts }) {
    const put: SentChange['put'] = [];
    const remove: SentChange['remove'] = [];
    for (const [partId, { after }] of entry?.change ?? []) {
      const version = parts.get(partId)?.version;
      if (after) put.push({ document: partToDocument(after), basedOn: version ?? null });
      else if (version !== undefined) remove.push({ partId, basedOn: version });
    }
    return { changeId: crypto.randomUUID(), put, remove };
  },

  send: (request): Promise<ChangeReply> => sendChange(request),

  afterStored: ({ parts, removed, number }, base) => ({
    // A number that is not the next one says that others have changed something in between, which is still to be read.
    number: number === base.number + 1 ? number : base.number,
    holds: Math.max(base.holds, number),
    parts: withOwned(base.parts, parts, removed)
  }),

  afterStale: ({ parts, missing, number }, base) => ({
    number: base.number,
    holds: Math.max(base.holds, number),
    parts: withOwned(base.parts, parts, missing)
  }),

  // One that was read before a reply, and comes after it, would take back what the reply has told.
  isNewer: (state, than) => state.number > than.number && state.number >= than.holds,

  keepBase: ({ parts }, entries) =>
    [...new Set(entries.flatMap(({ change }) => [...change.keys()]))].map((partId) => {
      const owned = parts.get(partId);
      return owned ? { partId, version: owned.version, document: partToDocument(owned.part) } : { partId };
    }),

  restoreBase(kept, now) {
    if (!Array.isArray(kept)) return undefined;
    const parts = new Map(now.parts);
    for (const each of kept as unknown[]) {
      if (!isRecord(each) || typeof each.partId !== 'string') return undefined;
      if (!isKeptPart(each)) {
        parts.delete(each.partId);
        continue;
      }
      const reading = readPart(each.document);
      if (!reading.ok) return undefined;
      const part: Part = reading.document;
      const there = now.parts.get(each.partId);
      parts.set(each.partId, { photo: null, changedAt: '', ...there, part, version: each.version });
    }
    // Older than what is there now, which is then taken in on top of it.
    return { number: -1, holds: -1, parts };
  }
};
