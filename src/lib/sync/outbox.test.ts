import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { FakeStore, WordsServer, type Fault, type WordsChange } from '$lib/testing/sync.ts';
import { Outbox, type OutboxState } from './outbox.ts';

beforeEach(() => {
  vi.useFakeTimers();
  vi.spyOn(console, 'warn').mockImplementation(() => undefined);
});
afterEach(() => {
  vi.useRealTimers();
  vi.restoreAllMocks();
});

function setup(server = new WordsServer(), store = new FakeStore(), most = 100, session = 's1') {
  const states: OutboxState[] = [];
  const dropped: string[] = [];
  const outbox = new Outbox({
    scope: 'words',
    session,
    base: server.head,
    outlet: server.outlet(most),
    store,
    onchange: () => states.push(outbox.status.state),
    ondropped: (entry) => dropped.push(entry)
  });
  let count = 0;
  const change = (words: WordsChange, run?: string): string =>
    outbox.add({ id: `${session}-${++count}`, label: Object.keys(words).join(), change: words, run });
  return { server, store, outbox, states, dropped, change };
}

const all = (): Promise<unknown> => vi.runAllTimersAsync();
/** Long enough for what is under way, not for another try. */
const soon = (): Promise<unknown> => vi.advanceTimersByTimeAsync(200);

describe('what is changed', () => {
  it('shows at once, is kept in the browser, and is sent after a quiet moment', async () => {
    const { server, store, outbox, change } = setup();
    change({ a: '2' });
    expect(outbox.shown.words.a).toBe('2');
    expect(outbox.status.state).toBe('unsaved');
    await Promise.resolve();
    expect(server.received).toEqual([]);
    await all();
    expect(server.head.words.a).toBe('2');
    expect(outbox.status.state).toBe('saved');
    expect(store.kept.size).toBe(0);
  });

  it('lies in the browser before the first attempt to send it', async () => {
    const { server, store, change } = setup();
    let keptWhenSent: number | undefined;
    const { send } = server;
    server.send = (request) => {
      keptWhenSent = store.kept.size;
      return send(request);
    };
    change({ a: '2' });
    await all();
    expect(keptWhenSent).toBe(1);
  });

  it('letter by letter is one save, made when the typing pauses', async () => {
    const { server, change } = setup();
    for (const typed of ['2', '2.', '2.5']) {
      change({ a: typed }, 'field');
      await vi.advanceTimersByTimeAsync(300);
    }
    expect(server.received).toEqual([]);
    await all();
    expect(server.received.map(({ words }) => words.a)).toEqual(['2.5']);
  });

  it('and a field that is left is not waited for any longer', async () => {
    const { server, outbox, change } = setup();
    change({ a: '2' }, 'field');
    outbox.hurry();
    await vi.advanceTimersByTimeAsync(10);
    expect(server.received).toHaveLength(1);
  });

  it('and taken back before it was sent is not sent at all', async () => {
    const { server, store, outbox, change } = setup();
    change({ a: '2' }, 'field');
    change({ a: '1' }, 'field');
    expect(outbox.status.state).toBe('saved');
    await all();
    expect(server.received).toEqual([]);
    expect(store.kept.size).toBe(0);
  });

  it('while a save is on its way goes with the next one', async () => {
    const { server, outbox, change } = setup();
    server.lagMs = 500;
    change({ a: '2' });
    await vi.advanceTimersByTimeAsync(300);
    change({ a: '3' });
    change({ b: '2' });
    await all();
    expect(server.revisions.map(({ words }) => words)).toEqual([
      { a: '1', b: '1' },
      { a: '2', b: '1' },
      { a: '3', b: '2' }
    ]);
    expect(outbox.shown).toEqual(server.head);
  });

  it('and half typed while another save is on its way waits until it is whole', async () => {
    const { server, change } = setup();
    server.lagMs = 500;
    change({ b: 'whole' });
    await vi.advanceTimersByTimeAsync(200);
    for (const typed of ['2', '23', '23.', '23.4', '23.45']) {
      change({ a: typed }, 'field');
      await vi.advanceTimersByTimeAsync(300);
    }
    await all();
    expect(server.received.map(({ words }) => words.a)).toEqual(['1', '23.45']);
  });

  it('that makes no sense is refused where it is made, and nothing is sent', async () => {
    const { server, outbox, change } = setup();
    expect(() => change({ impossible: '1' })).toThrow('makes no sense');
    await all();
    expect(server.received).toEqual([]);
    expect(outbox.hasUnsaved).toBe(false);
  });
});

