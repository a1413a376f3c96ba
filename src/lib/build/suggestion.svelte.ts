import type { LengthUnit } from '@lodestone/core';
import type { Suggestion } from '@lodestone/core/finder';
import type { FinderTask, FinderWorker } from '$lib/workers/finder.worker.ts';
import { wrap } from 'comlink';
import { startFinder } from '$lib/workers/startFinder.ts';

/** Quiet time before a worker is asked, ms: not at every letter. */
const QUIET_MS = 350;

/** What the drawer has that would bring the train within tolerance, looked for in a worker when nothing else happens. */
export class Suggesting {
  found = $state.raw<Suggestion>();

  /** Looks soon. @returns what calls it off, and takes back what was found */
  soon(task: FinderTask, unit: LengthUnit): () => void {
    let worker: Worker | undefined;
    const timer = setTimeout(() => {
      worker = startFinder();
      void wrap<FinderWorker>(worker)
        .suggest(task, unit)
        .then((suggestion) => {
          if (worker) this.found = suggestion;
        })
        // A suggestion that fails is none: nobody asked for it.
        .catch(() => undefined)
        .finally(() => worker?.terminate());
    }, QUIET_MS);
    return () => {
      clearTimeout(timer);
      worker?.terminate();
      worker = undefined;
      this.found = undefined;
    };
  }
}
