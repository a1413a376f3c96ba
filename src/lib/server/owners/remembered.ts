/** So long at the most something is remembered, ms: what ends by itself ends no later than that. */
const HOLDS_MS = 60_000;
/** And so much of each kind. */
const MOST = 10_000;

interface Entry<T> {
  value: T;
  /** Whose it is: what changes of theirs makes it forgotten. */
  owner: string;
  until: number;
}

const all = new Set<Remembered<unknown>>();
let isHeard = (): boolean => false;

/**
 * Answers that would be asked for with every request: who a session is, what is shared with somebody. They are only
 * remembered while it is heard at once when they change, whichever server changes them.
 */
export class Remembered<T> {
  readonly #entries = new Map<string, Entry<T>>();
  #changes = 0;
  readonly #clock: () => number;

  constructor(clock: () => number = Date.now) {
    this.#clock = clock;
    all.add(this as Remembered<unknown>);
  }

  /** @param read what to remember and whose it is; undefined is not remembered */
  async get(key: string, read: () => Promise<{ value: T; owner: string } | undefined>): Promise<T | undefined> {
    const known = this.#entries.get(key);
    if (known && isHeard() && known.until > this.#clock()) return known.value;
    const before = this.#changes;
    const found = await read();
    if (!found) return undefined;
    // What changed while it was read may be older than the change.
    if (isHeard() && before === this.#changes) {
      if (this.#entries.size >= MOST) this.#entries.clear();
      this.#entries.set(key, { ...found, until: this.#clock() + HOLDS_MS });
    }
    return found.value;
  }

  /** Forgets what is an owner’s; everything where none is named. */
  forget(owner?: string): void {
    this.#changes++;
    for (const [key, entry] of this.#entries) {
      if (owner === undefined || entry.owner === owner) this.#entries.delete(key);
    }
  }
}

/** Something of an owner’s changed, here or on another server. */
export const forgetOwner = (owner?: string): void => all.forEach((each) => each.forget(owner));

/** Says how it is known whether changes are heard. */
export const rememberWhile = (hears: () => boolean): void => void (isHeard = hears);
