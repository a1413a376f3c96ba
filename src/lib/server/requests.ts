import {
  complaintLine,
  complaintsFrom,
  duplicateKey,
  readTrain,
  type Complaint,
  type Train
} from '@lodestone/core/train';
import { readDrawer, type Part } from '@lodestone/core/drawer';
import { error } from '@sveltejs/kit';
import type { ErrorObject } from 'ajv';

/** Largest request that carries a train document, bytes of UTF-8. */
export const MAX_TRAIN_BYTES = 1_500_000;

type Validator<T> = ((candidate: unknown) => candidate is T) & { errors?: ErrorObject[] | null };

/** Largest request that carries a drawer, bytes of UTF-8. */
export const MAX_DRAWER_BYTES = 30_000_000;

/** Requests that name things only. */
export const SMALL_BODY_BYTES = 100_000;

/** @throws 413 */
export function refuseSize(bytes: number, limit: number): never {
  error(413, `The request has ${bytes} bytes, where this address takes ${limit}.`);
}

/** What a body brings, up to `limit` bytes; what is over is read off and dropped, so that the refusal arrives. @throws 413 */
export async function* piecesWithin(request: Request, limit: number): AsyncGenerator<Uint8Array> {
  let size = 0;
  for await (const piece of request.body ?? []) {
    size += piece.byteLength;
    if (size <= limit) yield piece;
  }
  if (size > limit) refuseSize(size, limit);
}

async function readLimited(request: Request, limit: number): Promise<Uint8Array> {
  const pieces: Uint8Array[] = [];
  for await (const piece of piecesWithin(request, limit)) pieces.push(piece);
  return Buffer.concat(pieces);
}

/** Values a body may hold at the most: taking apart many millions of tiny ones would hold up everybody else. */
const MAX_VALUES = 5_000_000;

const [COMMA, BRACKET, BRACE] = [0x2c, 0x5b, 0x7b];

/** Whether a text of JSON holds more values than are worth taking apart; what stands inside words counts too. */
function isTooMuch(bytes: Uint8Array): boolean {
  if (bytes.byteLength < MAX_VALUES) return false;
  let separators = 0;
  for (let at = 0; at < bytes.byteLength; at++) {
    const byte = bytes[at];
    if (byte === COMMA || byte === BRACKET || byte === BRACE) separators++;
  }
  return separators > MAX_VALUES;
}

/** The JSON body of a request, checked against its schema; anything else ends in a 4xx that says what is wrong. */
export async function readBody<T>(request: Request, validate: Validator<T>, limit: number): Promise<T> {
  if (!/^application\/json\b/.test(request.headers.get('content-type') ?? '')) {
    error(415, 'The request must be JSON, with the content type application/json.');
  }
  const bytes = await readLimited(request, limit);
  if (isTooMuch(bytes)) error(413, `The request holds more than ${MAX_VALUES} values.`);
  let text: string;
  let body: unknown;
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    body = JSON.parse(text);
  } catch {
    error(400, 'The request is not valid JSON in UTF-8.');
  }
  const twice = duplicateKey(text);
  if (twice) error(400, complaintLine(twice));
  if (!validate(body)) {
    error(
      400,
      complaintsFrom(validate.errors ?? [], body)
        .map(complaintLine)
        .slice(0, 3)
        .join('; ')
    );
  }
  return body;
}

/** Parameters of a path, checked; a path that cannot exist is not found. */
export function readPath<T>(params: Partial<Record<string, string>>, validate: Validator<T>, what = 'train'): T {
  const candidate: unknown = params;
  if (!validate(candidate)) error(404, `There is no such ${what}.`);
  return candidate;
}

/** Headers of server-sent events. */
export const EVENT_STREAM = { 'content-type': 'text/event-stream', 'cache-control': 'no-store' } as const;

const LONGEST_FILE_NAME = 80;

/** Letters, digits, spaces and a few marks: what every file system takes; cut between letters, never inside one. */
const fileName = (name: string): string =>
  [...name.replace(/[^\p{L}\p{N} ._-]+/gu, '_')].slice(0, LONGEST_FILE_NAME).join('');

/** A response that the browser stores as a file. */
export const download = (
  content: string | Uint8Array<ArrayBuffer>,
  type: string,
  name: string,
  plainName: string
): Response =>
  new Response(content, {
    headers: {
      'content-type': type,
      'content-disposition': `attachment; filename="${plainName}"; filename*=UTF-8''${encodeURIComponent(fileName(name))}`
    }
  });

const COMPLAINTS_SHOWN = 5;

/** Refuses a request with what is wrong in its documents. */
export function refuseWith(complaints: readonly Complaint[]): never {
  const more = complaints.length > COMPLAINTS_SHOWN ? `; and ${complaints.length - COMPLAINTS_SHOWN} more` : '';
  error(400, complaints.slice(0, COMPLAINTS_SHOWN).map(complaintLine).join('; ') + more);
}

/** A train document from a request, checked as a whole. */
export function readDocument(candidate: unknown): Train {
  const reading = readTrain(candidate);
  return reading.ok ? reading.document : refuseWith(reading.complaints);
}

/** The parts of a request, checked as the drawer document they would make together. */
export function readPartDocuments(documents: readonly unknown[]): Part[] {
  const reading = readDrawer({ lodestone: 'drawer/1', parts: documents });
  return reading.ok ? reading.document : refuseWith(reading.complaints);
}
