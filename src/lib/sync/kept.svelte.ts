import { reasonOf } from '$lib/api/reason.ts';
import { History } from './history.ts';
import type { Told, Topic } from './live.ts';
import { Outbox, type Outlet, type OutboxStatus } from './outbox.ts';
import type { Aside } from './rules.ts';
import { attend, thisPage, type PageWays } from './work.ts';

/** Wait before work is read again where that failed, ms; it doubles up to the longest. */
const RETRY_MS = 1000;
const LONGEST_RETRY_MS = 15_000;

/** Steps are written down for a reload up to so many letters: a browser keeps a few millions for all of a page. */
const MOST_STEP_LETTERS = 1_000_000;

/** What work begins with. */
export interface Beginning<State, Change, Request, Stored, Theirs> {
  /** Its name in the browser's database, and among what the server tells. */
  scope: Topic;
  outlet: Outlet<State, Change, Request, Stored, Theirs>;
  base: State;
  /** Whether the base is what the server has, or only stands where nothing was read yet. */
  isRead: boolean;
  /** Where it is kept and heard of, where that is not this page. */
  page?: PageWays | undefined;
}

/**
 * Work that is kept: what it shows now, its way to the server and back, and its steps that can be taken back. Trains
 * and the drawer are both this; they add what is theirs. `Around` is what is to be there again once a step is taken back.
 */
export abstract class Kept<State, Change extends object, Around, Request, Stored, Theirs> {
  status = $state.raw<OutboxStatus>({ state: 'saved' });
  /** Changes of ours that met others' changes of the same, or that the server cannot take. */
  aside = $state.raw<readonly Aside<Change>[]>([]);
  undoLabel = $state.raw<string>();
  redoLabel = $state.raw<string>();
  /** Whether what is shown came from the server. */
  isRead = $state.raw(false);
  /** Why it could not be read the last time. */
  unread = $state.raw<string>();

  readonly #scope: Topic;
  readonly #page: PageWays;
  readonly #session = crypto.randomUUID();
  readonly #history: History<State, Change, Around>;
  readonly #outbox: Outbox<State, Change, Request, Stored, Theirs>;

