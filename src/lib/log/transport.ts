import { readTrain } from '@lodestone/core/train';
import { ask, isRecord, settled, Unreachable } from '$lib/api/ask.ts';
import type { BuildRecord, RecordPhoto } from '$lib/api/records.ts';

/** A photo may take long on its way from a phone. */
const PHOTO_TIMEOUT_MS = 60_000;

function toRecord(candidate: unknown): BuildRecord[] {
  if (!isRecord(candidate)) return [];
  const reading = readTrain(candidate.document);
  // Our own server's: only the document is read again, as everywhere.
  return reading.ok ? [{ ...(candidate as unknown as BuildRecord), document: reading.document }] : [];
}

/** Every record of a train, the newest first. */
export async function fetchRecords(trainId: string): Promise<BuildRecord[]> {
  const answer = settled(await ask('GET', `/api/trains/${trainId}/records`));
  if (!isRecord(answer) || !Array.isArray(answer.records)) {
    throw new Unreachable('The server answered something that is no list of records.');
  }
  return answer.records.flatMap(toRecord);
}

export const sendRecordPhoto = async (recordId: string, picture: Blob): Promise<RecordPhoto> =>
  settled(await ask('POST', `/api/records/${recordId}/photos`, picture, PHOTO_TIMEOUT_MS)) as RecordPhoto;

export const recordPhotoAddress = (recordId: string, position: number): string =>
  `/api/records/${recordId}/photos/${position}`;
