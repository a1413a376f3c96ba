import type { Reply } from '$lib/api/ask.ts';
import { Replica } from './replica.ts';
import type { Aside, Entry, Rules } from './rules.ts';
import type { KeptSession, KeptStore } from './store.ts';

/**
 * saved; about to be sent; being sent; nobody answers; something has to be done first; somebody has to sign in.
 * What was set aside is told beside it.
 */
export type OutboxState = 'saved' | 'unsaved' | 'saving' | 'offline' | 'blocked' | 'sign-in';

export interface OutboxStatus {
  state: OutboxState;
  message?: string;
}

/** How one kind of work goes to the server, and how it lies in the browser's database. */
export interface Outlet<State, Change, Request, Stored, Theirs> {
  rules: Rules<State, Change>;
  /** Most entries one request carries. */
  most: number;
  /** What is sent for the first entries that wait. It is sent again as it is until a reply comes. */
  request(entries: readonly Entry<Change>[], base: State): Request;
  send(request: Request): Promise<Reply<Stored, Theirs>>;
  /** The state the server is in after a reply. */
  afterStored(stored: Stored, base: State, entries: readonly Entry<Change>[]): State;
  afterStale(theirs: Theirs, base: State): State;
  /** Whether one state that was heard of is newer than another. */
  isNewer(state: State, than: State): boolean;
  /** What of the base has to be kept so that these entries can go on from it later. */
  keepBase(base: State, entries: readonly Entry<Change>[]): unknown;
  /** Undefined where what was kept cannot be read any more. */
  restoreBase(kept: unknown, now: State): State | undefined;
}

export interface OutboxOptions<State, Change, Request, Stored, Theirs> {
  /** What is kept: `drawer`, `train/…`. */
  scope: string;
  /** This session among all that keep the same. */
  session: string;
  base: State;
  outlet: Outlet<State, Change, Request, Stored, Theirs>;
  store: KeptStore;
  /** Something that is shown has changed. */
  onchange: () => void;
  onstored?: (stored: Stored) => void;
  /** An entry will never be stored as it is: steps made of it are gone. */
  ondropped?: (entry: string) => void;
  /** Quiet time before a change is sent, and before typing is, ms. */
  quietMs?: number;
  typingMs?: number;
  /** First wait before another try, ms; it doubles up to the longest. */
  retryMs?: number;
  longestRetryMs?: number;
}

/** A request the server fails at so often, while it answers, is one it cannot take. */
const FAILURES_BORNE = 5;

/** Being overtaken again and again without a save in between is no race any more. */
const STALE_BORNE = 8;

/** A browser's database that does not answer holds nothing up for longer than this, ms. */
const KEEP_PATIENCE_MS = 2000;

/** Nobody signs in every second. */
const SIGN_IN_RETRY_MS = 30_000;

const pause = (ms: number): Promise<void> => new Promise((over) => setTimeout(over, ms));

/**
 * Carries changes to the server: kept in the browser before the first attempt, sent one request at a time when typing
 * pauses, and again, under the same id, until a reply has come. What others have changed meanwhile is combined with;
 * a change that clashes with theirs, or that the server can never take, is set aside, and the rest goes on.
 */
export class Outbox<State, Change, Request, Stored, Theirs> {
  readonly #options: Required<
    Pick<OutboxOptions<State, Change, Request, Stored, Theirs>, 'quietMs' | 'typingMs' | 'retryMs' | 'longestRetryMs'>
  > &
    OutboxOptions<State, Change, Request, Stored, Theirs>;
  readonly #replica: Replica<State, Change>;
  #status: OutboxStatus = { state: 'saved' };
  #aside: readonly Aside<Change>[] = [];
  /** What is being sent, or was sent without a reply: so many of the first entries. */
  #inFlight: { count: number; request: Request } | undefined;
  #limit: number;
  #failures = 0;
  #stale = 0;
  #retryMs: number;
  #timer: ReturnType<typeof setTimeout> | undefined;
  #running: Promise<void> | undefined;
  #ended = false;
  #keeps = true;
  #keeping: Promise<void> = Promise.resolve();
  /** Others' state that came while a reply was waited for. */
  #news: State | undefined;
  /** Until then somebody may be in the middle of a number, ms as the page counts them. */
  #quietFrom = 0;

  constructor(options: OutboxOptions<State, Change, Request, Stored, Theirs>) {
    this.#options = { quietMs: 150, typingMs: 1000, retryMs: 1000, longestRetryMs: 15_000, ...options };
    this.#replica = new Replica(options.outlet.rules, options.base);
    this.#limit = options.outlet.most;
    this.#retryMs = this.#options.retryMs;
  }

  get shown(): State {
    return this.#replica.shown;
  }

  get base(): State {
    return this.#replica.base;
  }

  get status(): OutboxStatus {
    return this.#status;
  }

  get aside(): readonly Aside<Change>[] {
    return this.#aside;
  }

