import type { Part } from '@lodestone/core/drawer';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Drawer } from './drawer.svelte.ts';
import type { SentChange } from './transport.ts';

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
      if (stale) return this.#answer(409, { message: 'changed meanwhile' });
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

let server: FakeServer;
let drawer: Drawer;
const names = () => drawer.plain.map(({ element }) => element.name);
const onServer = () => [...server.parts.values()].map(({ document }) => document.name);
const settled = () => vi.waitFor(() => expect(drawer.state).toBe('ready'));

beforeEach(() => {
  vi.useFakeTimers({ toFake: ['setTimeout'] });
  server = new FakeServer();
  vi.stubGlobal('fetch', (path: string, init?: RequestInit) => server.handle(path, init));
  drawer = new Drawer();
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
    await vi.waitFor(() => expect(drawer.refusal).toBe('changed meanwhile'));
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
});
