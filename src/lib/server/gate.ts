/** More is asked for than can wait: the same may be asked again in a moment. */
export class Busy extends Error {
  override name = 'Busy';
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

  /** @throws Busy */
  async run<T>(work: () => Promise<T>): Promise<T> {
    if (this.#inside >= this.#atOnce) {
      if (this.#queue.length >= this.#waiting) throw new Busy(`Too many ${this.#what} at once; try again shortly.`);
      await new Promise<void>((next) => this.#queue.push(next));
    } else this.#inside++;
    try {
      return await work();
    } finally {
      const next = this.#queue.shift();
      // Whoever waited takes the place over.
      if (next) next();
      else this.#inside--;
    }
  }
}
