import { wrap, type Remote } from 'comlink';

/** What was asked of a worker was called off: nobody waits for it, and nobody is told. */
export class CalledOff extends Error {
  override name = 'CalledOff';

  constructor() {
    super('It was cancelled.');
  }
}

const NO_MEMORY = 'There is not enough memory for this.';
const NOT_LOADED = 'A part of the application could not be loaded. The server may be out of reach.';

/** Browsers say in many words that memory ran out, and in the same class that a call went too deep. */
const isMemory = (message: string): boolean => /alloc|memory|invalid (typed )?array|array length/i.test(message);

/** Why a worker has died: one that was never loaded says nothing at all. */
function death(event: Event): Error {
  const message = 'message' in event && typeof event.message === 'string' ? event.message : '';
  if (event.type === 'messageerror') return new Error('Its answer could not be read.');
  if (message === '') return new Error(NOT_LOADED);
  return new Error(isMemory(message) ? NO_MEMORY : `It ended unexpectedly: ${message}`);
}

/** What a worker threw, as a person is told. */
function thrown(error: unknown): Error {
  if (!(error instanceof Error)) return new Error(String(error));
  return error.name === 'RangeError' && isMemory(error.message) ? new Error(NO_MEMORY, { cause: error }) : error;
}

/**
 * A worker that holds something and is asked more than once. Whoever waits for an answer is told when it dies, when it
 * cannot be loaded, and when it is ended; after that every question is refused with the same reason.
 */
export class HeldWorker<W> {
  readonly #worker: Worker;
  readonly #remote: Remote<W>;
  readonly #waiting = new Set<(reason: Error) => void>();
  #over: Error | undefined;

  /** In the browser only. */
  constructor(start: () => Worker) {
    this.#worker = start();
    this.#remote = wrap<W>(this.#worker);
    const die = (event: Event): void => {
      // The page has no more to say of it.
      event.preventDefault();
      this.#close(death(event));
    };
    this.#worker.addEventListener('error', die);
    this.#worker.addEventListener('messageerror', die);
  }

  /** It died, or was ended. */
  get isOver(): boolean {
    return this.#over !== undefined;
  }

  /** @throws CalledOff where it is ended meanwhile; an error in words where it dies */
  async ask<A>(question: (remote: Remote<W>) => Promise<A>): Promise<A> {
    if (this.#over) throw this.#over;
    let leave: ((reason: Error) => void) | undefined;
    const over = new Promise<never>((_, reject) => {
      leave = reject;
      this.#waiting.add(reject);
    });
    try {
      return await Promise.race([question(this.#remote), over]);
    } catch (error) {
      throw thrown(error);
    } finally {
      this.#waiting.delete(leave!);
    }
  }

  end(): void {
    this.#close(new CalledOff());
  }

  #close(reason: Error): void {
    if (this.#over) return;
    this.#over = reason;
    this.#worker.terminate();
    for (const leave of this.#waiting) leave(reason);
    this.#waiting.clear();
  }
}

/**
 * Asks a worker of its own for one thing; it is ended in any case.
 *
 * @param signal what calls it off
 * @throws CalledOff
 */
export async function ask<W, A>(
  start: () => Worker,
  question: (remote: Remote<W>) => Promise<A>,
  { signal }: { signal: AbortSignal }
): Promise<A> {
  if (signal.aborted) throw new CalledOff();
  const held = new HeldWorker<W>(start);
  const end = (): void => held.end();
  signal.addEventListener('abort', end, { once: true });
  try {
    return await held.ask(question);
  } finally {
    signal.removeEventListener('abort', end);
    end();
  }
}
