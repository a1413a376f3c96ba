import type { Part } from '@lodestone/core/drawer';
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { FakeLive, FakePage, FakeStore, stubBrowser } from '$lib/testing/sync.ts';
import { Drawer } from './drawer.svelte.ts';
import type { SentChange } from './transport.ts';

const ring = (partId: string, more: Partial<Part> = {}, name = `Ring ${partId}`): Part => ({
  partId,
  element: { id: partId, kind: 'spacer', name, lengthMm: 5 },
  quantity: 1,
  owned: true,
  location: '',
  state: 'spare',
  measurements: [],
  ...more
});
const reading = (lengthMm: number) => ({ lengthMm, instrument: 'caliper' });

/** A server in a few lines: versions, change ids, refusals, and being away. */
class FakeServer {
  readonly parts = new Map<string, { document: Record<string, unknown>; version: number }>();
  readonly seen = new Set<string>();
  readonly received: SentChange[] = [];
  readonly #versions = new Map<string, number>();
  /** Requests that get no answer, though the first of them may have been carried out. */
  lost: ('before' | 'after')[] = [];
  /** Refuses changes of this part, or only those that say something, with this status. */
  refuse: { partId: string; status: number; saying?: string } | undefined;
  number = 0;
  away = false;
  /** Reading waits for this. */
  held: Promise<void> | undefined;
  /** How long the next request, and after it the next answer, are on their way, ms. */
  lag: () => number = () => 0;

  readonly #answer = (status: number, body: unknown) => new Response(JSON.stringify(body), { status });

  #stored(partIds?: readonly string[]) {
    return [...this.parts]
      .filter(([partId]) => partIds?.includes(partId) ?? true)
      .map(([, part]) => ({ ...part, photo: null, changedAt: '2026-11-24T00:00:00Z' }));
  }

  handle = async (path: string, init?: RequestInit): Promise<Response> => {
    if (this.away) throw new TypeError('away');
    await this.#travel();
    if (path === '/api/drawer') {
      const [number, parts] = [this.number, this.#stored()];
      await this.held;
      await this.#travel();
      return this.#answer(200, { number, parts, uses: [] });
    }
    const answer = this.#change(JSON.parse(String(init?.body)) as SentChange);
    await this.#travel();
    return answer;
  };

  async #travel(): Promise<void> {
    const ms = this.lag();
    if (ms > 0) await new Promise((arrived) => setTimeout(arrived, ms));
  }

  #change(change: SentChange): Response {
    const lost = this.lost.shift();
    if (lost === 'before') throw new TypeError('away');
    this.received.push(change);
    const names = change.put.map(({ document }) => String(document.partId));
    const { partId, saying = '' } = this.refuse ?? { partId: '' };
    if (this.refuse && names.includes(partId) && JSON.stringify(change).includes(saying)) {
      return this.#answer(this.refuse.status, { message: `${this.refuse.partId} cannot be stored` });
    }
    if (!this.seen.has(change.changeId)) {
      const based = [
        ...change.put.map(({ document, basedOn }) => [String(document.partId), basedOn] as const),
        ...change.remove.map(({ partId, basedOn }) => [partId, basedOn] as const)
      ];
      const stale = based.flatMap(([partId, on]) => ((this.parts.get(partId)?.version ?? null) === on ? [] : [partId]));
      if (stale.length > 0) {
        const missing = stale.filter((partId) => !this.parts.has(partId));
        return this.#answer(409, {
          message: 'changed meanwhile',
          parts: this.#stored(stale),
          missing,
          number: this.number
        });
      }
      this.seen.add(change.changeId);
      this.number++;
      for (const { document } of change.put) {
        const partId = String(document.partId);
        const version = (this.#versions.get(partId) ?? 0) + 1;
        this.#versions.set(partId, version);
        this.parts.set(partId, { document, version });
      }
      for (const { partId } of change.remove) this.parts.delete(partId);
      live.tell('drawer', { number: this.number });
    }
    if (lost === 'after') throw new TypeError('the reply was lost');
    const removed = change.remove.map(({ partId }) => partId);
    return this.#answer(200, { parts: this.#stored(names), removed, trains: [], number: this.number });
  }

  readings(partId: string): number[] {
    const { measurements = [] } = this.parts.get(partId)!.document as { measurements?: { lengthMm: number }[] };
    return measurements.map(({ lengthMm }) => lengthMm);
  }
}

