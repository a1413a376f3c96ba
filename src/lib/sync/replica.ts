import { reasonOf } from '$lib/api/reason.ts';
import type { Aside, Entry, Rules } from './rules.ts';

/** A state as the server last told it, our changes that are on their way there, and the two together. */
export class Replica<State, Change> {
  readonly #rules: Rules<State, Change>;
  #base: State;
  #shown: State;
  #waiting: readonly Entry<Change>[] = [];

  constructor(rules: Rules<State, Change>, base: State) {
    this.#rules = rules;
    this.#base = base;
    this.#shown = base;
  }

  /** As the server last told it. */
  get base(): State {
    return this.#base;
  }

  /** With our changes in it. */
  get shown(): State {
    return this.#shown;
  }

  get waiting(): readonly Entry<Change>[] {
    return this.#waiting;
  }

  /**
   * Takes a change in. One of the same run as the last that waits becomes one with it, and nothing at all where the
   * two together change nothing.
   *
   * @param fixed how many at the front are being sent and stay as they are
   * @returns id of the entry the change went into
   * @throws Error when it makes no sense
   */
  add(entry: Entry<Change>, fixed: number): string {
    const shown = this.#rules.apply(this.#shown, entry.change);
    const last = this.#waiting.at(-1);
    const joined =
      last && entry.run !== undefined && last.run === entry.run && this.#waiting.length > fixed
        ? this.#rules.joined(last.change, entry.change)
        : undefined;
    this.#shown = shown;
    if (!last || joined === undefined) {
      this.#waiting = [...this.#waiting, entry];
      return entry.id;
    }
    const before = this.#waiting.slice(0, -1);
    const stands = before.reduce((state, each) => this.#rules.apply(state, each.change), this.#base);
    this.#waiting = this.#rules.changesNothing(stands, joined) ? before : [...before, { ...last, change: joined }];
    return last.id;
  }

  /** The first so many are stored, and this is what the server made of them. @returns what could not go on */
  settle(count: number, stored: State): Aside<Change>[] {
    const taken = this.#waiting.slice(0, count);
    const expected = taken.reduce((state, { change }) => this.#rules.apply(state, change), this.#base);
    this.#waiting = this.#waiting.slice(count);
    return this.#carryOver(this.#waiting, expected, stored);
  }

  /** Others have made this of it: our changes go on top of it. @returns those that cannot */
  rebase(theirs: State): Aside<Change>[] {
    return this.#carryOver(this.#waiting, this.#base, theirs);
  }

  /**
   * Takes an entry out. What came after it was made on top of it, and now stands without it.
   *
   * @returns what makes no sense without it
   */
  drop(id: string): Aside<Change>[] {
    const at = this.#waiting.findIndex((entry) => entry.id === id);
    if (at < 0) return [];
    const base = this.#base;
    const before = this.#waiting.slice(0, at);
    const without = before.reduce((state, { change }) => this.#rules.apply(state, change), base);
    const withIt = this.#rules.apply(without, this.#waiting[at]!.change);
    const aside = this.#carryOver(this.#waiting.slice(at + 1), withIt, without, 'ours');
    this.#base = base;
    this.#waiting = [...before, ...this.#waiting];
    return aside.map((each) => ({ ...each, why: 'refused' }));
  }

  /** Begins anew from what another tab has left behind. */
  restore(base: State, waiting: readonly Entry<Change>[]): Aside<Change>[] {
    return this.#carryOver(waiting, base, base, 'ours');
  }

  #carryOver(
    entries: readonly Entry<Change>[],
    from: State,
    to: State,
    holds: 'theirs' | 'ours' = 'theirs'
  ): Aside<Change>[] {
    const rebase = this.#rules.rebaseOnto(from, to, holds);
    const kept: Entry<Change>[] = [];
    const aside: Aside<Change>[] = [];
    let state = to;
    for (const entry of entries) {
      const rebased = rebase(entry.change);
      if (rebased.kind === 'clash') {
        // Where the rest goes on under its id, what clashes is another entry.
        const id = rebased.goes === undefined ? entry.id : `${entry.id}/aside`;
        aside.push({ entry: { ...entry, id, change: rebased.clashing }, why: 'clash', reason: rebased.reason });
      }
      const change = rebased.kind === 'goes' ? rebased.change : rebased.kind === 'clash' ? rebased.goes : undefined;
      if (change === undefined) continue;
      try {
        state = this.#rules.apply(state, change);
        kept.push({ ...entry, change });
      } catch (error) {
        const reason = reasonOf(error);
        aside.push({ entry: { ...entry, change }, why: 'clash', reason });
      }
    }
    this.#base = to;
    this.#waiting = kept;
    this.#shown = state;
    return aside;
  }
}
