import type { Part } from '@lodestone/core/drawer';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Drawer } from './drawer.svelte.ts';
import type { SentChange } from './transport.ts';
import type { Unsent, UnsentStore } from './unsentStore.ts';

const ring = (partId: string, name = partId, more: Partial<Part> = {}): Part => ({
  partId,
  element: { id: partId, kind: 'spacer', name, lengthMm: 5 },
  quantity: 1,
  owned: true,
  location: '',
  state: 'spare',
  measurements: [],
  ...more
});

/** A server in a few lines: versions, change ids, refusals, and being away. */
class FakeServer {
  readonly parts = new Map<string, { document: Record<string, unknown>; version: number }>();
  readonly seen = new Set<string>();
  readonly received: SentChange[] = [];
  #versions = new Map<string, number>();
  /** Requests that get no answer, though the first of them may have been carried out. */
  lost: ('before' | 'after')[] = [];
  refuse: string | undefined;
  /** Holds the next reading back until it is let go. */
  held: Promise<void> | undefined;
  count = 0;
  away = false;

  readonly #answer = (status: number, body: unknown) => new Response(JSON.stringify(body), { status });

  #stored() {
    return [...this.parts.values()].map((part) => ({ ...part, photo: null, changedAt: '2026-11-24T00:00:00Z' }));
  }

  handle = async (path: string, init?: RequestInit): Promise<Response> => {
    if (this.away) throw new TypeError('away');
    if (path === '/api/drawer') {
      const parts = this.#stored();
      await this.held;
      return this.#answer(200, { parts, uses: [] });
    }
    const change = JSON.parse(String(init?.body)) as SentChange;
    const lost = this.lost.shift();
    if (lost === 'before') throw new TypeError('away');
    this.received.push(change);
    if (this.refuse !== undefined) return this.#answer(409, { message: this.refuse });
    if (!this.seen.has(change.changeId)) {
      const stale = [
        ...change.put.map(({ document, basedOn }) => [String(document.partId), basedOn] as const),
        ...change.remove.map(({ partId, basedOn }) => [partId, basedOn] as const)
      ].some(([partId, basedOn]) => (this.parts.get(partId)?.version ?? null) !== basedOn);
      if (stale) return this.#answer(409, { message: 'changed meanwhile', parts: this.#stored(), missing: [] });
      this.seen.add(change.changeId);
      this.count++;
      for (const { document } of change.put) {
        const partId = String(document.partId);
        const version = (this.#versions.get(partId) ?? 0) + 1;
        this.#versions.set(partId, version);
        this.parts.set(partId, { document, version });
      }
      for (const { partId } of change.remove) this.parts.delete(partId);
    }
    if (lost === 'after') throw new TypeError('the reply was lost');
    const names = new Set(change.put.map(({ document }) => String(document.partId)));
    return this.#answer(200, {
      parts: this.#stored().filter(({ document }) => names.has(String(document.partId))),
      removed: change.remove.map(({ partId }) => partId),
      trains: [],
      count: this.count
    });
  };
}

/** The browser's own database, as far as it goes; what is put in is copied, as there. */
class FakeStore implements UnsentStore {
  readonly kept = new Map<string, Unsent>();
  put = (unsent: Unsent): Promise<void> => {
    this.kept.set(unsent.tabId, structuredClone(unsent));
    return Promise.resolve();
  };
  drop = (tabId: string): Promise<void> => {
    this.kept.delete(tabId);
    return Promise.resolve();
  };
  list = (): Promise<Unsent[]> => Promise.resolve([...this.kept.values()]);
}

/** Tabs by the locks they hold; one that is closed holds none. */
class FakeLocks {
  readonly held = new Set<string>();
  request = (name: string, ...more: unknown[]): Promise<unknown> => {
    const [options, work] = more as [{ ifAvailable?: boolean }, (lock: unknown) => unknown];
    if (options.ifAvailable) return Promise.resolve(work(this.held.has(name) ? null : {}));
    this.held.add(name);
    return new Promise(() => undefined);
  };
}

let server: FakeServer;
let store: FakeStore;
let locks: FakeLocks;
let drawer: Drawer;
const names = () => drawer.plain.map(({ element }) => element.name);
const onServer = () => [...server.parts.values()].map(({ document }) => document.name);
const settled = () => vi.waitFor(() => expect(drawer.state).toBe('ready'));

