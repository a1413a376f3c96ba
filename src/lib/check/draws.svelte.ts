import { reasonOf } from '$lib/api/reason.ts';
import type { DoubtWorker, DrawTask, Drawn } from '$lib/workers/doubt.worker.ts';
import { HeldWorker } from '$lib/workers/ask.ts';
import { startDraws } from '$lib/workers/start.ts';

/** Draws in a worker; what was asked for before is let go. */
export class DrawsView {
  drawn = $state.raw<Drawn>();
  busy = $state(false);
  failure = $state<string>();
  #worker: HeldWorker<DoubtWorker> | undefined;
  #asked = 0;

  /** In the browser only. */
  async ask(task: DrawTask): Promise<void> {
    const asked = ++this.#asked;
    // A search that is going on is for what was: it is ended, not waited for.
    if (this.busy) this.end();
    this.busy = true;
    this.failure = undefined;
    try {
      if (!this.#worker || this.#worker.isOver) this.#worker = new HeldWorker(startDraws);
      const drawn = await this.#worker.ask<Drawn>((worker) => worker.draw(task));
      if (asked === this.#asked) this.drawn = drawn;
    } catch (error) {
      if (asked === this.#asked) this.failure = reasonOf(error);
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
