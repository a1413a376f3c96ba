import type { Suggestion } from '@lodestone/core/finder';
import type { FinderTask, FinderWorker } from '$lib/workers/finder.worker.ts';
import { ask } from '$lib/workers/ask.ts';
import { startFinder } from '$lib/workers/start.ts';

/** Quiet time before a worker is asked, ms: not at every letter. */
const QUIET_MS = 350;

/** What the drawer has that would bring the train within tolerance, looked for in a worker when nothing else happens. */
export class Suggesting {
  found = $state.raw<Suggestion>();

  /** Looks soon. @returns what calls it off, and takes back what was found */
  soon(task: FinderTask): () => void {
    const asking = new AbortController();
    const timer = setTimeout(() => {
      ask<FinderWorker, Suggestion | undefined>(startFinder, (finder) => finder.suggest(task), asking).then(
        (suggestion) => {
          if (!asking.signal.aborted) this.found = suggestion;
        },
        // A suggestion that fails is none: nobody asked for it.
        () => undefined
      );
    }, QUIET_MS);
    return () => {
      clearTimeout(timer);
      asking.abort();
      this.found = undefined;
    };
  }
}