describe('a server that', () => {
  it.each(['lost before', 'lost after', 'not JSON', 503] as const)('%s: stores it once all the same', async (fault) => {
    const { server, outbox, states, change } = setup();
    server.faults = [fault, fault];
    change({ a: '2' });
    await soon();
    expect(outbox.status.state).toBe('offline');
    await all();
    expect(server.revisions.map(({ words }) => words.a)).toEqual(['1', '2']);
    expect(new Set(server.received.map(({ id }) => id)).size).toBe(1);
    expect(states.at(-1)).toBe('saved');
  });

  it('is away for long is asked more and more seldom, and at once when the network is back', async () => {
    const { server, outbox, change } = setup();
    const asked = vi.spyOn(server, 'send');
    server.away = true;
    change({ a: '2' });
    await vi.advanceTimersByTimeAsync(60_000);
    expect(asked.mock.calls.length).toBeLessThan(12);
    server.away = false;
    void outbox.flush();
    await vi.advanceTimersByTimeAsync(10);
    expect(server.head.words.a).toBe('2');
  });

  it('wants somebody to sign in keeps all of it until then', async () => {
    const { server, outbox, store, change } = setup();
    server.faults = [401, 401];
    change({ a: '2' });
    await soon();
    change({ b: '2' });
    await vi.advanceTimersByTimeAsync(1000);
    expect(outbox.status).toMatchObject({ state: 'sign-in', message: 'who is it?' });
    expect(store.kept.size).toBe(1);
    expect(outbox.aside).toEqual([]);
    await all();
    expect(server.head.words).toEqual({ a: '2', b: '2' });
  });

  it('has deleted the thing keeps the work, and goes on when it is brought back', async () => {
    const { server, outbox, change } = setup();
    server.faults = ['blocked'];
    change({ a: '2' });
    await soon();
    expect(outbox.status).toMatchObject({ state: 'blocked', message: 'deleted' });
    void outbox.flush();
    await vi.advanceTimersByTimeAsync(10);
    expect(server.head.words.a).toBe('2');
    expect(outbox.status.state).toBe('saved');
  });

  it.each(['refused', 500] as const)(
    'can never take a change (%s): it is offered back, and the rest goes on',
    async (how) => {
      const { server, outbox, store, dropped, change } = setup(new WordsServer(), new FakeStore(), 1);
      server.poison = 'poison';
      server.poisonStatus = how;
      change({ a: 'poison' });
      change({ b: '2' });
      await all();
      expect(server.head.words).toEqual({ a: '1', b: '2' });
      expect(outbox.shown).toEqual(server.head);
      expect(outbox.aside).toMatchObject([{ why: 'refused', entry: { id: 's1-1', change: { a: 'poison' } } }]);
      expect(outbox.aside[0]!.reason).toMatch(how === 500 ? /failed at it 5 times/ : /is no word/);
      expect(dropped).toEqual(['s1-1']);
      // Until somebody has decided, it stays in the browser.
      expect(store.kept.size).toBe(1);
      outbox.takeAside('s1-1');
      await all();
      expect(store.kept.size).toBe(0);
    }
  );

  it('refuses a save of several changes: the one to blame is found, the others are stored', async () => {
    const { server, outbox, change } = setup();
    server.poison = 'poison';
    for (const key of ['c', 'd', 'e', 'f', 'g']) change({ [key]: key === 'e' ? 'poison' : 'good' });
    await all();
    expect(Object.keys(server.head.words).sort()).toEqual(['a', 'b', 'c', 'd', 'f', 'g']);
    expect(outbox.aside.map(({ entry }) => entry.change)).toEqual([{ e: 'poison' }]);
  });

  it('finds one change too large (413) drops no other', async () => {
    const { server, outbox, change } = setup(new WordsServer(), new FakeStore(), 1);
    server.faults = [413];
    change({ a: 'large' });
    change({ b: '2' });
    await all();
    expect(server.head.words).toEqual({ a: '1', b: '2' });
    expect(outbox.aside).toMatchObject([{ reason: 'too large' }]);
  });

  it('fails now and then, without a pattern: everything arrives once, in order', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(
          fc.constantFrom<Fault | undefined>('lost before', 'lost after', 503, 'not JSON', 401, 'blocked', undefined),
          {
            maxLength: 12
          }
        ),
        fc.array(
          fc.tuple(fc.constantFrom('a', 'b', 'c'), fc.integer({ min: 2, max: 9 }), fc.integer({ max: 900, min: 0 })),
          {
            maxLength: 8
          }
        ),
        async (faults, changes) => {
          const { server, outbox, change } = setup();
          server.faults = faults.flatMap((fault) => fault ?? []);
          const expected: Record<string, string> = { a: '1', b: '1' };
          for (const [key, value, wait] of changes) {
            change({ [key]: String(value) });
            expected[key] = String(value);
            await vi.advanceTimersByTimeAsync(wait);
          }
          await all();
          expect(server.head.words).toEqual(expected);
          expect(outbox.hasUnsaved).toBe(false);
          expect(new Set(server.revisions.map(({ id }) => id)).size).toBe(server.revisions.length);
        }
      ),
      { numRuns: 60 }
    );
  });
});