  constructor({ scope, outlet, base, isRead, page = thisPage }: Beginning<State, Change, Request, Stored, Theirs>) {
    this.#scope = scope;
    this.#page = page;
    this.isRead = isRead;
    this.#history = new History(outlet.rules);
    this.#outbox = new Outbox({
      scope,
      session: this.#session,
      base,
      outlet,
      store: page.store,
      onchange: () => this.#show(),
      onstored: (stored) => {
        this.onstored(stored);
        this.#follow();
      },
      ondropped: (entry) => this.#history.forget(entry)
    });
  }

  /** Number of a state: news of a higher one have it read anew. */
  protected abstract numberOf(state: State): number;
  /** Number of the newest state it has something of, where that is not all of it. */
  protected newestOf(state: State): number {
    return this.numberOf(state);
  }

  /** The newest state. */
  protected abstract read(): Promise<State>;
  /** What takes a change back. @throws as the rules' `apply` does */
  protected abstract inverse(before: State, change: Change): Change;
  /** Why a change is refused, of what was thrown at it; undefined where that is a fault of the program. */
  protected abstract refusal(thrown: unknown): string | undefined;
  /** Says that something was not taken back. */
  protected abstract leftInWords(reason: string): string;
  /** What is to be there again once a change that is made now is taken back. */
  protected abstract around(): Around;
  /** Something that is shown may have changed. */
  protected abstract onshow(): void;

  /** A change as it has to be so that it overwrites what others made of the same, or why it cannot. */
  protected forced(change: Change): Change | string {
    return change;
  }

  /** A change with what it carries of the moment it is made in. */
  protected dated(change: Change): Change {
    return change;
  }

  /** Whether its steps can still be taken back after a reload: its states and changes have to be plain JSON. */
  protected readonly outlivesReload: boolean = false;

  /* What may be listened to. */
  protected onstored(_stored: Stored): void {}
  protected ontravelled(_around: Around): void {}
  protected onheard(_told: Told): void {}

  /** The state with all that is not stored yet. */
  protected get now(): State {
    return this.#outbox.shown;
  }

  /** The state the server is known to be in. */
  protected get base(): State {
    return this.#outbox.base;
  }

  protected get hasUnsaved(): boolean {
    return this.#outbox.hasUnsaved;
  }

  /** Begins to listen and to save; in the browser only. @returns what ends it */
  open(): () => void {
    this.#isOpen = true;
    const steps = this.outlivesReload ? this.#page.steps : undefined;
    const written = steps?.read(this.#scope);
    if (written) this.#history.restore(written);
    this.undoLabel = this.#history.undoLabel;
    this.redoLabel = this.#history.redoLabel;
    const gone = new AbortController();
    const write = (): void => steps?.write(this.#scope, this.#history.written(MOST_STEP_LETTERS));
    addEventListener('pagehide', write, { signal: gone.signal });
    // Before it is read: what is told while the answer is on its way is newer.
    const stopHearing = this.#page.live().subscribe(this.#scope, (told) => this.#hear(told));
    if (this.isRead) this.#attend();
    else void this.load();
    return () => {
      gone.abort();
      write();
      this.#isOpen = false;
      clearTimeout(this.#retry);
      stopHearing();
      this.#stopAttending?.();
      this.#stopAttending = undefined;
    };
  }
  #isOpen = false;
  #stopAttending: (() => void) | undefined;

  /** What was left unsaved goes on top of what is there: that has to be known first. */
  #attend(): void {
    this.#stopAttending ??= attend(this.#outbox, {
      page: this.#page,
      scope: this.#scope,
      session: this.#session,
      onleft: () => this.#history.endRun()
    });
  }

  #show(): void {
    this.status = this.#outbox.status;
    this.aside = this.#outbox.aside;
    this.undoLabel = this.#history.undoLabel;
    this.redoLabel = this.#history.redoLabel;
    this.onshow();
  }

  /**
   * Carries out a change.
   *
   * @param run steps of the same run are undone together, as typing in one field is
   * @returns why it was refused
   */
  do(change: Change, label: string, run?: string): string | undefined {
    return this.#refusing(() => {
      const extra = this.around();
      const undo = this.inverse(this.now, change);
      const entry = this.#add(change, label, run);
      this.#history.add({ label, undo, run, entry, after: this.now, extra });
      this.#show();
      return undefined;
    });
  }

  #add(change: Change, label: string, run?: string): string {
    const dated = this.dated(change);
    return this.#outbox.add({ id: crypto.randomUUID(), label, change: dated, run });
  }

  #refusing(work: () => string | undefined): string | undefined {
    try {
      return work();
    } catch (error) {
      const refusal = this.refusal(error);
      if (refusal === undefined) throw error;
      return refusal;
    }
  }

  /** Takes the last step back, on the state as it is now. @returns what could not be taken back, and why */
  undo(): string | undefined {
    return this.#travel('undo');
  }

  redo(): string | undefined {
    return this.#travel('redo');
  }

  /** Names the step that was done last, so that it can be taken back later whatever was done since. */
  get lastStep(): string | undefined {
    return this.#history.next('undo')?.made.at(-1)?.entry;
  }

  /** Whether a step has not been taken back yet. */
  stands(step: string): boolean {
    // Read, so that whoever asks is asked again after every step.
    void this.undoLabel;
    void this.redoLabel;
    return this.#history.holds(step);
  }

  /** Takes one step back, be it the last or not. @returns what could not be taken back, and why */
  takeBack(step: string): string | undefined {
    return this.#travel('undo', step);
  }

  #travel(direction: 'undo' | 'redo', step?: string): string | undefined {
    const next = step === undefined ? this.#history.next(direction) : undefined;
    const carryOut = (change: Change, label: string) => {
      const undo = this.inverse(this.now, change);
      return { undo, entry: this.#add(change, label), after: this.now };
    };
    try {
      return this.#refusing(() => {
        const left = this.#history.travel(direction, this.now, carryOut, step);
        return left && this.leftInWords(left);
      });
    } finally {
      this.#show();
      if (next) this.ontravelled(next.extra);
    }
  }

  /** Makes a change that was set aside all the same, whatever it overwrites. @returns why that cannot be */
  insist(entry: string): string | undefined {
    const aside = this.aside.find((each) => each.entry.id === entry);
    if (!aside) return undefined;
    const { change, label } = aside.entry;
    const forced = this.forced(change);
    if (typeof forced === 'string') return forced;
    const refusal = this.do(forced, label);
    if (refusal === undefined) this.letGo(entry);
    return refusal;
  }

  /** Lets a change that was set aside go. */
  letGo(entry: string): void {
    this.#outbox.takeAside(entry);
  }

  /** Sends now what waits, as when somebody has signed in. */
  saveNow(): Promise<void> {
    return this.#outbox.flush();
  }

  /** Tries again at once what could not be sent. */
  protected retry(): void {
    this.#outbox.retry();
  }

  /** Highest number of a state that was heard of. */
  #heard = -1;
  #reading: Promise<void> | undefined;
  #retry: ReturnType<typeof setTimeout> | undefined;
  #retryMs = RETRY_MS;

  #hear(told: Told): void {
    if (told.number !== undefined) this.#heard = Math.max(this.#heard, told.number);
    this.onheard(told);
    this.#follow();
  }

  get #isBehind(): boolean {
    return this.#newest > this.numberOf(this.base);
  }

  /** Number of the newest state there is, as far as is known here. */
  get #newest(): number {
    return Math.max(this.#heard, this.newestOf(this.base));
  }

  /** Somebody else has changed it: it is read anew. While ours is on its way the reply tells how it stands. */
  #follow(): void {
    if (this.#isBehind && !this.#outbox.isSending) void this.load();
  }

  /** Reads it anew; what is unsaved here goes on top of it. Where that fails it is tried again later. */
  load(): Promise<void> {
    clearTimeout(this.#retry);
    this.#reading ??= this.#read().finally(() => (this.#reading = undefined));
    return this.#reading;
  }

  async #read(): Promise<void> {
    try {
      const state = await this.read();
      this.unread = undefined;
      this.#retryMs = RETRY_MS;
      this.#outbox.receive(state);
      this.isRead = true;
      if (this.#isOpen) this.#attend();
      // What was heard of while it was being read.
      if (this.#newest > this.numberOf(state)) this.#later();
    } catch (error) {
      this.unread = reasonOf(error);
      this.#later();
    }
  }

  #later(): void {
    if (!this.#isOpen) return;
    this.#retry = setTimeout(() => void this.load(), this.#retryMs);
    this.#retryMs = Math.min(2 * this.#retryMs, LONGEST_RETRY_MS);
  }
}