beforeEach(() => {
  vi.useFakeTimers({ toFake: ['setTimeout'] });
  server = new FakeServer();
  vi.stubGlobal('fetch', (path: string, init?: RequestInit) => server.handle(path, init));
  store = new FakeStore();
  locks = new FakeLocks();
  vi.stubGlobal('navigator', { locks });
  vi.stubGlobal('EventSource', function FakeEvents() {});
  vi.stubGlobal('addEventListener', () => undefined);
  drawer = new Drawer(store);
});
afterEach(() => {
  vi.unstubAllGlobals();
  vi.useRealTimers();
});

describe('the drawer as the page sees it', () => {
  it('shows a change at once and stores it', async () => {
    expect(drawer.change('Add', [ring('R-1')])).toBeUndefined();
    expect(names()).toEqual(['R-1']);
    await settled();
    expect(onServer()).toEqual(['R-1']);
  });

  it('says why a part cannot be, and keeps nothing of it', () => {
    const impossible = ring('R-1', 'x', { quantity: 0 });
    expect(drawer.change('Add', [impossible])).toMatch(/at least 1/);
    expect(names()).toEqual([]);
    expect(drawer.undoLabel).toBeUndefined();
  });

  it('undoes and does again every kind of change, deletion included', async () => {
    drawer.change('Add', [ring('R-1')]);
    await settled();
    drawer.change('Rename', [ring('R-1', 'renamed')]);
    await settled();
    drawer.change('Delete', [], ['R-1']);
    await settled();
    expect(onServer()).toEqual([]);
    drawer.undo();
    await settled();
    expect(onServer()).toEqual(['renamed']);
    drawer.undo();
    await settled();
    expect(onServer()).toEqual(['R-1']);
    drawer.redo();
    await settled();
    expect([onServer(), drawer.redoLabel]).toEqual([['renamed'], 'Delete']);
  });

  it('typing in one field is one step to undo, however often it was sent', async () => {
    drawer.change('Add', [ring('R-1')]);
    await settled();
    for (const name of ['a', 'ab', 'abc']) drawer.change('Rename', [ring('R-1', name)], [], 'name');
    await settled();
    expect(onServer()).toEqual(['abc']);
    drawer.undo();
    await settled();
    expect(onServer()).toEqual(['R-1']);
  });

  it.each(['before', 'after'] as const)(
    'a change whose reply was lost %s it was stored is stored once',
    async (when) => {
      server.lost = [when, when];
      drawer.change('Add', [ring('R-1')]);
      await vi.waitFor(() => expect(drawer.state).toBe('offline'));
      for (let round = 0; round < 3; round++) await vi.advanceTimersByTimeAsync(2100);
      await settled();
      expect(server.parts.get('R-1')?.version).toBe(1);
      expect(new Set(server.received.map(({ changeId }) => changeId)).size).toBe(1);
    }
  );

  it('what is turned down is told, and the drawer shown as it is on the server', async () => {
    drawer.change('Add', [ring('R-1')]);
    await settled();
    server.parts.set('R-1', { document: { partId: 'R-1', kind: 'spacer', name: 'theirs', lengthMm: 5 }, version: 9 });
    drawer.change('Rename', [ring('R-1', 'ours')]);
    await vi.waitFor(() => expect(drawer.refusal?.message).toBe('changed meanwhile'));
    await vi.waitFor(() => expect(names()).toEqual(['theirs']));
    expect(drawer.undoLabel).toBe('Add');
  });

  it('is not taken for empty while nothing could be read', async () => {
    server.parts.set('R-1', { document: { partId: 'R-1', kind: 'spacer', name: 'R-1', lengthMm: 5 }, version: 1 });
    server.away = true;
    await drawer.load();
    expect([drawer.state, drawer.everRead]).toEqual(['offline', false]);
    server.away = false;
    await vi.advanceTimersByTimeAsync(2100);
    await settled();
    expect([names(), drawer.everRead]).toEqual([['R-1'], true]);
  });

  it('says that it cannot be reached until it has been, though nothing waits to be sent', async () => {
    server.away = true;
    drawer.open();
    await vi.waitFor(() => expect(drawer.state).toBe('offline'));
    await vi.advanceTimersByTimeAsync(500);
    expect(drawer.state).toBe('offline');
    server.away = false;
    await vi.advanceTimersByTimeAsync(2100);
    await settled();
    expect(drawer.everRead).toBe(true);
  });

  it('what was read before a change does not undo it', async () => {
    drawer.change('Add', [ring('R-1')]);
    await settled();
    let letGo = (): void => undefined;
    server.held = new Promise((done) => (letGo = done));
    const reading = drawer.load();
    drawer.change('Rename', [ring('R-1', 'newer')]);
    await vi.waitFor(() => expect(onServer()).toEqual(['newer']));
    await settled();
    letGo();
    server.held = undefined;
    await reading;
    expect(names()).toEqual(['newer']);
    expect(drawer.change('Again', [ring('R-1', 'newest')])).toBeUndefined();
    await vi.waitFor(() => expect(onServer()).toEqual(['newest']));
  });

  it('what is typed after a reply was lost is sent too', async () => {
    drawer.change('Add', [ring('R-1')]);
    await settled();
    server.lost = ['after'];
    drawer.change('Rename', [ring('R-1', 'a')], [], 'name');
    await vi.waitFor(() => expect(drawer.state).toBe('offline'));
    drawer.change('Rename', [ring('R-1', 'ab')], [], 'name');
    await vi.advanceTimersByTimeAsync(2100);
    await settled();
    expect([onServer(), names()]).toEqual([['ab'], ['ab']]);
    drawer.undo();
    await settled();
    expect(onServer()).toEqual(['R-1']);
  });
});

