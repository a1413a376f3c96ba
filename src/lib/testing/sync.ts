// The simplest work that can be kept, and a server for it that loses, refuses, lags and goes away.
import { vi } from 'vitest';
import type { Reply } from '$lib/api/ask.ts';
import type { Told, Topic } from '$lib/sync/live.ts';
import type { Outlet } from '$lib/sync/outbox.ts';
import type { Rules } from '$lib/sync/rules.ts';
import type { KeptSession, KeptStore } from '$lib/sync/store.ts';
import type { PageWays } from '$lib/sync/work.ts';

/** Words by key, and the number of the revision they are in. */
export interface Words {
  number: number;
  words: Readonly<Record<string, string>>;
}

/** Keys to set; undefined: to take out. */
export type WordsChange = Readonly<Record<string, string | undefined>>;

export interface WordsRequest {
  id: string;
  basedOn: number;
  words: Words['words'];
}

const without = (words: Record<string, string | undefined>): Record<string, string> =>
  Object.fromEntries(Object.entries(words).filter((entry): entry is [string, string] => entry[1] !== undefined));

export const wordsRules: Rules<Words, WordsChange> = {
  apply(state, change) {
    if ('impossible' in change) throw new Error('makes no sense');
    return { ...state, words: without({ ...state.words, ...change }) };
  },
  rebaseOnto: (base, theirs, holds) => (change) => {
    const goes: Record<string, string | undefined> = {};
    const clashing: Record<string, string | undefined> = {};
    for (const [key, to] of Object.entries(change)) {
      const changedThere = base.words[key] !== theirs.words[key];
      if (changedThere && theirs.words[key] === to) continue;
      (changedThere && holds !== 'ours' ? clashing : goes)[key] = to;
    }
    const going = Object.keys(goes).length > 0;
    const clashes = Object.keys(clashing);
    if (clashes.length > 0) {
      return { kind: 'clash', reason: `${clashes.join(', ')} changed there too`, clashing, ...(going ? { goes } : {}) };
    }
    return going ? { kind: 'goes', change: goes } : { kind: 'done' };
  },
  joined: (earlier, later) => ({ ...earlier, ...later }),
  changesNothing: (state, change) => Object.entries(change).every(([key, to]) => state.words[key] === to)
};

export const inverseOf = (state: Words, change: WordsChange): WordsChange =>
  Object.fromEntries(Object.keys(change).map((key) => [key, state.words[key]]));

export type Fault = 'lost before' | 'lost after' | 401 | 413 | 500 | 503 | 'not JSON' | 'blocked';

/** Keeps revisions, knows ids, and fails as it is told to. */
export class WordsServer {
  revisions: { id: string; words: Words['words'] }[] = [{ id: 'first', words: { a: '1', b: '1' } }];
  received: WordsRequest[] = [];
  /** What happens to the next requests, in turn. */
  faults: Fault[] = [];
  away = false;
  /** Words it can never take. */
  poison: string | undefined;
  poisonStatus: 'refused' | 500 = 'refused';
  lagMs = 0;

  get head(): Words {
    return { number: this.revisions.length, words: this.revisions.at(-1)!.words };
  }

  /** Somebody else saves. */
  change(change: WordsChange): Words {
    this.revisions.push({ id: `theirs-${this.revisions.length}`, words: without({ ...this.head.words, ...change }) });
    return this.head;
  }

  send = async (request: WordsRequest): Promise<Reply<Words, Words>> => {
    await new Promise((over) => setTimeout(over, this.lagMs));
    if (this.away) return { kind: 'later', why: 'away', message: 'away' };
    const fault = this.faults.shift();
    if (fault === 'lost before' || fault === 'not JSON' || fault === 503) {
      return { kind: 'later', why: 'away', message: String(fault) };
    }
    if (fault === 'blocked') return { kind: 'later', why: 'blocked', message: 'deleted' };
    if (fault === 401) return { kind: 'sign-in', message: 'who is it?' };
    if (fault === 500) return { kind: 'later', why: 'failing', message: 'broken' };
    if (fault === 413) return { kind: 'refused', message: 'too large' };
    this.received.push(request);
    if (this.poison !== undefined && Object.values(request.words).includes(this.poison)) {
      return this.poisonStatus === 500
        ? { kind: 'later', why: 'failing', message: 'broken' }
        : { kind: 'refused', message: `“${this.poison}” is no word` };
    }
    const known = this.revisions.findIndex(({ id }) => id === request.id);
    if (known < 0 && request.basedOn !== this.revisions.length) return { kind: 'stale', theirs: this.head };
    if (known < 0) this.revisions.push({ id: request.id, words: request.words });
    const number = known < 0 ? this.revisions.length : known + 1;
    if (fault === 'lost after') return { kind: 'later', why: 'away', message: 'the reply was lost' };
    return { kind: 'stored', stored: { number, words: this.revisions[number - 1]!.words } };
  };