describe('others who change the same', () => {
  it('at other keys: both go together without a question', async () => {
    const { server, outbox, change } = setup();
    server.change({ b: 'theirs' });
    change({ a: 'ours' });
    await all();
    expect(server.head.words).toEqual({ a: 'ours', b: 'theirs' });
    expect(outbox.shown).toEqual(server.head);
    expect(outbox.aside).toEqual([]);
  });

  it('at the same key: theirs stays, ours is set aside with its reason, and what else we did goes on', async () => {
    const { server, outbox, dropped, change } = setup();
    server.change({ b: 'theirs' });
    change({ a: 'ours' });
    change({ b: 'ours' });
    await all();
    expect(server.head.words).toEqual({ a: 'ours', b: 'theirs' });
    expect(outbox.aside).toMatchObject([{ why: 'clash', reason: 'b changed there too', entry: { id: 's1-2' } }]);
    expect(dropped).toEqual(['s1-2']);
  });

  it('part of one change: that part is asked about, the other goes on, and its step stays', async () => {
    const { server, outbox, dropped, change } = setup();
    server.change({ b: 'theirs' });
    change({ a: 'ours', b: 'ours' });
    await all();
    expect(server.head.words).toEqual({ a: 'ours', b: 'theirs' });
    expect(outbox.aside.map(({ entry }) => entry.change)).toEqual([{ b: 'ours' }]);
    expect(dropped).not.toContain('s1-1');
  });

  it('heard of while ours waits: shown together at once', () => {
    const { server, outbox, change } = setup();
    change({ a: 'ours' });
    outbox.receive(server.change({ b: 'theirs' }));
    expect(outbox.shown.words).toEqual({ a: 'ours', b: 'theirs' });
  });

  it('heard of while ours is on its way: taken in when the reply has come', async () => {
    const { server, outbox, change } = setup();
    server.lagMs = 500;
    change({ a: 'ours' });
    await vi.advanceTimersByTimeAsync(700);
    const heard = server.change({ b: 'theirs' });
    outbox.receive(heard);
    await all();
    expect(outbox.shown.words).toEqual({ a: 'ours', b: 'theirs' });
  });

  it('and what is older than what is known is not taken in', async () => {
    const { server, outbox, change } = setup();
    const old = server.head;
    change({ a: '2' });
    await all();
    outbox.receive(old);
    expect(outbox.shown.words.a).toBe('2');
  });

  it('all the time: it stops to breathe instead of asking without end', async () => {
    const { server, change } = setup();
    const { send } = server;
    let asked = 0;
    server.send = (request) => {
      asked++;
      if (asked < 30) server.change({ b: `theirs ${asked}` });
      return send(request);
    };
    change({ a: 'ours' });
    await soon();
    expect(asked).toBeLessThan(10);
    await all();
    expect(server.head.words.a).toBe('ours');
  });
});

