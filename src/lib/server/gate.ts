/** More is asked for than can wait: the same may be asked again in a moment. */
export class Busy extends Error {
  override name = 'Busy';
}

/** Whoever asked has left: nothing is done for them. */
export class Gone extends Error {
  override name = 'Gone';
}

/** Lets a few through at once and a few more wait; whoever comes on top of them is sent away at once. */
export class Gate {
  #inside = 0;
  readonly #queue: (() => void)[] = [];
  readonly #what: string;
  readonly #atOnce: number;
  readonly #waiting: number;

  /** @param what is being done, in the plural, as a person is told */
  constructor(what: string, { atOnce, waiting }: { atOnce: number; waiting: number }) {
    this.#what = what;
    this.#atOnce = atOnce;
    this.#waiting = waiting;
  }

  /**
   * @param signal aborted once whoever asked has left: they give their place up while they wait
   * @throws Busy
   * @throws Gone
   */
  async run<T>(work: () => Promise<T>, signal?: AbortSignal): Promise<T> {
    if (this.#inside >= this.#atOnce) {
      if (this.#queue.length >= this.#waiting) throw new Busy(`Too many ${this.#what} at once; try again shortly.`);
      await this.#turn(signal);
    } else this.#inside++;
    try {
      if (signal?.aborted) throw new Gone('The request was given up.');
      return await work();
    } finally {
      const next = this.#queue.shift();
      // Whoever waited takes the place over.
      if (next) next();
      else this.#inside--;
    }
  }

  /** Waits for a place. @throws Gone */
  #turn(signal?: AbortSignal): Promise<void> {
    return new Promise((begin, leave) => {
      const next = (): void => {
        signal?.removeEventListener('abort', gone);
        begin();
      };
      const gone = (): void => {
        const at = this.#queue.indexOf(next);
        if (at < 0) return;
        this.#queue.splice(at, 1);
        leave(new Gone('The request was given up.'));
      };
      this.#queue.push(next);
      signal?.addEventListener('abort', gone, { once: true });
      if (signal?.aborted) gone();
    });
  }
}