describe('changes the server has not got', () => {
  /** A tab that makes changes while the server is away, and is closed. */
  async function leaveBehind(make: (tab: Drawer) => void): Promise<void> {
    const tab = new Drawer(store);
    tab.open();
    await vi.waitFor(() => expect(tab.everRead).toBe(true));
    server.away = true;
    make(tab);
    await vi.waitFor(() => expect(tab.state).toBe('offline'));
    locks.held.clear();
    vi.clearAllTimers();
    server.away = false;
  }

  it('are kept in the browser until it has, and no longer', async () => {
    server.away = true;
    drawer.change('Add', [ring('R-1')]);
    await vi.waitFor(() => expect(store.kept.size).toBe(1));
    server.away = false;
    await vi.advanceTimersByTimeAsync(2100);
    await settled();
    await vi.waitFor(() => expect(store.kept.size).toBe(0));
  });

  it('of a tab that was closed are taken over by the next', async () => {
    await leaveBehind((tab) => {
      tab.change('Add', [ring('R-1', 'made offline')]);
      tab.change('Rename', [ring('R-1', 'and renamed')]);
      tab.change('Add', [ring('R-2')]);
    });
    expect(onServer()).toEqual([]);
    drawer.open();
    await vi.waitFor(() => expect(onServer()).toEqual(['and renamed', 'R-2']));
    await settled();
    expect(store.kept.size).toBe(0);
  });

  it('of a tab that is still open are left to it', async () => {
    await leaveBehind((tab) => tab.change('Add', [ring('R-1')]));
    locks.request(`lodestone-tab-${[...store.kept.keys()][0]}`, {});
    drawer.open();
    await settled();
    expect([onServer(), store.kept.size]).toEqual([[], 1]);
  });

  it('that somebody has overtaken are turned down, and made again on top of theirs when asked', async () => {
    server.parts.set('R-1', { document: { partId: 'R-1', kind: 'spacer', name: 'R-1', lengthMm: 5 }, version: 1 });
    await leaveBehind((tab) => tab.change('Rename', [ring('R-1', 'ours')]));
    const theirs = { partId: 'R-1', kind: 'spacer', name: 'R-1', lengthMm: 5, location: 'Tin 2' };
    server.parts.set('R-1', { document: theirs, version: 2 });
    drawer.open();
    await vi.waitFor(() => expect(drawer.refusal).toEqual({ message: 'changed meanwhile', repeatable: true }));
    expect(server.parts.get('R-1')?.document).toEqual(theirs);
    expect(await drawer.repeat()).toBeUndefined();
    await settled();
    expect(server.parts.get('R-1')?.document).toEqual({ ...theirs, name: 'ours' });
    expect(await drawer.repeat()).toBeUndefined();
    expect(server.received).toHaveLength(2);
  });
});
