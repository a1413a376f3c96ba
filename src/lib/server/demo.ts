import { randomUUID } from 'node:crypto';
import { complaintLine, readTrain } from '@lodestone/core';
import { LOCAL_OWNER, createTrain, hasTrains } from './trains.ts';

const files = import.meta.glob<unknown>('/demo/*.json', { import: 'default', eager: true });

/** Puts the demo trains into a database that has never held a train. Heron comes last, so it stands first. */
export async function loadDemo(): Promise<number> {
  if (await hasTrains(LOCAL_OWNER)) return 0;
  const documents = Object.keys(files)
    .sort((a, b) => Number(a.includes('heron')) - Number(b.includes('heron')))
    .map((path) => {
      const reading = readTrain(files[path]);
      if (!reading.ok) throw new Error(`${path}: ${reading.complaints.map(complaintLine).join('; ')}`);
      return reading.document;
    });
  for (const document of documents) await createTrain(LOCAL_OWNER, randomUUID(), document);
  return documents.length;
}
