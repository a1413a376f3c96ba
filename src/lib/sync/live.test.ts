import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Heads, News } from '$lib/api/live.ts';
import { FakeLocks, FakeStore } from '$lib/testing/sync.ts';
import { Live, type Told } from './live.ts';
import { adoptOrphans, holdSession } from './tabs.ts';

beforeEach(() => vi.useFakeTimers());
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

/** One browser: its locks, its channel between pages, its connections. */
class Browser {
  readonly locks = new FakeLocks();
  readonly pages: ((event: MessageEvent) => void)[] = [];
  readonly open = new Set<Source>();
  heads: Heads = { drawer: 1, trains: { t: { number: 1, state: 'active', frame: 0 } } };

  page() {
    let hidden = false;
    let changed = (): void => undefined;
    let own: ((event: MessageEvent) => void) | undefined;
    const live = new Live({
      locks: this.locks,
      channel: {
        postMessage: (data: unknown) =>
          this.pages.filter((each) => each !== own).forEach((hear) => hear({ data } as MessageEvent)),
        addEventListener: (_kind: string, hear: unknown) => {
          own = hear as (event: MessageEvent) => void;
          this.pages.push(own);
        }
      },
      source: () => new Source(this),
      isHidden: () => hidden,
      onVisibility: (work) => (changed = work)
    });
    const look = (away: boolean): void => {
      hidden = away;
      changed();
    };
    return { live, look };
  }

  tell(news: News): void {
    if ('drawer' in news) this.heads = { ...this.heads, drawer: news.drawer };
    for (const source of this.open) source.say('news', news);
  }
}

class Source {
  readyState = 1;
  readonly #heard = new Map<string, ((event: Event) => void)[]>();
  constructor(readonly browser: Browser) {
    browser.open.add(this);
    setTimeout(() => this.say('heads', browser.heads));
  }
  addEventListener = (kind: string, hear: unknown): void =>
    void this.#heard.set(kind, [...(this.#heard.get(kind) ?? []), hear as (event: Event) => void]);
  say(kind: string, body: unknown): void {
    if (!this.browser.open.has(this)) return;
    for (const hear of this.#heard.get(kind) ?? []) hear({ data: JSON.stringify(body) } as MessageEvent);
  }
  refuse(): void {
    this.readyState = 2;
    this.browser.open.delete(this);
    for (const hear of this.#heard.get('error') ?? []) hear({} as Event);
  }
  close = (): void => void this.browser.open.delete(this);
}

const settle = (): Promise<unknown> => vi.advanceTimersByTimeAsync(10);

describe('ten pages of one browser', () => {
  it('share one connection, hear how things stand and what changes, and the next takes over when one goes', async () => {
    const browser = new Browser();
    const heard = Array.from({ length: 10 }, (): Told[] => []);
    const pages = heard.map((told) => {
      const page = browser.page();
      return { ...page, stop: page.live.subscribe('drawer', (each) => told.push(each)) };
    });
    await settle();
    expect(browser.open.size).toBe(1);
    expect(heard.every((told) => told.at(-1)?.number === 1)).toBe(true);
    browser.tell({ drawer: 2 });
    expect(heard.every((told) => told.at(-1)?.number === 2)).toBe(true);

    const leader = pages.findIndex(({ live }) => live.leads);
    pages[leader]!.stop();
    await settle();
    expect(browser.open.size).toBe(1);
    expect(pages.filter(({ live }) => live.leads)).toHaveLength(1);
    browser.tell({ drawer: 3 });
    expect(heard.filter((_, index) => index !== leader).every((told) => told.at(-1)?.number === 3)).toBe(true);
  });

  it('one that comes later is told by the one that holds the connection', async () => {
    const browser = new Browser();
    browser.page().live.subscribe('drawer', () => undefined);
    await settle();
    const told: Told[] = [];
    browser.page().live.subscribe('train/t', (each) => told.push(each));
    await settle();
    expect(told).toEqual([{ number: 1, state: 'active' }]);
    browser.tell({ train: 't', number: 2 });
    browser.tell({ train: 'other', number: 9 });
    browser.tell({ train: 't', state: 'deleted' });
    expect(told.slice(1)).toEqual([{ number: 2 }, { state: 'deleted' }]);
  });

  it('frames are told apart from revisions', async () => {
    const browser = new Browser();
    const { live } = browser.page();
    const [frames, train]: [Told[], Told[]] = [[], []];
    live.subscribe('frames/t', (each) => frames.push(each));
    live.subscribe('train/t', (each) => train.push(each));
    await settle();
    browser.tell({ train: 't', frame: 3 });
    expect(frames).toEqual([{ number: 0 }, { number: 3 }]);
    expect(train).toEqual([{ number: 1, state: 'active' }]);
    // Who comes later hears of the frame, and of the revision as it was.
    live.subscribe('frames/t', (each) => frames.push(each));
    expect(frames.at(-1)).toEqual({ number: 3 });
  });

  it('hold none while all are hidden for long, and hear what they missed when one is looked at', async () => {
    const browser = new Browser();
    const told: Told[] = [];
    const pages = [browser.page(), browser.page()];
    pages.forEach(({ live }) => live.subscribe('drawer', (each) => told.push(each)));
    await settle();
    pages.forEach(({ look }) => look(true));
    await vi.advanceTimersByTimeAsync(59_000);
    expect(browser.open.size).toBe(1);
    await vi.advanceTimersByTimeAsync(5000);
    expect(browser.open.size).toBe(0);
    browser.tell({ drawer: 7 });
    pages[1]!.look(false);
    await settle();
    expect(browser.open.size).toBe(1);
    expect(told.at(-1)).toEqual({ number: 7 });
  });

  it('a connection that was refused is opened again', async () => {
    const browser = new Browser();
    const connected = vi.fn();
    const { live } = browser.page();
    live.onConnected(connected);
    live.subscribe('drawer', () => undefined);
    await settle();
    [...browser.open][0]!.refuse();
    expect(browser.open.size).toBe(0);
    await vi.advanceTimersByTimeAsync(4000);
    expect(browser.open.size).toBe(1);
    expect(connected).toHaveBeenCalledTimes(2);
  });
});

describe('work that was left behind', () => {
  const kept = (session: string) => ({ scope: 'w', session, base: 1, waiting: [], aside: [], changedAt: 1 });

  async function setup() {
    vi.stubGlobal('navigator', { locks: new FakeLocks() });
    const store = new FakeStore();
    await store.put(kept('gone'));
    const taken: string[] = [];
    const over = new AbortController();
    const adopt = (own: string) =>
      adoptOrphans(store, 'w', own, over.signal, ({ session }) => {
        taken.push(session);
        return Promise.resolve();
      });
    return { store, taken, over, adopt };
  }

  it('is taken over once, whatever the number of pages that look for it', async () => {
    const { store, taken, adopt } = await setup();
    await Promise.all([adopt('a'), adopt('b'), adopt('c')]);
    expect(taken).toEqual(['gone']);
    expect(store.kept.size).toBe(0);
  });

  it('is left alone while its page is there, and taken over when that goes', async () => {
    const { taken, adopt } = await setup();
    const close = holdSession('gone');
    const adopting = adopt('a');
    await settle();
    expect(taken).toEqual([]);
    close();
    await adopting;
    expect(taken).toEqual(['gone']);
  });

  it('is not waited for by a page that is left', async () => {
    const { taken, over, adopt } = await setup();
    const close = holdSession('gone');
    const adopting = adopt('a');
    await settle();
    over.abort();
    await adopting;
    close();
    await settle();
    expect(taken).toEqual([]);
  });
});
