import { complaintInWords } from '@lodestone/core/train';
import { readPart, type Part, type PartUse } from '@lodestone/core/drawer';
import { Unreachable, ask, isRecord, messageOf, sent, settled, type Reply } from '$lib/api/ask.ts';
import type { Assembly, AssemblyRefused, CaliperReading, HoldConflict, StoredPart } from '$lib/api/drawer.ts';

/** A part together with what only the server knows of it. */
export interface OwnedPart {
  part: Part;
  version: number;
  photo: string | null;
  changedAt: string;
}

/** A part that this version of the program cannot read: it is told of, and can be exported. */
export interface UnreadablePart {
  partId: string;
  message: string;
}

/** What the server hands over is checked too: another version of it may be running. */
function toOwned(stored: StoredPart): OwnedPart | UnreadablePart {
  const { document, version, photo, changedAt } = stored;
  const reading = readPart(document);
  if (reading.ok) return { part: reading.document, version, photo, changedAt };
  const [first] = reading.complaints;
  return { partId: String(document.partId), message: first ? complaintInWords(first) : 'is not a part' };
}

const isOwned = (each: OwnedPart | UnreadablePart): each is OwnedPart => 'part' in each;
const isUnreadable = (each: OwnedPart | UnreadablePart): each is UnreadablePart => !isOwned(each);

const isStored = (candidate: unknown): candidate is StoredPart =>
  isRecord(candidate) && isRecord(candidate.document) && typeof candidate.version === 'number';

function storedParts(candidate: unknown): StoredPart[] {
  if (Array.isArray(candidate) && candidate.every(isStored)) return candidate;
  throw new Unreachable('The server answered something that is not a drawer.');
}

/** Reading and storing a drawer of twenty thousand parts takes its time. */
const DRAWER_TIMEOUT_MS = 60_000;

export interface FetchedDrawer {
  number: number;
  parts: OwnedPart[];
  unreadable: UnreadablePart[];
  uses: PartUse[];
  retired: string[];
}

export async function fetchDrawer(): Promise<FetchedDrawer> {
  const answer = settled(await ask('GET', '/api/drawer', undefined, DRAWER_TIMEOUT_MS));
  if (!isRecord(answer) || typeof answer.number !== 'number' || !Array.isArray(answer.uses)) {
    throw new Unreachable('The server answered something that is not a drawer.');
  }
  const parts = storedParts(answer.parts).map(toOwned);
  return {
    number: answer.number,
    parts: parts.filter(isOwned),
    unreadable: parts.filter(isUnreadable),
    uses: answer.uses as PartUse[],
    retired: isTexts(answer.retired) ? answer.retired : []
  };
}

/** A change as it is sent, and sent again when no reply came. */
export interface SentChange {
  changeId: string;
  put: { document: Record<string, unknown>; basedOn: number | null }[];
  remove: { partId: string; basedOn: number }[];
}

export interface StoredChange {
  parts: OwnedPart[];
  removed: string[];
  /** Names of trains that followed. */
  trains: string[];
  /** Number of the state the drawer is in after it. */
  number: number;
}

/** Parts as others have made them meanwhile, and those that are gone. */
export interface StaleParts {
  parts: OwnedPart[];
  missing: string[];
  /** Number of the state the drawer is in. */
  number: number;
}

export type ChangeReply = Reply<StoredChange, StaleParts>;

const isTexts = (candidate: unknown): candidate is string[] =>
  Array.isArray(candidate) && candidate.every((each) => typeof each === 'string');

/** Sends a change and says what became of it. */
export const sendChange = (change: SentChange): Promise<ChangeReply> =>
  sent(
    ask('POST', '/api/drawer/changes', change, DRAWER_TIMEOUT_MS),
    (answer): StoredChange => {
      if (isRecord(answer)) {
        const { parts, removed, trains, number } = answer;
        if (isTexts(removed) && isTexts(trains) && typeof number === 'number') {
          return { parts: storedParts(parts).map(toOwned).filter(isOwned), removed, trains, number };
        }
      }
      throw new Unreachable('The server answered something that is no reply to a change.');
    },
    ({ parts, missing, number }): StaleParts | undefined =>
      isTexts(missing) && parts !== undefined && typeof number === 'number'
        ? { parts: storedParts(parts).map(toOwned).filter(isOwned), missing, number }
        : undefined
  );

const photoPath = (partId: string): string => `/api/drawer/parts/${encodeURIComponent(partId)}/photo`;

/** Address of a photo that changes when the photo does. */
export const photoAddress = (partId: string, hash: string): string => `${photoPath(partId)}?v=${hash.slice(0, 12)}`;

export async function sendPhoto(partId: string, picture: Blob): Promise<void> {
  settled(await ask('PUT', photoPath(partId), picture, DRAWER_TIMEOUT_MS));
}

export async function dropPhoto(partId: string): Promise<void> {
  settled(await ask('DELETE', photoPath(partId)));
}

export async function fetchPhoto(partId: string): Promise<Blob> {
  const response = await fetch(photoPath(partId));
  if (!response.ok) throw new Unreachable('The photo cannot be read');
  return response.blob();
}

/** What the simulated caliper reads now; `closed` reads its closed jaws. */
export async function readCaliper(part: string): Promise<CaliperReading> {
  return settled(await ask('GET', `/api/caliper?part=${encodeURIComponent(part)}`)) as CaliperReading;
}

export async function fetchAssembly(trainId: string): Promise<Assembly | null> {
  return settled(await ask('GET', `/api/trains/${trainId}/assembly`)) as Assembly | null;
}

export type AssembleReply =
  { kind: 'assembled'; assembly: Assembly } | { kind: 'refused'; message: string; conflicts: HoldConflict[] };

export async function assemble(
  trainId: string,
  revision: number,
  record?: { id: string; note: string }
): Promise<AssembleReply> {
  const { status, answer } = await ask('PUT', `/api/trains/${trainId}/assembly`, { revision, record });
  if (status === 409 && isRecord(answer)) {
    const { conflicts = [] } = answer as Partial<AssemblyRefused>;
    return { kind: 'refused', message: messageOf(answer), conflicts };
  }
  return { kind: 'assembled', assembly: settled({ status, answer }) as Assembly };
}

export async function takeApart(trainId: string): Promise<void> {
  settled(await ask('DELETE', `/api/trains/${trainId}/assembly`));
}
