import { reasonOf } from '$lib/api/reason.ts';
import type { DoubtWorker, DrawTask, Drawn } from '$lib/workers/doubt.worker.ts';
import { Newest } from '$lib/workers/newest.svelte.ts';
import { startDraws } from '$lib/workers/start.ts';

/** Draws in a worker; what was asked for before is let go. */
export class DrawsView extends Newest<DoubtWorker> {
  drawn = $state.raw<Drawn>();
  failure = $state<string>();

  constructor() {
    super(startDraws);
  }

  /** In the browser only. */
  ask(task: DrawTask): Promise<void> {
    this.failure = undefined;
    return this.newest<Drawn>(
      (worker) => worker.draw(task),
      (drawn) => (this.drawn = drawn),
      (error) => (this.failure = reasonOf(error))
    );
  }
}
