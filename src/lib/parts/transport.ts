import { readPart, type Part, type PartUse } from '@lodestone/core/drawer';
import { Unreachable, ask, isRecord, messageOf, settled } from '$lib/api/ask.ts';
import type {
  Assembly,
  AssemblyRefused,
  CaliperReading,
  DrawerChanged,
  HoldConflict,
  StaleDrawer,
  StoredDrawer,
  StoredPart
} from '$lib/api/drawer.ts';

/** A part together with what only the server knows of it. */
export interface OwnedPart {
  part: Part;
  version: number;
  photo: string | null;
  changedAt: string;
}

/** What the server hands over is checked too: another version of it may be running. */
export function toOwned({ document, version, photo, changedAt }: StoredPart): OwnedPart {
  const reading = readPart(document);
  if (!reading.ok)
    throw new Unreachable(`The server answered something that is not a part: ${String(document.partId)}`);
  return { part: reading.document, version, photo, changedAt };
}

/** Reading and storing a drawer of twenty thousand parts takes its time. */
const DRAWER_TIMEOUT_MS = 60_000;

export async function fetchDrawer(): Promise<{ parts: OwnedPart[]; uses: PartUse[] }> {
  const { parts, uses } = settled(await ask('GET', '/api/drawer', undefined, DRAWER_TIMEOUT_MS)) as StoredDrawer;
  return { parts: parts.map(toOwned), uses };
}

/** A change as it is sent, and sent again when no reply came. */
export interface SentChange {
  changeId: string;
  put: { document: Record<string, unknown>; basedOn: number | null }[];
  remove: { partId: string; basedOn: number | null }[];
}

export type ChangeReply =
  | { kind: 'stored'; parts: OwnedPart[]; removed: string[]; trains: string[]; count: number }
  /** `stale`: somebody else has changed the same parts meanwhile. */
  | { kind: 'refused'; message: string; stale: boolean };

/** Sends a change. @throws Unreachable when it is not known whether it arrived */
export async function sendChange(change: SentChange): Promise<ChangeReply> {
  const { status, answer } = await ask('POST', '/api/drawer/changes', change, DRAWER_TIMEOUT_MS);
  if (status >= 500) throw new Unreachable(messageOf(answer));
  if (status >= 400) {
    const { parts = [], missing = [] } = isRecord(answer) ? (answer as Partial<StaleDrawer>) : {};
    return { kind: 'refused', message: messageOf(answer), stale: parts.length + missing.length > 0 };
  }
  const { parts, removed, trains, count } = answer as DrawerChanged;
  return { kind: 'stored', parts: parts.map(toOwned), removed, trains, count };
}

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

export async function assemble(trainId: string, revision: number): Promise<AssembleReply> {
  const { status, answer } = await ask('PUT', `/api/trains/${trainId}/assembly`, { revision });
  if (status === 409 && isRecord(answer)) {
    const { conflicts = [] } = answer as Partial<AssemblyRefused>;
    return { kind: 'refused', message: messageOf(answer), conflicts };
  }
  return { kind: 'assembled', assembly: settled({ status, answer }) as Assembly };
}

export async function takeApart(trainId: string): Promise<void> {
  settled(await ask('DELETE', `/api/trains/${trainId}/assembly`));
}
