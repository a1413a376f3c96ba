import { reasonOf } from './reason.ts';
import { isRecord } from '@lodestone/core/train';

export { isRecord } from '@lodestone/core/train';

/** The server did not answer, or not as itself: worth trying again. */
export class Unreachable extends Error {
  override name = 'Unreachable';
}

/** The server said no, and why. */
export class Refused extends Error {
  override name = 'Refused';
}

const TIMEOUT_MS = 15_000;

export interface Answer {
  status: number;
  answer: unknown;
}

/** Why no answer came: browsers say of it that something “failed to fetch”, each in its own words. */
const awayInWords = (error: unknown): string =>
  error instanceof TypeError || (error instanceof DOMException && error.name === 'TimeoutError')
    ? 'The server does not answer.'
    : reasonOf(error);

/** Asks the server for JSON. @throws Unreachable when no answer came, or one that is not the server's */
export async function ask(method: string, path: string, body?: unknown, timeoutMs = TIMEOUT_MS): Promise<Answer> {
  let response: Response;
  let text: string;
  try {
    response = await fetch(path, {
      method,
      signal: AbortSignal.timeout(timeoutMs),
      ...(body === undefined
        ? {}
        : body instanceof Blob
          ? // A file whose kind the browser does not know has none, and would arrive as nothing.
            { body, headers: { 'content-type': body.type || 'application/octet-stream' } }
          : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } })
    });
    text = await response.text();
  } catch (error) {
    throw new Unreachable(awayInWords(error));
  }
  try {
    return { status: response.status, answer: JSON.parse(text) };
  } catch {
    // A network's sign-in page, a proxy's error page.
    throw new Unreachable('Something between here and the server answered in its place.');
  }
}

export const messageOf = (answer: unknown): string =>
  isRecord(answer) && typeof answer.message === 'string' ? answer.message : 'The server refused without a reason.';

/** The answer to something that should simply work. @throws Unreachable or Refused */
export function settled({ status, answer }: Answer): unknown {
  if (status >= 500) throw new Unreachable(messageOf(answer));
  if (status >= 400) throw new Refused(messageOf(answer));
  return answer;
}

/** Asks the server for a file made from what is sent. @throws Unreachable or Refused */
export async function askFile(path: string, body: unknown): Promise<Blob> {
  let response: Response;
  try {
    response = await fetch(path, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body)
    });
    if (response.ok) return await response.blob();
  } catch (error) {
    throw new Unreachable(awayInWords(error));
  }
  throw new Refused(messageOf(await response.json().catch(() => undefined)));
}

/** What became of work that was sent. Only `refused` is about what it says; everything else keeps it. */
export type Reply<Stored, Theirs> =
  | { kind: 'stored'; stored: Stored }
  /** Made from what is no longer the newest: theirs is. */
  | { kind: 'stale'; theirs: Theirs }
  /** The server cannot take this, now or later. */
  | { kind: 'refused'; message: string }
  | { kind: 'sign-in'; message: string }
  /**
   * Worth trying again: nobody answers (`away`), the server fails at it (`failing`), or something has to be done first
   * (`blocked`: a deleted train has to be brought back).
   */
  | { kind: 'later'; why: 'away' | 'failing' | 'blocked'; message: string };

/** The thing itself is not there just now; what was to be done to it is none the worse for it. */
const GONE = new Set([404, 410]);

/** Not a word about the content: too many at once, too slow, not by this name or origin. */
const TRY_AGAIN = new Set([403, 408, 421, 425, 429, 503]);

/**
 * What an answer means for the work that was sent.
 *
 * @param readStored the answer to something that was stored; throws Unreachable where it is none
 * @param readTheirs what a 409 says stands there now; undefined where it does not say
 */
function replyOf<Stored, Theirs>(
  { status, answer }: Answer,
  readStored: (answer: unknown) => Stored,
  readTheirs: (answer: Record<string, unknown>) => Theirs | undefined
): Reply<Stored, Theirs> {
  if (status < 300) return { kind: 'stored', stored: readStored(answer) };
  const message = messageOf(answer);
  if (status === 401) return { kind: 'sign-in', message };
  if (status === 409) {
    const theirs = isRecord(answer) ? readTheirs(answer) : undefined;
    return theirs === undefined ? { kind: 'later', why: 'away', message } : { kind: 'stale', theirs };
  }
  if (status < 400 || TRY_AGAIN.has(status)) return { kind: 'later', why: 'away', message };
  if (GONE.has(status)) return { kind: 'later', why: 'blocked', message };
  return status >= 500 ? { kind: 'later', why: 'failing', message } : { kind: 'refused', message };
}

/** Sends work and says what became of it, whatever happens on the way. */
export async function sent<Stored, Theirs>(
  asked: Promise<Answer>,
  readStored: (answer: unknown) => Stored,
  readTheirs: (answer: Record<string, unknown>) => Theirs | undefined
): Promise<Reply<Stored, Theirs>> {
  try {
    return replyOf(await asked, readStored, readTheirs);
  } catch (error) {
    if (!(error instanceof Unreachable)) throw error;
    return { kind: 'later', why: 'away', message: error.message };
  }
}
