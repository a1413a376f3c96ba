import { randomUUID } from 'node:crypto';
import { complaintLine, readTrain, type Reading } from '@lodestone/core';
import { readDrawer } from '@lodestone/core/drawer';
import { changeDrawer } from './drawer.ts';
import { LOCAL_OWNER } from './owner.ts';
import { hasParts } from './parts.ts';
import { createTrain, hasTrains } from './trains.ts';

const files = import.meta.glob<{ lodestone: string }>('/demo/*.json', { import: 'default', eager: true });

const taggedAs = (tag: string) => Object.entries(files).filter(([, { lodestone }]) => lodestone === tag);

function valid<T>(path: string, reading: Reading<T>): T {
  if (!reading.ok) throw new Error(`${path}: ${reading.complaints.map(complaintLine).join('; ')}`);
  return reading.document;
}

/** Puts the demo trains into a database that has never held a train. Heron comes last, so it stands first. */
async function loadTrains(): Promise<number> {
  if (await hasTrains(LOCAL_OWNER)) return 0;
  const documents = taggedAs('train/1')
    .sort(([a], [b]) => Number(a.includes('heron')) - Number(b.includes('heron')))
    .map(([path, file]) => valid(path, readTrain(file)));
  for (const document of documents) await createTrain(LOCAL_OWNER, randomUUID(), document);
  return documents.length;
}

/** Puts the demo drawer into a database that has never held a part. */
async function loadDrawer(): Promise<number> {
  if (await hasParts(LOCAL_OWNER)) return 0;
  const parts = taggedAs('drawer/1').flatMap(([path, file]) => valid(path, readDrawer(file)));
  await changeDrawer(LOCAL_OWNER, {
    changeId: randomUUID(),
    put: parts.map((part) => ({ part, basedOn: null })),
    remove: []
  });
  return parts.length;
}

/** Loads what the database has never held of the demo. */
export async function loadDemo(): Promise<{ trains: number; parts: number }> {
  return { trains: await loadTrains(), parts: await loadDrawer() };
}