let server: FakeServer;
let store: FakeStore;
/** The one connection of all pages. */
let live: FakeLive;

beforeEach(() => {
  vi.useFakeTimers();
  server = new FakeServer();
  store = new FakeStore();
  live = new FakeLive();
  vi.stubGlobal('fetch', server.handle);
  stubBrowser();
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const all = (): Promise<unknown> => vi.runAllTimersAsync();

/** A page that shows the drawer, in this browser or in another. */
async function page(browser = store): Promise<{ drawer: Drawer; close: () => void }> {
  const drawer = new Drawer(new FakePage(browser, live));
  const close = drawer.open();
  await vi.advanceTimersByTimeAsync(20);
  return { drawer, close };
}

const partOf = (drawer: Drawer, partId: string): Part => drawer.byId.get(partId)!.part;
const measure = (drawer: Drawer, partId: string, lengthMm: number) => {
  const part = partOf(drawer, partId);
  return drawer.change(`Measure ${partId}`, [{ ...part, measurements: [...part.measurements, reading(lengthMm)] }]);
};

describe('a change', () => {
  it('shows at once and is stored', async () => {
    const { drawer } = await page();
    expect(drawer.change('Add R-1', [ring('R-1')])).toBeUndefined();
    expect(drawer.plain.map(({ partId }) => partId)).toEqual(['R-1']);
    await all();
    expect(server.parts.get('R-1')).toMatchObject({ version: 1 });
    expect(drawer.status.state).toBe('saved');
  });

  it('is not possible before the drawer was read, and says so', () => {
    expect(new Drawer(new FakePage(store, live)).change('Add R-1', [ring('R-1')])).toMatch(/not been read yet/);
  });

  it('that makes no part is refused where it is made', async () => {
    const { drawer } = await page();
    expect(drawer.change('Add', [ring('R-1', { quantity: 0 })])).toMatch(/quantity/);
    await all();
    expect(server.received).toEqual([]);
  });

  it('whose reply was lost is sent again as it was, and stored once', async () => {
    const { drawer } = await page();
    server.lost = ['after', 'before'];
    drawer.change('Add R-1', [ring('R-1')]);
    await all();
    expect(new Set(server.received.map(({ changeId }) => changeId)).size).toBe(1);
    expect(server.parts.get('R-1')!.version).toBe(1);
  });

  it('typed letter by letter is one change, and one step', async () => {
    const { drawer } = await page();
    drawer.change('Add R-1', [ring('R-1')]);
    await all();
    for (const to of [2, 23, 23.4, 23.45]) {
      drawer.edit('R-1', { op: 'set', at: 'R-1', path: ['lengthMm'], to }, 'Length', 'field');
      await vi.advanceTimersByTimeAsync(250);
    }
    await all();
    expect(server.received).toHaveLength(2);
    expect(server.parts.get('R-1')).toMatchObject({ version: 2, document: { lengthMm: 23.45 } });
    drawer.undo();
    expect(partOf(drawer, 'R-1').element.lengthMm).toBe(5);
  });

  it('of a part is not undone by reading the drawer anew while it is on its way', async () => {
    const { drawer } = await page();
    drawer.change('Add R-1', [ring('R-1')]);
    await all();
    let letGo = (): void => undefined;
    server.held = new Promise((done) => (letGo = done));
    void drawer.load();
    await vi.advanceTimersByTimeAsync(5);
    drawer.change('Move', [ring('R-1', { location: 'Tin 2' })]);
    letGo();
    await all();
    expect(partOf(drawer, 'R-1').location).toBe('Tin 2');
    expect(server.parts.get('R-1')!.document.location).toBe('Tin 2');
  });

  it('the server can never take is offered back with its reason, and what waits behind it is stored', async () => {
    const { drawer } = await page();
    server.refuse = { partId: 'R-1', status: 400 };
    drawer.change('Add R-1', [ring('R-1')]);
    drawer.change('Add R-2', [ring('R-2')]);
    await all();
    expect([...server.parts.keys()]).toEqual(['R-2']);
    expect(drawer.plain.map(({ partId }) => partId)).toEqual(['R-2']);
    expect(drawer.aside).toMatchObject([{ why: 'refused', reason: 'R-1 cannot be stored' }]);
    // Its step is gone, the other's is there.
    expect(drawer.undoLabel).toBe('Add R-2');
    server.refuse = undefined;
    expect(drawer.insist(drawer.aside[0]!.entry.id)).toBeUndefined();
    await all();
    expect([...server.parts.keys()].sort()).toEqual(['R-1', 'R-2']);
  });

  it('made on top of one that is refused stands without it', async () => {
    const { drawer } = await page();
    drawer.change('Add R-1', [ring('R-1')]);
    await all();
    server.refuse = { partId: 'R-1', status: 400, saying: 'poison' };
    drawer.change('Move', [{ ...partOf(drawer, 'R-1'), location: 'poison' }]);
    drawer.change('Count', [{ ...partOf(drawer, 'R-1'), quantity: 4 }]);
    await all();
    expect(server.parts.get('R-1')!.document).toMatchObject({ quantity: 4 });
    expect(server.parts.get('R-1')!.document.location).toBeUndefined();
    expect(drawer.aside).toHaveLength(1);
  });

  it('is kept through a 401, whatever is done meanwhile', async () => {
    const { drawer } = await page();
    server.refuse = { partId: 'R-1', status: 401 };
    drawer.change('Add R-1', [ring('R-1')]);
    await vi.advanceTimersByTimeAsync(500);
    drawer.change('Add R-2', [ring('R-2')]);
    await vi.advanceTimersByTimeAsync(500);
    expect(drawer.status.state).toBe('sign-in');
    expect([drawer.aside.length, drawer.parts.length]).toEqual([0, 2]);
    server.refuse = undefined;
    await all();
    expect([...server.parts.keys()]).toEqual(['R-1', 'R-2']);
  });
});

describe('two who change the same drawer', () => {
  async function both() {
    const laptop = await page();
    laptop.drawer.change(
      'Add R-1',
      [ring('R-1'), ring('R-2')].map((part) => ({ ...part, location: 'Tin 1' }))
    );
    await all();
    const phone = await page(new FakeStore());
    await all();
    return { laptop: laptop.drawer, phone: phone.drawer };
  }

  it('hear of each other', async () => {
    const { laptop, phone } = await both();
    phone.change('Move', [{ ...partOf(phone, 'R-1'), location: 'Tin 2' }]);
    await all();
    expect(partOf(laptop, 'R-1').location).toBe('Tin 2');
  });

  it('and the undo of one leaves what the other measured meanwhile', async () => {
    const { laptop, phone } = await both();
    laptop.change('Move', [{ ...partOf(laptop, 'R-1'), location: 'Tin 2' }]);
    await all();
    measure(phone, 'R-1', 5.02);
    await all();
    expect(laptop.undo()).toBeUndefined();
    await all();
    expect(server.readings('R-1')).toEqual([5.02]);
    expect(server.parts.get('R-1')!.document.location).toBe('Tin 1');
  });

  it('may measure one part at once: equal readings are both kept, and each strikes out its own', async () => {
    const { laptop, phone } = await both();
    measure(laptop, 'R-1', 5.01);
    measure(phone, 'R-1', 5.01);
    await all();
    expect(server.readings('R-1')).toEqual([5.01, 5.01]);
    const [mine] = partOf(laptop, 'R-1').measurements;
    const part = partOf(laptop, 'R-1');
    laptop.change('Strike out', [{ ...part, measurements: part.measurements.filter(({ id }) => id !== mine!.id) }]);
    await all();
    expect(server.readings('R-1')).toEqual([5.01]);
    expect(partOf(phone, 'R-1').measurements).toHaveLength(1);
    expect([laptop.aside.length, phone.aside.length]).toEqual([0, 0]);
  });

  it('at different keys of one part, with one of them away for a while: both hold, and nobody is asked', async () => {
    const { laptop, phone } = await both();
    server.away = true;
    laptop.change('Move', [{ ...partOf(laptop, 'R-1'), location: 'Tin 2' }]);
    laptop.change('Count', [{ ...partOf(laptop, 'R-2'), quantity: 3 }]);
    await vi.advanceTimersByTimeAsync(5000);
    expect(laptop.isAway).toBe(true);
    server.away = false;
    measure(phone, 'R-1', 5.02);
    phone.change('Price', [{ ...partOf(phone, 'R-2'), price: 9 }]);
    await all();
    for (const drawer of [laptop, phone]) {
      expect(partOf(drawer, 'R-1')).toMatchObject({ location: 'Tin 2', measurements: [{ lengthMm: 5.02 }] });
      expect(partOf(drawer, 'R-2')).toMatchObject({ quantity: 3, price: 9 });
      expect(drawer.aside).toEqual([]);
    }
  });

  it('at the same key: theirs stands until ours is made all the same', async () => {
    const { laptop, phone } = await both();
    server.away = true;
    laptop.change('Move', [{ ...partOf(laptop, 'R-1'), location: 'Shed', quantity: 2 }]);
    await vi.advanceTimersByTimeAsync(300);
    server.away = false;
    phone.change('Move', [{ ...partOf(phone, 'R-1'), location: 'Attic', price: 4 }]);
    await all();
    expect(partOf(laptop, 'R-1')).toMatchObject({ location: 'Attic', quantity: 2, price: 4 });
    expect(laptop.aside).toMatchObject([{ why: 'clash', reason: 'R-1: location: “Attic” elsewhere, “Shed” here' }]);
    expect(laptop.insist(laptop.aside[0]!.entry.id)).toBeUndefined();
    await all();
    expect(server.parts.get('R-1')!.document).toMatchObject({ location: 'Shed', quantity: 2, price: 4 });
    expect(laptop.aside).toEqual([]);
  });

  it('who give one new number to two parts: the later one is offered the next free number, and neither is lost', async () => {
    const { laptop, phone } = await both();
    server.away = true;
    laptop.change('Add R-03', [ring('R-03', {}, 'mine')]);
    await vi.advanceTimersByTimeAsync(300);
    server.away = false;
    phone.change('Add R-03', [ring('R-03', {}, 'theirs')]);
    await all();
    expect(server.parts.get('R-03')!.document.name).toBe('theirs');
    const [aside] = laptop.aside;
    expect(laptop.isNumberTaken(aside!.entry.id)).toBe(true);
    expect(laptop.insist(aside!.entry.id)).toBeUndefined();
    await all();
    expect([...server.parts].map(([partId, { document }]) => `${partId} ${String(document.name)}`)).toEqual([
      'R-1 Ring R-1',
      'R-2 Ring R-2',
      'R-03 theirs',
      'R-01 mine'
    ]);
  });

  it('one removes what the other changes: nothing is removed or brought back without a word', async () => {
    const { laptop, phone } = await both();
    server.away = true;
    laptop.change('Delete R-1', [], ['R-1']);
    laptop.change('Move', [{ ...partOf(laptop, 'R-2'), location: 'Shed' }]);
    await vi.advanceTimersByTimeAsync(300);
    server.away = false;
    measure(phone, 'R-1', 5.02);
    phone.change('Delete R-2', [], ['R-2']);
    await all();
    expect([...server.parts.keys()]).toEqual(['R-1']);
    expect(laptop.aside.map(({ reason }) => reason)).toEqual([
      'R-1: was changed meanwhile, and is not deleted',
      'R-2: was deleted from the drawer meanwhile'
    ]);
    for (const { entry } of laptop.aside) laptop.insist(entry.id);
    await all();
    expect([...server.parts.keys()]).toEqual(['R-2']);
  });
});

describe('what was not sent when a page was closed', () => {
  it('is sent by the next page, in order, also where the server was away all the time', async () => {
    const { drawer, close } = await page();
    drawer.change('Add R-1', [ring('R-1')]);
    await all();
    server.away = true;
    drawer.change('Move', [{ ...partOf(drawer, 'R-1'), location: 'Tin 2' }]);
    drawer.change('Add R-2', [ring('R-2')]);
    await vi.advanceTimersByTimeAsync(300);
    close();
    await vi.advanceTimersByTimeAsync(100);
    server.away = false;
    const next = await page();
    await all();
    expect(server.parts.get('R-1')!.document.location).toBe('Tin 2');
    expect([...server.parts.keys()]).toEqual(['R-1', 'R-2']);
    expect(partOf(next.drawer, 'R-1').location).toBe('Tin 2');
    expect(store.kept.size).toBe(0);
  });

  it('goes together with what others did meanwhile', async () => {
    const { drawer, close } = await page();
    drawer.change('Add R-1', [ring('R-1')]);
    await all();
    server.away = true;
    measure(drawer, 'R-1', 5.01);
    await vi.advanceTimersByTimeAsync(300);
    close();
    await vi.advanceTimersByTimeAsync(100);
    server.away = false;
    const phone = await page(new FakeStore());
    measure(phone.drawer, 'R-1', 5.02);
    await all();
    const next = await page();
    await all();
    expect(server.readings('R-1')).toEqual([5.02, 5.01]);
    expect(next.drawer.aside).toEqual([]);
  });
});

it('two pages on a slow line, each at parts of its own: whatever crosses, nothing of either is lost', async () => {
  const act = fc.record({
    page: fc.nat({ max: 1 }),
    kind: fc.constantFrom('add', 'move', 'delete', 'delete and back', 'undo', 'leave', 'wait', 'wait'),
    part: fc.nat({ max: 2 }),
    ms: fc.nat({ max: 600 })
  });
  await fc.assert(
    fc.asyncProperty(fc.array(act, { maxLength: 20 }), fc.infiniteStream(fc.nat({ max: 500 })), async (acts, lags) => {
      server = new FakeServer();
      live = new FakeLive();
      vi.stubGlobal('fetch', server.handle);
      const stores = [new FakeStore(), new FakeStore()];
      const pages = [await page(stores[0]), await page(stores[1])];
      server.lag = () => lags.next().value as number;
      /** What each has last made of its parts. */
      const meant = new Map<string, Part | undefined>();
      for (const { page: who, kind, part, ms } of acts) {
        const { drawer } = pages[who]!;
        const partId = `${'LP'[who]!}-${part}`;
        const there = drawer.byId.get(partId)?.part;
        if (kind === 'wait') await vi.advanceTimersByTimeAsync(ms);
        else if (kind === 'undo') {
          if (drawer.undoLabel === undefined) continue;
          drawer.undo();
          for (const id of [0, 1, 2].map((each) => `${'LP'[who]!}-${each}`)) meant.set(id, drawer.byId.get(id)?.part);
        } else if (kind === 'leave') {
          pages[who]!.close();
          await vi.advanceTimersByTimeAsync(1);
          pages[who] = await page(stores[who]);
          await vi.advanceTimersByTimeAsync(10_000);
        } else if (kind === 'add' && !there) {
          drawer.change('Add', [ring(partId)]);
          meant.set(partId, drawer.byId.get(partId)?.part);
        } else if (kind === 'move' && there) {
          drawer.change('Move', [{ ...there, location: `Tin ${ms}` }]);
          meant.set(partId, drawer.byId.get(partId)?.part);
        } else if (there) {
          drawer.change('Delete', [], [partId]);
          if (kind === 'delete and back') drawer.undo();
          meant.set(partId, drawer.byId.get(partId)?.part);
        }
      }
      await all();
      const wanted = [...meant.values()].flatMap((part) => (part ? [`${part.partId} ${part.location}`] : [])).sort();
      const stored = [...server.parts].map(([id, { document }]) => `${id} ${String(document.location ?? '')}`).sort();
      expect(stored).toEqual(wanted);
      for (const { drawer } of pages) {
        expect(drawer.plain.map((part) => `${part.partId} ${part.location}`).sort()).toEqual(wanted);
        expect(drawer.aside).toEqual([]);
      }
    }),
    { numRuns: 800 }
  );
});

it('a drawer that cannot be read is tried again, and its page says so meanwhile', async () => {
  server.away = true;
  const { drawer } = await page();
  expect([drawer.isRead, drawer.isAway]).toEqual([false, true]);
  server.away = false;
  await vi.advanceTimersByTimeAsync(3000);
  expect([drawer.isRead, drawer.isAway]).toEqual([true, false]);
});

it('a stored part that cannot be read is named, and the others are shown', async () => {
  server.parts.set('R-1', { document: { partId: 'R-1', kind: 'unheard-of' }, version: 1 });
  server.parts.set('R-2', { document: { partId: 'R-2', kind: 'spacer', name: 'Ring', lengthMm: 5 }, version: 1 });
  const { drawer } = await page();
  expect(drawer.plain.map(({ partId }) => partId)).toEqual(['R-2']);
  expect(drawer.unreadable).toMatchObject([{ partId: 'R-1' }]);
  expect(drawer.unreadable[0]!.message).toMatch(/kind/);
});
