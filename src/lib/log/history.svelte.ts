import { operationToward } from '@lodestone/core/train';
import { MOST_STATES, type Sitting, type StateOfTrain, type TrainHistory } from '$lib/api/history.ts';
import { reasonOf } from '$lib/api/reason.ts';
import type { StoredTrain } from '$lib/api/trains.ts';
import type { TrainSession } from '$lib/train/session.svelte.ts';
import { askedSince } from './changes.ts';
import { SvelteMap, SvelteSet } from 'svelte/reactivity';

/** How the history is asked for. */
export interface HistoryWays {
  history: (before?: number) => Promise<TrainHistory>;
  states: (of: readonly string[]) => Promise<StateOfTrain[]>;
  revision: (number: number) => Promise<StoredTrain>;
  name: (number: number, name: string | undefined) => Promise<void>;
}

/**
 * Every state a train was in, by sittings: what changed in each, how far it was off, and any of them to look at on the
 * rail, to name, and to restore. What it asks for comes in small answers: a train may have many thousands of states.
 */
export class History {
  readonly #train: TrainSession;
  readonly #ways: HistoryWays;

  constructor(train: TrainSession, ways: HistoryWays) {
    this.#train = train;
    this.#ways = ways;
  }

  /** The newest first; undefined until they are read. */
  sittings = $state.raw<readonly Sitting[]>();
  more = $state.raw(false);
  failure = $state.raw<string>();
  /** Why it is not known what changed in sittings that are. */
  untold = $state.raw<string>();
  readonly names = new SvelteMap<number, string>();
  /** What a state is, told from the one before its sitting, by the last revision of that. */
  readonly states = new SvelteMap<number, StateOfTrain>();
  /** Each by itself, told from the one before, by number. */
  readonly single = new SvelteMap<number, StateOfTrain>();

  /** The state that is looked at, and what became of asking for it. */
  looked = $state.raw<StoredTrain>();
  /** Number that is asked for, or looked at. */
  at = $state.raw<number>();

  readonly head: number = $derived.by(() => this.sittings?.[0]?.last ?? 1);
  /** The oldest revision that was asked for so far. */
  readonly oldest: number = $derived.by(() => this.sittings?.at(-1)?.first ?? 1);
  /** Every state that is known, the oldest first. */
  readonly known: readonly StateOfTrain[] = $derived.by(() =>
    [...this.states.values()]
      .filter(({ number }) => !this.single.has(number))
      .concat([...this.single.values()])
      .sort((a, b) => a.number - b.number)
  );

  async load(): Promise<void> {
    try {
      const { sittings, names, more } = await this.#ways.history();
      this.sittings = sittings;
      this.more = more;
      this.names.clear();
      for (const { number, name } of names) this.names.set(number, name);
      this.failure = undefined;
    } catch (error) {
      this.failure = reasonOf(error);
      return;
    }
    try {
      const { sittings } = this;
      await this.tell(sittings.slice(0, MOST_STATES));
      // The newest each by itself: they make the line.
      await this.tellSingle(this.head, Math.max(1, this.head - MOST_STATES + 1));
      this.untold = undefined;
    } catch (error) {
      // Without the server the sittings may be known, and not what changed in them.
      this.untold = reasonOf(error);
    }
  }

  /** Sittings before those that are there. */
  async loadMore(): Promise<void> {
    const first = this.sittings?.at(-1)?.first;
    if (first === undefined) return;
    const { sittings, more } = await this.#ways.history(first);
    this.sittings = [...(this.sittings ?? []), ...sittings];
    this.more = more;
    await this.tell(sittings.slice(0, MOST_STATES));
  }

  readonly #wanted = new SvelteSet<string>();

  /** Asks what changed in some sittings, where that is not known yet. */
  async tell(sittings: readonly Sitting[]): Promise<void> {
    const of = sittings
      .filter(({ last }) => !this.states.has(last))
      .map(({ first, last }) => askedSince(last, first - 1))
      .filter((each) => !this.#wanted.has(each));
    await this.#ask(of, this.states);
  }

  /** Asks what changed from one revision to the next, from one number down to another. */
  async tellSingle(from: number, to: number): Promise<void> {
    const numbers = Array.from({ length: Math.max(0, from - to + 1) }, (_, index) => from - index);
    const of = numbers.filter((number) => !this.single.has(number)).map((number) => askedSince(number, number - 1));
    await this.#ask(of, this.single);
  }

  async #ask(of: readonly string[], into: SvelteMap<number, StateOfTrain>): Promise<void> {
    for (let at = 0; at < of.length; at += MOST_STATES) {
      const some = of.slice(at, at + MOST_STATES);
      for (const each of some) this.#wanted.add(each);
      try {
        for (const state of await this.#ways.states(some)) into.set(state.number, state);
      } finally {
        // What did not come is asked for again.
        for (const each of some) this.#wanted.delete(each);
      }
    }
  }

  /** Shows a state on the rail, not saving anything. @throws where it cannot be read */
  async look(number: number): Promise<void> {
    if (number === this.head) return this.back();
    this.at = number;
    const stored = await this.#ways.revision(number);
    // Another was asked for while this one was on its way.
    if (this.at !== number) return;
    this.looked = stored;
    this.#train.preview = stored.document;
  }

  /** Back to the train as it is now. */
  back = (): void => {
    this.at = undefined;
    this.looked = undefined;
    this.#train.preview = undefined;
  };

  /** Makes the train as it was then: a change like any other, that can be taken back. @returns why it was refused */
  restore(): string | undefined {
    const { looked } = this;
    if (!looked) return undefined;
    const refusal = this.#train.dispatch(
      operationToward(this.#train.document, looked.document),
      `Restore revision ${looked.revision.number}`
    );
    if (refusal === undefined) this.back();
    return refusal;
  }

  /** Gives a state a name, or takes it away. @throws where that cannot be kept */
  async name(number: number, name: string): Promise<void> {
    const trimmed = name.trim();
    await this.#ways.name(number, trimmed === '' ? undefined : trimmed);
    if (trimmed === '') this.names.delete(number);
    else this.names.set(number, trimmed);
  }
}
