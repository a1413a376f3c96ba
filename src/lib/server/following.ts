import { randomUUID } from 'node:crypto';
import { partIdsOf, readTrain, sameJson, type Train } from '@lodestone/core/train';
import { refreshedPart, type Part } from '@lodestone/core/drawer';
import type { StoredTrain } from '$lib/api/trains.ts';
import type { Queryable } from './database.ts';
import { readablePart, selectParts } from './parts.ts';
import { insertRevision } from './revisions.ts';

/** Number of the drawer's newest state; 0 before there was any. */
export async function drawerNumber(owner: string, on: Queryable): Promise<number> {
  const { rows } = await on.query<{ number: string }>('select number from drawer_state where owner = $1', [owner]);
  return Number(rows[0]?.number ?? 0);
}

/** Counts one more state of the drawer, which everybody who follows it is told. @returns its number */
export async function nextDrawerNumber(owner: string, on: Queryable): Promise<number> {
  const { rows } = await on.query<{ number: string }>(
    `insert into drawer_state (owner, number) values ($1, 1)
     on conflict (owner) do update set number = drawer_state.number + 1
     returning number`,
    [owner]
  );
  return Number(rows[0]!.number);
}

/** Which parts of the drawer are caught up with: those that changed after a state, or those named. */
export type Changed = { since: number } | { parts: readonly Part[] };

/**
 * Writes new heads for planned trains whose parts have changed in the drawer. The caller has locked the trains, and
 * keeps the drawer from changing. A train that the change would make invalid stays as it is.
 *
 * @returns the trains that got a new revision, as they are now
 */
export async function followDrawer(
  owner: string,
  trains: readonly StoredTrain[],
  changed: Changed,
  on: Queryable
): Promise<StoredTrain[]> {
  let parts: readonly Part[];
  if ('parts' in changed) ({ parts } = changed);
  else {
    const named = [...new Set(trains.flatMap(({ document }) => document.elements.flatMap(partIdsOf)))];
    if (named.length === 0) return [];
    parts = (await selectParts(owner, { partIds: named, changedAfter: changed.since }, on)).flatMap(readablePart);
  }
  const byId = new Map(parts.map((part) => [part.partId, part]));
  const followed: StoredTrain[] = [];
  for (const train of trains) {
    const document: Train = {
      ...train.document,
      elements: train.document.elements.map((element) => {
        const part = 'partId' in element && element.partId !== undefined ? byId.get(element.partId) : undefined;
        return part ? refreshedPart(element, part) : element;
      })
    };
    const reading = readTrain(document);
    if (!reading.ok || sameJson(reading.document, train.document)) continue;
    const next = { number: train.revision.number + 1, saveId: randomUUID(), document: reading.document };
    const revision = await insertRevision(owner, train.id, next, on);
    followed.push({ ...train, revision, document: reading.document });
  }
  return followed;
}
