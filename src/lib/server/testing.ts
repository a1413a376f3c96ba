// What the tests of the server stand on: a database, owners of their own, a train and a ring.
import { randomUUID } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { Readable } from 'node:stream';
import pg from 'pg';
import { readTrain, type Train } from '@lodestone/core/train';
import type { Part } from '@lodestone/core/drawer';
import type { HiddenTruth } from '@lodestone/core/experiment';
import type { FrameSummary } from '@lodestone/core/frame';
import heronFile from '../../../demo/heron.json';
import { readFrameFile, takeFrame } from './errands/index.ts';
import { withPath, writeFile, type WrittenFile } from './scratch.ts';

function databaseUrl(name: string): string {
  const url = process.env[name];
  if (!url) throw new Error('There is no database to test on: run these with “npm test -- server”');
  return url;
}

/** Connection string of the role that owns the tables. */
export const ownerUrl = databaseUrl('LODESTONE_MIGRATE_URL');

/** Connection string of the administrator, who alone sees the rows of all owners. */
export const adminUrl = databaseUrl('LODESTONE_ADMIN_URL');

/** Does something as the administrator. */
export async function asAdmin(sql: string, values: unknown[] = [], url = adminUrl): Promise<pg.QueryResult> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    return await client.query(sql, values);
  } finally {
    await client.end();
  }
}

/** The same server and role, another database. */
export const named = (url: string, database: string): string =>
  Object.assign(new URL(url), { pathname: `/${database}` }).href;

function demoTrain(): Train {
  const reading = readTrain(heronFile);
  if (!reading.ok) throw new Error('the demo must be a train');
  return reading.document;
}

export const heron = demoTrain();

/** Bytes as a file that is there for the length of one piece of work. */
export const asFile = <T>(bytes: Uint8Array, work: (file: WrittenFile) => Promise<T>): Promise<T> =>
  withPath(async (path) => work(await writeFile(path, Readable.from([bytes]))));

/** What the frame in these bytes says. */
export const summaryOf = (bytes: Uint8Array): Promise<FrameSummary> => asFile(bytes, ({ path }) => readFrameFile(path));

/** A frame of the simulated camera. */
export const frameOf = (train: Train, truth: HiddenTruth, seed: number, binning: number): Promise<Buffer> =>
  withPath(async (path) => {
    await takeFrame({ train, truth, seed, binning }, path);
    return readFile(path);
  });

/** Each test has an owner of its own, so that none sees what another stored. */
export const owner = (): string => `owner-${randomUUID()}`;

export const ring = (partId: string, more: Partial<Part> = {}): Part => ({
  partId,
  element: { id: partId, kind: 'spacer', name: `Ring ${partId}`, lengthMm: 5 },
  quantity: 1,
  owned: true,
  location: 'Tin 1 / Bag A',
  state: 'spare',
  measurements: [],
  ...more
});
