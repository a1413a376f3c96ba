/** Long enough for a slow network, short enough for somebody who waits, ms. */
const ANSWER_MS = 3000;
const RETRY_MS = 2000;

/** Whether the server answers just now. */
export async function isServerThere(): Promise<boolean> {
  try {
    return (await fetch('/healthz', { cache: 'no-store', signal: AbortSignal.timeout(ANSWER_MS) })).ok;
  } catch {
    return false;
  }
}

/** Waits until the server answers again. @returns what stops the waiting */
export function whenThere(then: () => void): () => void {
  let timer: ReturnType<typeof setTimeout>;
  let stopped = false;
  const look = async (): Promise<void> => {
    if (await isServerThere()) {
      if (!stopped) then();
    } else if (!stopped) timer = setTimeout(() => void look(), RETRY_MS);
  };
  timer = setTimeout(() => void look(), RETRY_MS);
  return () => {
    stopped = true;
    clearTimeout(timer);
  };
}