  get hasUnsaved(): boolean {
    return this.#replica.waiting.length > 0;
  }

  /** Whether a reply is being waited for, or may still come for what was sent. */
  get isSending(): boolean {
    return this.#inFlight !== undefined;
  }

  /** Whether this browser keeps what is unsaved. */
  get keeps(): boolean {
    return this.#keeps;
  }

  /**
   * Takes a change in; it shows at once.
   *
   * @returns id of the entry it went into
   * @throws Error when it makes no sense
   */
  add(entry: Entry<Change>): string {
    const id = this.#replica.add(entry, this.#inFlight?.count ?? 0);
    const { quietMs, typingMs } = this.#options;
    const quiet = entry.run === undefined ? quietMs : typingMs;
    this.#quietFrom = performance.now() + quiet;
    if (!this.hasUnsaved) {
      // Typed and taken back: there is nothing to send.
      clearTimeout(this.#timer);
      this.#tell({ state: 'saved' });
    } else {
      if (this.#status.state === 'saved') this.#status = { state: 'unsaved' };
      if (this.#status.state === 'unsaved') this.#schedule(quiet);
    }
    void this.#keep();
    this.#options.onchange();
    return id;
  }

  /** The field that was typed in was left: there is no need to wait for more. */
  hurry(): void {
    this.#quietFrom = 0;
    if (this.#status.state === 'unsaved') this.#schedule(0);
  }

  /** Others have made this of it. */
  receive(theirs: State): void {
    if (!this.#options.outlet.isNewer(theirs, this.#replica.base)) return;
    if (this.#inFlight) {
      // The reply says how far ours goes with it; it is looked at after that.
      this.#news = theirs;
      return;
    }
    this.#setAside(this.#replica.rebase(theirs));
    void this.#keep();
    if (!this.hasUnsaved && this.#status.state !== 'saved') this.#tell({ state: 'saved' });
    else this.#options.onchange();
  }

  /** Sends now what waits, whatever is being typed: on the way out, and when somebody asks for it. */
  flush(): Promise<void> {
    this.#quietFrom = 0;
    return this.#send();
  }

  /** Tries again at once what could not be sent: the network is back, or the page is looked at again. */
  retry(): void {
    if (['offline', 'blocked', 'sign-in'].includes(this.#status.state)) void this.#send();
  }

  #send(): Promise<void> {
    clearTimeout(this.#timer);
    if (this.#ended) return this.#running ?? Promise.resolve();
    this.#running ??= this.#run().finally(() => (this.#running = undefined));
    return this.#running;
  }

  /** Stops trying; what is unsaved stays in the browser's database, for whoever comes next. */
  end(): void {
    this.#ended = true;
    clearTimeout(this.#timer);
  }

  /** Says what becomes of a change that was set aside: it is gone from here. */
  takeAside(entry: string): Aside<Change> | undefined {
    const found = this.#aside.find((aside) => aside.entry.id === entry);
    this.#aside = this.#aside.filter((aside) => aside !== found);
    void this.#keep();
    this.#options.onchange();
    return found;
  }

  /** Takes over what a session that is gone has left behind, once nothing of our own is on its way. */
  async takeOver(kept: KeptSession<Change, Request>): Promise<void> {
    while (this.hasUnsaved && !this.#ended) await pause(50);
    if (this.#ended) return;
    const now = this.#replica.base;
    const base = this.#options.outlet.restoreBase(kept.base, now);
    this.#aside = [...this.#aside, ...kept.aside];
    if (base === undefined) {
      const reason = 'This version cannot read what it was made from.';
      this.#aside = [...this.#aside, ...kept.waiting.map((entry) => ({ entry, why: 'refused' as const, reason }))];
    } else {
      const unfit = this.#replica.restore(base, kept.waiting);
      this.#setAside(unfit);
      // What was sent without a reply may be stored: only the server knows, and only the same request asks it.
      if (kept.inFlight && unfit.length === 0) {
        this.#inFlight = kept.inFlight;
        this.#news = now;
      } else this.#setAside(this.#replica.rebase(now));
    }
    await this.#keep();
    this.#tell({ state: this.hasUnsaved ? 'unsaved' : 'saved' });
    if (this.hasUnsaved) void this.flush();
  }

  async #run(): Promise<void> {
    while (!this.#ended && this.hasUnsaved) {
      const quietIn = this.#quietFrom - performance.now();
      if (!this.#inFlight && quietIn > 0) {
        // Somebody went on typing while the last was on its way.
        this.#tell({ state: 'unsaved' });
        this.#schedule(quietIn);
        return;
      }
      const goesOn = await this.#sendOne();
      if (!goesOn) return;
    }
    if (!this.hasUnsaved) this.#tell({ state: 'saved' });
  }

  /** Sends one request and deals with the reply. @returns whether there may be more to do at once */
  async #sendOne(): Promise<boolean> {
    const { outlet } = this.#options;
    if (!this.#inFlight) {
      const entries = this.#replica.waiting.slice(0, this.#limit);
      this.#inFlight = { count: entries.length, request: outlet.request(entries, this.#replica.base) };
    }
    const { count, request } = this.#inFlight;
    this.#tell({ state: 'saving' });
    await this.#keepBriefly();
    const reply = await outlet.send(request);
    if (reply.kind === 'later' && reply.why === 'failing' && ++this.#failures >= FAILURES_BORNE) {
      this.#failures = 0;
      return this.#refused(count, `The server failed at it ${FAILURES_BORNE} times: ${reply.message}`);
    }
    switch (reply.kind) {
      case 'stored': {
        const entries = this.#replica.waiting.slice(0, count);
        this.#inFlight = undefined;
        this.#limit = outlet.most;
        this.#goesWell();
        this.#stale = 0;
        const after = outlet.afterStored(reply.stored, this.#replica.base, entries);
        this.#setAside(this.#replica.settle(count, after));
        this.#takeNews();
        await this.#keepBriefly();
        this.#options.onstored?.(reply.stored);
        this.#options.onchange();
        return true;
      }
      case 'stale':
        this.#inFlight = undefined;
        this.#goesWell();
        this.#setAside(this.#replica.rebase(outlet.afterStale(reply.theirs, this.#replica.base)));
        this.#takeNews();
        await this.#keepBriefly();
        if (++this.#stale < STALE_BORNE) return true;
        this.#stale = 0;
        return this.#again({ state: 'offline', message: 'It is being changed elsewhere all the time.' });
      case 'refused':
        this.#goesWell();
        return this.#refused(count, reply.message);
      case 'sign-in':
        this.#retryMs = SIGN_IN_RETRY_MS;
        return this.#again({ state: 'sign-in', message: reply.message });
      case 'later':
        return this.#again({ state: reply.why === 'blocked' ? 'blocked' : 'offline', message: reply.message });
    }
  }

  #goesWell(): void {
    this.#failures = 0;
    this.#retryMs = this.#options.retryMs;
  }

  /** Tries the same again after a while. */
  #again(status: OutboxStatus): false {
    this.#tell(status);
    this.#schedule(this.#retryMs);
    this.#retryMs = Math.min(this.#retryMs * 2, Math.max(this.#options.longestRetryMs, this.#retryMs));
    return false;
  }

  /** The server cannot take it. Of several, the one that is to blame is looked for, so that the others go on. */
  async #refused(count: number, reason: string): Promise<boolean> {
    this.#inFlight = undefined;
    if (count > 1) {
      this.#limit = Math.ceil(count / 2);
      return true;
    }
    this.#limit = this.#options.outlet.most;
    const [entry] = this.#replica.waiting;
    if (entry) {
      this.#setAside([{ entry, why: 'refused', reason }, ...this.#replica.drop(entry.id)]);
    }
    this.#takeNews();
    await this.#keepBriefly();
    return true;
  }

  #setAside(aside: readonly Aside<Change>[]): void {
    if (aside.length === 0) return;
    this.#aside = [...this.#aside, ...aside];
    for (const { entry } of aside) this.#options.ondropped?.(entry.id);
  }

  /** What was heard while a reply was waited for. */
  #takeNews(): void {
    const news = this.#news;
    this.#news = undefined;
    if (news !== undefined && this.#options.outlet.isNewer(news, this.#replica.base)) {
      this.#setAside(this.#replica.rebase(news));
    }
  }

  #tell(status: OutboxStatus): void {
    this.#status = status;
    this.#options.onchange();
  }

  #schedule(ms: number): void {
    clearTimeout(this.#timer);
    if (!this.#ended) this.#timer = setTimeout(() => void this.#send(), ms);
  }

  /** Writes down what is not stored yet; one writing after the other, the newest last. */
  #keep(): Promise<void> {
    this.#keeping = this.#keeping.then(() => this.#keepNow());
    return this.#keeping;
  }

  /** The same, without waiting for a browser's database that does not answer. */
  async #keepBriefly(): Promise<void> {
    await Promise.race([this.#keep(), pause(KEEP_PATIENCE_MS)]);
  }

  async #keepNow(): Promise<void> {
    const { store, scope, session, outlet } = this.#options;
    const { waiting, base } = this.#replica;
    try {
      if (waiting.length === 0 && this.#aside.length === 0) {
        await store.drop(scope, session);
      } else {
        await store.put({
          scope,
          session,
          base: outlet.keepBase(base, waiting),
          waiting,
          aside: this.#aside,
          ...(this.#inFlight ? { inFlight: this.#inFlight } : {}),
          changedAt: Date.now()
        });
      }
      this.#keeps = true;
    } catch (error) {
      // A browser that keeps nothing (private window, full disk): the server still gets it, if the page stays.
      if (this.#keeps) console.warn('Unsaved work could not be kept in this browser', error);
      this.#keeps = false;
    }
  }
}
