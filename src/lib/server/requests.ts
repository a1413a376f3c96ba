import { complaintLine, complaintsFrom, readTrain, type Train } from '@lodestone/core';
import { error } from '@sveltejs/kit';
import type { ErrorObject } from 'ajv';

/** Largest request that carries a train document, bytes of UTF-8. */
export const MAX_TRAIN_BYTES = 1_500_000;

type Validator<T> = ((candidate: unknown) => candidate is T) & { errors?: ErrorObject[] | null };

/** Reads a body up to `limit` bytes; what is over is read off and dropped, so that the refusal arrives. */
async function readLimited(request: Request, limit: number): Promise<Uint8Array> {
  const chunks: Uint8Array[] = [];
  let size = 0;
  for await (const chunk of request.body ?? []) {
    size += chunk.byteLength;
    if (size <= limit) chunks.push(chunk);
  }
  if (size > limit) error(413, `The request has ${size} bytes, where this address takes ${limit}.`);
  return Buffer.concat(chunks);
}

/** The JSON body of a request, checked against its schema; anything else ends in a 4xx that says what is wrong. */
export async function readBody<T>(request: Request, validate: Validator<T>, limit: number): Promise<T> {
  if (!/^application\/json\b/.test(request.headers.get('content-type') ?? '')) {
    error(415, 'The request must be JSON, with the content type application/json.');
  }
  const bytes = await readLimited(request, limit);
  let body: unknown;
  try {
    body = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes));
  } catch {
    error(400, 'The request is not valid JSON in UTF-8.');
  }
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
export function readPath<T>(params: Partial<Record<string, string>>, validate: Validator<T>): T {
  const candidate: unknown = params;
  if (!validate(candidate)) error(404, 'There is no such train.');
  return candidate;
}

const COMPLAINTS_SHOWN = 5;

/** A train document from a request, checked as a whole. */
export function readDocument(candidate: unknown): Train {
  const reading = readTrain(candidate);
  if (reading.ok) return reading.document;
  const { complaints } = reading;
  const more = complaints.length > COMPLAINTS_SHOWN ? `; and ${complaints.length - COMPLAINTS_SHOWN} more` : '';
  error(400, complaints.slice(0, COMPLAINTS_SHOWN).map(complaintLine).join('; ') + more);
}
