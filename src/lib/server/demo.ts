import { createHash, randomUUID } from 'node:crypto';
import { Facts } from '@lodestone/core/check';
import { complaintLine, readTrain, type Reading, type Train } from '@lodestone/core/train';
import { NO_FAULTS } from '@lodestone/core/experiment';
import { readDrawer } from '@lodestone/core/drawer';
import { asOwner, readAs } from './database.ts';
import { changeDrawer } from './drawer.ts';
import { readFrameFile, takeFrame } from './errands/index.ts';
import { withPath, writtenFile } from './scratch.ts';
import { storeFrame } from './frames.ts';
import { LOCAL_OWNER } from './owner.ts';
import { hasParts } from './parts.ts';
import { findSave } from './revisions.ts';
import { hasTrains, insertTrain } from './trains.ts';

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

const FRAMES_DUE = 'demo frames';

/** The id a file of the demo is stored under: the same at every start, so that what it made is found again. */
function saveIdOf(path: string): string {
  const hex = createHash('sha256').update(`demo ${path}`).digest('hex');
  return [hex.slice(0, 8), hex.slice(8, 12), hex.slice(12, 16), hex.slice(16, 20), hex.slice(20, 32)].join('-');
}

/**
 * Puts the demo trains into a database that has never held a train: all of them, or none. Heron comes last, so it stands
 * first; their frames are due from then on.
 *
 * @returns how many
 */
function loadTrains(): Promise<number> {
  const files = taggedAs('train/1').sort(([a], [b]) => Number(a.includes('heron')) - Number(b.includes('heron')));
  return asOwner(LOCAL_OWNER, async (on) => {
    // Once for all: of two servers that start together one waits here, and finds it done.
    const offered = await on.query(
      `insert into setting (owner, demo_at) values ($1, now())
       on conflict (owner) do update set demo_at = excluded.demo_at where setting.demo_at is null
       returning owner`,
      [LOCAL_OWNER]
    );
    if (offered.rowCount === 0 || (await hasTrains(LOCAL_OWNER, on))) return 0;
    for (const [path, file] of files) {
      await insertTrain(LOCAL_OWNER, { saveId: saveIdOf(path), document: valid(path, readTrain(file)) }, on);
    }
    await on.query('insert into due (owner, what) values ($1, $2) on conflict do nothing', [LOCAL_OWNER, FRAMES_DUE]);
    return files.length;
  });
}

/** Takes the frames of the demo's trains, where that is due still. */
export async function photographDemo(): Promise<void> {
  const due = await readAs(LOCAL_OWNER, (on) =>
    on.query('select from due where owner = $1 and what = $2', [LOCAL_OWNER, FRAMES_DUE])
  );
  if (due.rowCount === 0) return;
  for (const [path, file] of taggedAs('train/1')) {
    const stored = await readAs(LOCAL_OWNER, (on) => findSave(LOCAL_OWNER, saveIdOf(path), on));
    if (stored) await photographExperiments(LOCAL_OWNER, { id: stored.id, document: valid(path, readTrain(file)) });
  }
  await asOwner(LOCAL_OWNER, (on) =>
    on.query('delete from due where owner = $1 and what = $2', [LOCAL_OWNER, FRAMES_DUE])
  );
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

/** Loads what the database has never held of the demo. @returns how many of each */
export async function loadDemo(): Promise<{ trains: number; parts: number }> {
  return { trains: await loadTrains(), parts: await loadDrawer() };
}
