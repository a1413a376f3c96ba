import type { KeptSession, KeptStore } from './store.ts';

const lockName = (session: string): string => `lodestone-session-${session}`;

/** Where there are no locks, work that nobody has touched for this long is taken for left behind, ms. */
const ABANDONED_MS = 60_000;

/** Holds a lock for as long as a session is open, so that others can tell its work from orphaned work. @returns what lets go */
export function holdSession(session: string): () => void {
  let release = (): void => undefined;
  const over = new Promise<void>((done) => (release = done));
  void navigator.locks?.request(lockName(session), () => over);
  return release;
}

/** Does something once a session is gone, whenever that is, and alone among all who wait for it. */
async function onceGone(session: string, signal: AbortSignal, work: () => Promise<void>): Promise<void> {
  try {
    await navigator.locks.request(lockName(session), { signal }, work);
  } catch (error) {
    if (!signal.aborted) throw error;
  }
}

/**
 * Hands over what sessions that are gone, or go while this one is open, have left behind of one kind of work.
 *
 * @param takeOver is given each once; what it has taken is dropped afterwards
 */
export async function adoptOrphans(
  store: KeptStore,
  scope: string,
  own: string,
  signal: AbortSignal,
  takeOver: (kept: KeptSession) => Promise<void>
): Promise<void> {
  const left = (await store.list(scope)).filter(({ session }) => session !== own);
  const adopt = async (session: string): Promise<void> => {
    // Looked at only now: it may have been stored, or adopted, meanwhile.
    const kept = signal.aborted ? undefined : await store.get(scope, session);
    if (!kept) return;
    await takeOver(kept);
    if (!signal.aborted) await store.drop(scope, session);
  };
  left.sort((a, b) => a.changedAt - b.changedAt);
  await Promise.all(
    left.map(({ session, changedAt }) => {
      if (navigator.locks) return onceGone(session, signal, () => adopt(session));
      return Date.now() - changedAt > ABANDONED_MS ? adopt(session) : undefined;
    })
  );
}
