/** Long enough for a slow network, short enough for somebody who waits, ms. */
const ANSWER_MS = 3000;
/** Waits between two looks, ms: a phone without a network has a battery too. */
const RETRY_MS = 2000;
const LONGEST_RETRY_MS = 10_000;

/** Whether the server answers just now. */
export async function isServerThere(): Promise<boolean> {
  try {
    return (await fetch('/healthz', { cache: 'no-store', signal: AbortSignal.timeout(ANSWER_MS) })).ok;
  } catch {
    return false;
  }
}

/** Waits until the server answers again; at once where the network comes back. @returns what stops the waiting */
export function whenThere(then: () => void): () => void {
  let timer: ReturnType<typeof setTimeout>;
  let wait = RETRY_MS;
  const over = new AbortController();
  const look = async (): Promise<void> => {
    clearTimeout(timer);
    const there = await isServerThere();
    if (over.signal.aborted) return;
    if (there) {
      over.abort();
      return then();
    }
    clearTimeout(timer);
    wait = Math.min(2 * wait, LONGEST_RETRY_MS);
    timer = setTimeout(() => void look(), wait);
  };
  timer = setTimeout(() => void look(), wait);
  addEventListener('online', () => void look(), { signal: over.signal });
  return () => {
    over.abort();
    clearTimeout(timer);
  };
}
