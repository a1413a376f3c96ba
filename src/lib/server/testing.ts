// What the tests of the server stand on: a database, owners of their own, a train and a ring.
import { randomUUID } from 'node:crypto';
import { readTrain, type Train } from '@lodestone/core';
import type { Part } from '@lodestone/core/drawer';
import heronFile from '../../../demo/heron.json';

function databaseUrl(): string {
  const url = process.env.LODESTONE_MIGRATE_URL;
  if (!url) throw new Error('There is no database to test on: run these with “npm test -- server”');
  return url;
}

/** Connection string of the role that owns the tables. */
export const ownerUrl = databaseUrl();

function demoTrain(): Train {
  const reading = readTrain(heronFile);
  if (!reading.ok) throw new Error('the demo must be a train');
  return reading.document;
}

export const heron = demoTrain();

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
