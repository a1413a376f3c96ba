import type { DoubtWorker, DrawTask, Drawn } from '$lib/workers/doubt.worker.ts';
import { startDraws } from '$lib/workers/startDraws.ts';
import { wrap, type Remote } from 'comlink';

/** Draws in a worker; what was asked for before is let go. */
export class DrawsView {
  drawn = $state.raw<Drawn>();
  busy = $state(false);
  #worker: Worker | undefined;
  #asked = 0;

  /** In the browser only. */
  async ask(task: DrawTask): Promise<void> {
    const asked = ++this.#asked;
    // A search that is going on is for what was: it is ended, not waited for.
    if (this.busy) this.end();
    this.busy = true;
    this.#worker ??= startDraws();
    const draws: Remote<DoubtWorker> = wrap<DoubtWorker>(this.#worker);
    const drawn = await draws.draw(task);
    if (asked !== this.#asked) return;
    this.drawn = drawn;
    this.busy = false;
  }

  end(): void {
    this.#worker?.terminate();
    this.#worker = undefined;
    this.busy = false;
  }
}
