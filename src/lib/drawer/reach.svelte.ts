import { reasonOf } from '$lib/api/reason.ts';
import { HeldWorker } from '$lib/workers/ask.ts';
import type { ReachAnswer, ReachTask, ReachWorker } from '$lib/workers/reach.worker.ts';
import { startReach } from '$lib/workers/start.ts';

/** What rings make, looked for in a worker; what was asked before is let go, and its answer stays until the next is there. */
export class ReachView {
  answer = $state.raw<ReachAnswer & { task: ReachTask }>();
  failure = $state<string>();
  busy = $state(false);
  #worker: HeldWorker<ReachWorker> | undefined;
  #asked = 0;

  /** In the browser only. */
  async ask(task: ReachTask): Promise<void> {
    const asked = ++this.#asked;
    if (this.busy) this.end();
    this.busy = true;
    try {
      if (!this.#worker || this.#worker.isOver) this.#worker = new HeldWorker(startReach);
      const answer = await this.#worker.ask<ReachAnswer>((worker) => worker.look(task));
      if (asked !== this.#asked) return;
      this.answer = { ...answer, task };
      this.failure = undefined;
    } catch (error) {
      if (asked !== this.#asked) return;
      this.answer = undefined;
      this.failure = reasonOf(error);
    } finally {
      if (asked === this.#asked) this.busy = false;
    }
  }

  end(): void {
    this.#worker?.end();
    this.#worker = undefined;
    this.busy = false;
  }
}
