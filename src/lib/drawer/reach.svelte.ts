import { reasonOf } from '$lib/api/reason.ts';
import { Newest } from '$lib/workers/newest.svelte.ts';
import type { ReachAnswer, ReachTask, ReachWorker } from '$lib/workers/reach.worker.ts';
import { startReach } from '$lib/workers/start.ts';

/** What rings make, looked for in a worker; an answer stays until the next is there. */
export class ReachView extends Newest<ReachWorker> {
  answer = $state.raw<ReachAnswer & { task: ReachTask }>();
  failure = $state<string>();

  constructor() {
    super(startReach);
  }

  /** In the browser only. */
  ask(task: ReachTask): Promise<void> {
    return this.newest<ReachAnswer>(
      (worker) => worker.look(task),
      (answer) => {
        this.answer = { ...answer, task };
        this.failure = undefined;
      },
      (error) => {
        this.answer = undefined;
        this.failure = reasonOf(error);
      }
    );
  }
}