describe('a browser that', () => {
  it('keeps nothing (private window, full disk) still sends, and says that it does not keep', async () => {
    const store = new FakeStore();
    store.broken = true;
    const { server, outbox, change } = setup(new WordsServer(), store);
    change({ a: '2' });
    await all();
    expect(server.head.words.a).toBe('2');
    expect(outbox.keeps).toBe(false);
    store.broken = false;
    change({ a: '3' });
    await all();
    expect(outbox.keeps).toBe(true);
  });

  it('does not answer when asked to keep holds nothing up for long', async () => {
    const store = new FakeStore();
    store.hangs = true;
    const { server, change } = setup(new WordsServer(), store);
    change({ a: '2' });
    await vi.advanceTimersByTimeAsync(3000);
    expect(server.head.words.a).toBe('2');
    change({ a: '3' });
    await vi.advanceTimersByTimeAsync(6000);
    expect(server.head.words.a).toBe('3');
  });

  it('ended it while a reply was outstanding: the next session asks with the same id, and nothing is stored twice', async () => {
    const { server, store, outbox, change } = setup();
    server.faults = ['lost after'];
    change({ a: '2' });
    await soon();
    outbox.end();
    change({ b: 'never sent' });
    await all();
    expect(server.revisions).toHaveLength(2);

    const [kept] = await store.list('words');
    server.change({ c: 'meanwhile' });
    const next = setup(server, store, 100, 's2');
    await next.outbox.takeOver(kept as Parameters<typeof next.outbox.takeOver>[0]);
    await all();
    expect(server.revisions.map(({ words }) => words)).toEqual([
      { a: '1', b: '1' },
      { a: '2', b: '1' },
      { a: '2', b: '1', c: 'meanwhile' },
      { a: '2', b: 'never sent', c: 'meanwhile' }
    ]);
    expect(next.outbox.shown).toEqual(server.head);
  });

  it('slept a day with unsent work: it goes on top of what was done meanwhile, and only what clashes is asked about', async () => {
    const { server, store, outbox, change } = setup();
    server.away = true;
    change({ a: 'ours', b: 'ours' });
    await soon();
    outbox.end();
    server.away = false;
    server.change({ b: 'theirs' });
    server.change({ c: 'theirs' });
    vi.setSystemTime(Date.now() + 86_400_000);
    const next = setup(server, store, 100, 's2');
    const [kept] = await store.list('words');
    await next.outbox.takeOver(kept as Parameters<typeof next.outbox.takeOver>[0]);
    await all();
    expect(server.head.words).toEqual({ a: 'ours', b: 'theirs', c: 'theirs' });
    expect(next.outbox.aside.map(({ entry }) => entry.change)).toEqual([{ b: 'ours' }]);
  });

  it('kept what this version cannot read any more: it is offered back, not thrown away', async () => {
    const { server, store, outbox } = setup();
    await outbox.takeOver({
      scope: 'words',
      session: 'old',
      base: 'unreadable',
      waiting: [{ id: 'o1', label: 'old', change: { a: 'old' } }],
      aside: [],
      changedAt: 0
    });
    expect(outbox.aside).toMatchObject([{ why: 'refused', entry: { id: 'o1' } }]);
    expect(server.received).toEqual([]);
    expect(store.kept.size).toBe(1);
  });

  it('leaves the page for another while a save hangs: what the reply says is still taken in', async () => {
    const { server, store, outbox, change } = setup();
    server.lagMs = 5000;
    change({ a: '2' });
    await soon();
    const leaving = outbox.flush().finally(() => outbox.end());
    await all();
    await leaving;
    expect(server.head.words.a).toBe('2');
    expect(store.kept.size).toBe(0);
  });
});
