import { HeldWorker } from './ask.ts';
import type { Remote } from 'comlink';

/** A worker that is asked again and again: what it was asked for before is let go, and nobody hears of it. */
export class Newest<W> {
  busy = $state(false);
  readonly #start: () => Worker;
  #worker: HeldWorker<W> | undefined;
  #asked = 0;

  constructor(start: () => Worker) {
    this.#start = start;
  }

  /** In the browser only. Its answer, or why there is none, goes to one of two; to neither where it was asked again. */
  protected async newest<A>(
    question: (remote: Remote<W>) => Promise<A>,
    take: (answer: A) => void,
    fail: (error: unknown) => void
  ): Promise<void> {
    const asked = ++this.#asked;
    // What is going on is for what was: it is ended, not waited for.
    if (this.busy) this.end();
    this.busy = true;
    try {
      if (!this.#worker || this.#worker.isOver) this.#worker = new HeldWorker<W>(this.#start);
      const answer = await this.#worker.ask<A>(question);
      if (asked === this.#asked) take(answer);
    } catch (error) {
      if (asked === this.#asked) fail(error);
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