  outlet(most = 100): Outlet<Words, WordsChange, WordsRequest, Words, Words> {
    return {
      rules: wordsRules,
      most,
      request: (entries, base) => ({
        id: crypto.randomUUID(),
        basedOn: base.number,
        words: entries.reduce((state, { change }) => wordsRules.apply(state, change), base).words
      }),
      send: (request) => this.send(request),
      afterStored: (stored) => stored,
      afterStale: (theirs) => theirs,
      isNewer: (state, than) => state.number > than.number,
      keepBase: (base) => base,
      restoreBase: (kept) => (kept === 'unreadable' ? undefined : (kept as Words))
    };
  }
}

/** The browser's own database, as far as it goes; what is put in is copied, as there. */
export class FakeStore implements KeptStore {
  readonly kept = new Map<string, KeptSession>();
  broken = false;
  /** Never answers, as a database that another page blocks. */
  hangs = false;

  async #use<T>(work: () => T): Promise<T> {
    if (this.hangs) await new Promise(() => undefined);
    if (this.broken) throw new DOMException('no room', 'QuotaExceededError');
    return work();
  }

  put = (kept: KeptSession): Promise<void> =>
    this.#use(() => void this.kept.set(`${kept.scope} ${kept.session}`, structuredClone(kept)));
  drop = (scope: string, session: string): Promise<void> =>
    this.#use(() => void this.kept.delete(`${scope} ${session}`));
  get = (scope: string, session: string): Promise<KeptSession | undefined> =>
    this.#use(() => structuredClone(this.kept.get(`${scope} ${session}`)));
  list = (scope: string): Promise<KeptSession[]> =>
    this.#use(() =>
      [...this.kept.values()].filter((each) => each.scope === scope).map((each) => structuredClone(each))
    );
}

/** Locks as the browser has them: one holder at a time, the others wait their turn; one that is closed holds none. */
export class FakeLocks {
  readonly #queues = new Map<string, (() => void)[]>();

  request = (async (
    name: string,
    given: { signal?: AbortSignal } | ((lock: Lock | null) => Promise<unknown>),
    callback?: (lock: Lock | null) => Promise<unknown>
  ): Promise<unknown> => {
    const [options, work] = typeof given === 'function' ? [{}, given] : [given, callback!];
    const queue = this.#queues.get(name) ?? [];
    this.#queues.set(name, queue);
    if (queue.length > 0) {
      await new Promise<void>((next, withdrawn) => {
        const mine = (): void => next();
        queue.push(mine);
        options.signal?.addEventListener('abort', () => {
          const at = queue.indexOf(mine);
          if (at <= 0) return;
          queue.splice(at, 1);
          withdrawn(new DOMException('withdrawn', 'AbortError'));
        });
      });
    } else queue.push(() => undefined);
    try {
      return await work(null);
    } finally {
      queue.shift();
      queue[0]?.();
    }
  }) as LockManager['request'];
}

/** What others change, told as the page's connection does. */
export class FakeLive {
  readonly #hearing = new Map<Topic, Set<(told: Told) => void>>();

  subscribe = (topic: Topic, hear: (told: Told) => void): (() => void) => {
    const hearing = this.#hearing.get(topic) ?? new Set();
    this.#hearing.set(topic, hearing.add(hear));
    return () => hearing.delete(hear);
  };

  onConnected = (): (() => void) => () => undefined;

  tell(topic: Topic, told: Told): void {
    for (const hear of this.#hearing.get(topic) ?? []) hear(told);
  }
}

/** A page in a browser of its own, unless it is given the store of another. */
export class FakePage implements PageWays {
  readonly live: () => FakeLive;

  constructor(
    readonly store = new FakeStore(),
    live = new FakeLive()
  ) {
    this.live = () => live;
  }
}

/** What of the browser the page listens to, as far as tests without one need it. */
export function stubBrowser(): void {
  vi.stubGlobal('navigator', { locks: new FakeLocks() });
  vi.stubGlobal('addEventListener', () => undefined);
  vi.stubGlobal('document', { addEventListener: () => undefined });
}
