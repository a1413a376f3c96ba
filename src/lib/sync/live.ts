import type { Heads, News } from '$lib/api/live.ts';
import { whose } from './whose.ts';

/** What is told of one topic: the number of its newest state, or what has become of it. */
export interface Told {
  number?: number;
  state?: string;
}

export type Topic = 'drawer' | `train/${string}` | `frames/${string}`;

/** A page nobody has looked at for this long needs no news, ms. */
const HIDDEN_MS = 60_000;

/** A connection that was refused is not tried again by the browser: it is by us, after this, ms. */
const REFUSED_MS = 3000;
const CLOSED = 2;

const LOCK = 'lodestone-live';
const CHANNEL = 'lodestone-live';

type Message = { kind: 'heads'; heads: Heads } | { kind: 'news'; news: News } | { kind: 'ask' };

/** What pages need of the browser, so that it can be told apart from it. */
export interface LiveSurroundings {
  locks: Pick<LockManager, 'request'> | undefined;
  channel: Pick<BroadcastChannel, 'postMessage' | 'addEventListener'> | undefined;
  source: () => Pick<EventSource, 'addEventListener' | 'close' | 'readyState'>;
  isHidden: () => boolean;
  onVisibility: (changed: () => void) => void;
}

/**
 * Hears of everything that changes, over one connection a browser: one page holds it and tells the others, and when
 * it goes the next one takes its place. Nobody holds it while every page has been hidden for long.
 */
export class Live {
  readonly #surroundings: LiveSurroundings;
  readonly #listeners = new Map<Topic, Set<(told: Told) => void>>();
  readonly #connected = new Set<() => void>();
  #begun = false;
  #candidacy: AbortController | undefined;
  #leads = false;
  #hiding: ReturnType<typeof setTimeout> | undefined;
  /** How everything stands, as far as it was told; the leader answers new pages from it. */
  #heads: { drawer: number; trains: Record<string, Heads['trains'][string]> } | undefined;

  constructor(surroundings: LiveSurroundings) {
    this.#surroundings = surroundings;
  }

  /** Whether this page holds the connection. */
  get leads(): boolean {
    return this.#leads;
  }

  /** Hears of one thing, how it stands first. @returns what ends it */
  subscribe(topic: Topic, hear: (told: Told) => void): () => void {
    const hearing = this.#listeners.get(topic) ?? new Set();
    this.#listeners.set(topic, hearing);
    hearing.add(hear);
    this.#begin();
    if (this.#heads) this.#tell(topic, hear);
    else this.#post({ kind: 'ask' });
    return () => {
      hearing.delete(hear);
      if (hearing.size === 0) this.#listeners.delete(topic);
      if (this.#listeners.size === 0) this.#withdraw();
    };
  }

  /** Called whenever the server is heard again after a gap. @returns what ends it */
  onConnected(work: () => void): () => void {
    this.#connected.add(work);
    return () => this.#connected.delete(work);
  }

  #begin(): void {
    const { channel, onVisibility } = this.#surroundings;
    if (!this.#begun) {
      this.#begun = true;
      channel?.addEventListener('message', ({ data }) => this.#hear(data as Message));
      onVisibility(() => this.#lookedAt());
    }
    this.#stand();
  }

  /** Waits to be the page that holds the connection. */
  #stand(): void {
    if (this.#candidacy || this.#listeners.size === 0) return;
    const candidacy = new AbortController();
    this.#candidacy = candidacy;
    const { locks } = this.#surroundings;
    if (!locks) return void this.#lead(candidacy.signal);
    void locks
      .request(whose(LOCK), { signal: candidacy.signal }, () => this.#lead(candidacy.signal))
      // Withdrawn before its turn came.
      .catch(() => undefined);
  }

  /** Holds the connection until it is withdrawn. */
  #lead(signal: AbortSignal): Promise<void> {
    if (signal.aborted) return Promise.resolve();
    this.#leads = true;
    const pass = (message: Message): void => {
      this.#hear(message);
      this.#post(message);
    };
    const said = (event: Event): unknown => JSON.parse((event as MessageEvent<string>).data);
    let source: ReturnType<LiveSurroundings['source']>;
    let again: ReturnType<typeof setTimeout> | undefined;
    const connect = (): void => {
      source = this.#surroundings.source();
      source.addEventListener('heads', (event) => pass({ kind: 'heads', heads: said(event) as Heads }));
      source.addEventListener('news', (event) => pass({ kind: 'news', news: said(event) as News }));
      source.addEventListener('error', () => {
        if (source.readyState === CLOSED) again = setTimeout(connect, REFUSED_MS);
      });
    };
    connect();
    return new Promise((over) => {
      signal.addEventListener('abort', () => {
        clearTimeout(again);
        source.close();
        this.#leads = false;
        over();
      });
    });
  }

  #withdraw(): void {
    this.#candidacy?.abort();
    this.#candidacy = undefined;
    // What is told from now on is not heard here; it is asked for again.
    this.#heads = undefined;
  }

  /** The page came into view, or went out of it. */
  #lookedAt(): void {
    clearTimeout(this.#hiding);
    if (this.#surroundings.isHidden()) {
      this.#hiding = setTimeout(() => this.#withdraw(), HIDDEN_MS);
      return;
    }
    if (this.#listeners.size === 0) return;
    this.#stand();
    if (!this.#leads) this.#post({ kind: 'ask' });
  }

  #post(message: Message): void {
    this.#surroundings.channel?.postMessage(message);
  }

  #hear(message: Message): void {
    switch (message.kind) {
      case 'ask':
        if (this.#leads && this.#heads) this.#post({ kind: 'heads', heads: this.#heads });
        return;
      case 'heads':
        this.#heads = { drawer: message.heads.drawer, trains: { ...message.heads.trains } };
        for (const [topic, hearing] of this.#listeners) for (const hear of hearing) this.#tell(topic, hear);
        for (const work of this.#connected) work();
        return;
      case 'news':
        this.#take(message.news);
    }
  }

  #take(news: News): void {
    const topic: Topic = 'drawer' in news ? 'drawer' : `${'frame' in news ? 'frames' : 'train'}/${news.train}`;
    if (this.#heads) {
      if ('drawer' in news) this.#heads.drawer = news.drawer;
      else {
        const before = this.#heads.trains[news.train] ?? { number: 0, state: 'active' as const, frame: 0 };
        const { train: _, ...now } = news;
        this.#heads.trains[news.train] = { ...before, ...now };
      }
    }
    const told: Told =
      'drawer' in news
        ? { number: news.drawer }
        : 'frame' in news
          ? { number: news.frame }
          : 'number' in news
            ? { number: news.number }
            : { state: news.state };
    for (const hear of this.#listeners.get(topic) ?? []) hear(told);
  }

  /** How one thing stands. */
  #tell(topic: Topic, hear: (told: Told) => void): void {
    if (!this.#heads) return;
    if (topic === 'drawer') hear({ number: this.#heads.drawer });
    else {
      const [kind, id] = topic.split('/') as ['train' | 'frames', string];
      const head = this.#heads.trains[id];
      if (head) hear(kind === 'frames' ? { number: head.frame } : { number: head.number, state: head.state });
    }
  }
}

let live: Live | undefined;

/** The page's own; in the browser only. */
export const pageLive = (): Live =>
  (live ??= new Live({
    locks: navigator.locks,
    channel: typeof BroadcastChannel === 'undefined' ? undefined : new BroadcastChannel(whose(CHANNEL)),
    source: () => new EventSource('/api/events'),
    isHidden: () => document.hidden,
    onVisibility: (changed) => document.addEventListener('visibilitychange', changed)
  }));
