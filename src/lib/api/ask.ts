/** The server did not answer, or not as itself: worth trying again. */
export class Unreachable extends Error {
  override name = 'Unreachable';
}

/** The server said no, and why. */
export class Refused extends Error {
  override name = 'Refused';
}

const TIMEOUT_MS = 15_000;

export const isRecord = (candidate: unknown): candidate is Record<string, unknown> =>
  typeof candidate === 'object' && candidate !== null;

export interface Answer {
  status: number;
  answer: unknown;
}

/** Asks the server for JSON. @throws Unreachable when no answer came */
export async function ask(method: string, path: string, body?: unknown, timeoutMs = TIMEOUT_MS): Promise<Answer> {
  try {
    const response = await fetch(path, {
      method,
      signal: AbortSignal.timeout(timeoutMs),
      ...(body === undefined
        ? {}
        : body instanceof Blob
          ? { body }
          : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } })
    });
    return { status: response.status, answer: await response.json() };
  } catch (error) {
    throw new Unreachable(error instanceof Error ? error.message : String(error));
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
    throw new Unreachable(error instanceof Error ? error.message : String(error));
  }
  throw new Refused(messageOf(await response.json().catch(() => undefined)));
}
