import { randomUUID } from 'node:crypto';
import { Facts, complaintLine, readTrain, type Reading, type Train } from '@lodestone/core';
import { NO_FAULTS } from '@lodestone/core/experiment';
import { readDrawer } from '@lodestone/core/drawer';
import { changeDrawer } from './drawer.ts';
import { readFrameFile, takeFrame } from './errands/index.ts';
import { withPath, writtenFile } from './scratch.ts';
import { storeFrame } from './frames.ts';
import { LOCAL_OWNER } from './owner.ts';
import { hasParts } from './parts.ts';
import { createTrain, hasTrains } from './trains.ts';

const files = import.meta.glob<{ lodestone: string }>('/demo/*.json', { import: 'default', eager: true });

const taggedAs = (tag: string) => Object.entries(files).filter(([, { lodestone }]) => lodestone === tag);

function valid<T>(path: string, reading: Reading<T>): T {
  if (!reading.ok) throw new Error(`${path}: ${reading.complaints.map(complaintLine).join('; ')}`);
  return reading.document;
}

/** A train of the demo as it was stored. */
export interface DemoTrain {
  id: string;
  document: Train;
}

/** Puts the demo trains into a database that has never held a train. Heron comes last, so it stands first. */
async function loadTrains(): Promise<DemoTrain[]> {
  if (await hasTrains(LOCAL_OWNER)) return [];
  const documents = taggedAs('train/1')
    .sort(([a], [b]) => Number(a.includes('heron')) - Number(b.includes('heron')))
    .map(([path, file]) => valid(path, readTrain(file)));
  const stored: DemoTrain[] = [];
  for (const document of documents) {
    const outcome = await createTrain(LOCAL_OWNER, randomUUID(), document);
    if (outcome.kind === 'stored') stored.push({ id: outcome.train.id, document });
  }
  return stored;
}

/** Four by four pixels read as one, and seeing of two of them: quick to take, fine enough to measure. */
const BINNING = 4;
const SEEING_PX = 2 * BINNING;
/** Of its corrector: one whose glass is well centred. */
const UNIT = 2200;

/**
 * Takes the frames of a demo train's experiments with the simulated camera: each at its spacing, off from the tuned one
 * by as much as it was then.
 *
 * @returns how many
 */
export async function photographExperiments(owner: string, { id, document }: DemoTrain): Promise<number> {
  const { residualMm, required } = new Facts(document).ledger;
  const { tunedMm } = required;
  if (tunedMm === null || residualMm === null) return 0;
  let taken = 0;
  for (const [index, { frame, spacingMm, radial }] of (document.tuning?.experiments ?? []).entries()) {
    if (frame === undefined || !radial) continue;
    const truth = {
      ...NO_FAULTS,
      wantsMm: residualMm - (spacingMm - tunedMm),
      sense: -1 as const,
      // The same way from the middle to the corners at each spacing: stretch goes straight with it then.
      curvatureUmPerMm: 0,
      seeingPx: SEEING_PX,
      unit: UNIT
    };
    const stored = await withPath(async (path) => {
      await takeFrame({ train: document, truth, seed: index + 1, binning: BINNING }, path);
      return storeFrame(owner, id, frame, await writtenFile(path), await readFrameFile(path));
    });
    if (stored) taken++;
  }
  return taken;
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
export async function loadDemo(): Promise<{ trains: readonly DemoTrain[]; parts: number }> {
  return { trains: await loadTrains(), parts: await loadDrawer() };
}
