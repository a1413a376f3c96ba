import type { Outbox } from './outbox.ts';
import { pageLive, type Live } from './live.ts';
import { browserStore, type KeptStore } from './store.ts';
import { adoptOrphans, holdSession } from './tabs.ts';

/** Steps that can be taken back, as text, by what they are of. */
export interface StepStore {
  read: (scope: string) => string | null;
  write: (scope: string, text: string) => void;
}

const stepsKey = (scope: string): string => `lodestone.steps ${scope}`;

/** This tab's own: another tab has done other things. */
const tabSteps: StepStore = {
  read: (scope) => {
    try {
      return sessionStorage.getItem(stepsKey(scope));
    } catch {
      return null;
    }
  },
  write: (scope, text) => {
    try {
      sessionStorage.setItem(stepsKey(scope), text);
    } catch {
      // No room, or none allowed: undo ends at a reload then.
    }
  }
};

/** Where a page keeps what is unsaved, and who tells it what others change. */
export interface PageWays {
  store: KeptStore;
  live: () => Pick<Live, 'subscribe' | 'onConnected'>;
  /** Where steps that can be taken back outlive a reload; nowhere where left out. */
  steps?: StepStore;
}

export const thisPage: PageWays = { store: browserStore, live: pageLive, steps: tabSteps };

/** What the page does for an outbox while it is open, whatever is kept in it. */
interface Attended {
  page: PageWays;
  scope: string;
  session: string;
  /** A field was left: the run of typing is over. */
  onleft?: () => void;
}

/**
 * Attends to an outbox while the page shows its work: takes over what sessions that are gone have left, sends when a
 * field is left, when the network or the server is back, and on the way out. In the browser only.
 *
 * @returns what ends it; what is unsaved then is sent, or stays in the browser for whoever comes next
 */
export function attend<State, Change, Request, Stored, Theirs>(
  outbox: Outbox<State, Change, Request, Stored, Theirs>,
  { page, scope, session, onleft }: Attended
): () => void {
  const over = new AbortController();
  const { signal } = over;
  const release = holdSession(session);
  const flush = (): void => void outbox.flush();
  const retry = (): void => outbox.retry();
  void adoptOrphans(page.store, scope, session, signal, (kept) =>
    outbox.takeOver(kept as Parameters<typeof outbox.takeOver>[0])
  ).catch((error: unknown) => console.warn('What was left unsaved could not be looked for', error));

  const stopHearing = page.live().onConnected(retry);
  addEventListener('online', retry, { signal });
  addEventListener('pagehide', flush, { signal });
  document.addEventListener('visibilitychange', retry, { signal });
  // A field that was typed in says so when it is left, or on Enter.
  document.addEventListener(
    'change',
    () => {
      onleft?.();
      outbox.hurry();
    },
    { signal }
  );
  addEventListener(
    'beforeunload',
    (event) => {
      if (outbox.hasUnsaved && !outbox.keeps) event.preventDefault();
    },
    { signal }
  );
  return () => {
    over.abort();
    stopHearing();
    void outbox.flush().finally(() => {
      outbox.end();
      release();
    });
  };
}
