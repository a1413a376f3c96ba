import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { FakeLive, FakePage, FakeStore, WordsServer, inverseOf, stubBrowser } from '$lib/testing/sync.ts';
import type { Fault, Words, WordsChange, WordsRequest } from '$lib/testing/sync.ts';
import { Kept } from './kept.svelte.ts';

const NOTHING_READ: Words = { number: -1, words: {} };

let server: WordsServer;
/** The connection all pages hear. */
let live: FakeLive;
/** Reading fails so often. */
let unreadable = 0;
let reads = 0;

beforeEach(() => {
  vi.useFakeTimers();
  stubBrowser();
  server = new WordsServer();
  live = new FakeLive();
  unreadable = reads = 0;
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const all = (): Promise<unknown> => vi.runAllTimersAsync();
const told = (): void => live.tell('drawer', { number: server.head.number });

/** Somebody else saves, and everybody hears of it. */
function others(change: WordsChange): void {
  server.change(change);
  told();
}

class KeptWords extends Kept<Words, WordsChange, string, WordsRequest, Words, Words> {
  readonly travelled: string[] = [];
  /** What is done while it is being read. */
  meanwhile: () => void = () => undefined;
  /** Whether nonsense is a fault of the program. */
  isStrict = false;
  canForce = true;

  constructor(isRead = false, page = new FakePage(new FakeStore(), live)) {
    super({ scope: 'drawer', outlet: server.outlet(), base: isRead ? server.head : NOTHING_READ, isRead, page });
  }

  get words(): Words['words'] {
    return this.now.words;
  }

  protected numberOf = ({ number }: Words): number => number;
  protected inverse = inverseOf;
  protected around = (): string => 'where it was done';
  protected leftInWords = (reason: string): string => `It stays: ${reason}`;
  protected onshow = (): void => undefined;
  protected override onstored = told;

  protected async read(): Promise<Words> {
    reads++;
    const { head } = server;
    this.meanwhile();
    if (unreadable > 0) {
      unreadable--;
      throw new Error('the line is dead');
    }
    return Promise.resolve(head);
  }

  protected refusal(thrown: unknown): string | undefined {
    return !this.isStrict && thrown instanceof Error ? thrown.message : undefined;
  }

  protected override forced(change: WordsChange): WordsChange | string {
    return this.canForce ? change : 'Not even so.';
  }

  protected override ontravelled(around: string): void {
    this.travelled.push(around);
  }
}

async function opened(isRead = false): Promise<KeptWords> {
  const kept = new KeptWords(isRead);
  kept.open();
  await vi.advanceTimersByTimeAsync(20);
  return kept;
}

describe('what is kept', () => {
  it('is read first, and tried again with longer and longer waits until it was', async () => {
    unreadable = 3;
    const kept = await opened();
    expect(kept.isRead).toBe(false);
    expect(kept.unread).toContain('the line is dead');
    await vi.advanceTimersByTimeAsync(1000 + 2000);
    expect([reads, kept.isRead]).toEqual([3, false]);
    await vi.advanceTimersByTimeAsync(4000);
    expect([reads, kept.isRead, kept.unread]).toEqual([4, true, undefined]);
    expect(kept.words).toEqual({ a: '1', b: '1' });
  });

  it('is not read again where nothing newer was heard of, and is where it was', async () => {
    const kept = await opened(true);
    live.tell('drawer', { number: 1 });
    await all();
    expect(reads).toBe(0);
    others({ a: 'theirs' });
    await all();
    expect([reads, kept.words.a]).toEqual([1, 'theirs']);
  });

  it('catches up, also where the first reading after the news fails', async () => {
    const kept = await opened(true);
    unreadable = 2;
    others({ a: 'theirs' });
    await all();
    expect(kept.words.a).toBe('theirs');
  });

  it('is read no more once it was closed', async () => {
    const kept = new KeptWords();
    unreadable = 1;
    const close = kept.open();
    close();
    await all();
    expect(reads).toBe(1);
  });

  it('hears while it is reading, and reads again', async () => {
    const kept = new KeptWords();
    kept.meanwhile = () => {
      if (reads === 1) others({ b: 'meanwhile' });
    };
    kept.open();
    await all();
    expect(kept.words.b).toBe('meanwhile');
  });
});

describe('steps', () => {
  it('are taken back and done again, with what was around them', async () => {
    const kept = await opened();
    kept.do({ a: '2' }, 'Set a');
    kept.do({ b: '2' }, 'Set b');
    expect([kept.undoLabel, kept.redoLabel]).toEqual(['Set b', undefined]);
    const first = kept.lastStep!;
    kept.undo();
    expect(kept.travelled).toEqual(['where it was done']);
    expect(kept.stands(first)).toBe(false);
    kept.undo();
    expect(kept.words).toEqual({ a: '1', b: '1' });
    kept.redo();
    await all();
    expect(server.head.words).toEqual({ a: '2', b: '1' });
  });

  it('one is taken back by its name, whatever was done since', async () => {
    const kept = await opened();
    kept.do({ a: '2' }, 'Set a');
    const first = kept.lastStep!;
    kept.do({ b: '2' }, 'Set b');
    kept.takeBack(first);
    await all();
    expect(server.head.words).toEqual({ a: '1', b: '2' });
  });

  it('what others have changed since stays, and that is said', async () => {
    const kept = await opened();
    kept.do({ a: '2', b: '2' }, 'Set both');
    await all();
    others({ a: 'theirs' });
    await all();
    expect(kept.undo()).toBe('It stays: a changed there too');
    await all();
    expect(server.head.words).toEqual({ a: 'theirs', b: '1' });
  });

  it('one that makes no sense is refused in words; a fault of the program is no refusal', async () => {
    const kept = await opened();
    expect(kept.do({ impossible: 'x' }, 'Nonsense')).toBe('makes no sense');
    expect(kept.undoLabel).toBeUndefined();
    kept.isStrict = true;
    expect(() => kept.do({ impossible: 'x' }, 'Nonsense')).toThrow('makes no sense');
  });

  it('of what the server cannot take the step is gone, and the change is offered back', async () => {
    const kept = await opened();
    server.poison = 'bad';
    kept.do({ a: 'bad' }, 'Bad');
    kept.do({ b: '2' }, 'Good');
    await all();
    expect(server.head.words).toEqual({ a: '1', b: '2' });
    expect(kept.aside.map(({ why, entry }) => [why, entry.label])).toEqual([['refused', 'Bad']]);
    expect(kept.undoLabel).toBe('Good');
    server.poison = undefined;
    expect(kept.insist(kept.aside[0]!.entry.id)).toBeUndefined();
    await all();
    expect(server.head.words).toEqual({ a: 'bad', b: '2' });
    expect(kept.aside).toEqual([]);
  });

  it('what cannot be forced stays aside, with the reason', async () => {
    const kept = await opened();
    kept.canForce = false;
    server.poison = 'bad';
    kept.do({ a: 'bad' }, 'Bad');
    await all();
    expect(kept.insist(kept.aside[0]!.entry.id)).toBe('Not even so.');
    expect(kept.aside).toHaveLength(1);
    kept.letGo(kept.aside[0]!.entry.id);
    expect(kept.aside).toEqual([]);
  });
});

it('two pages at one server that loses, lags and goes away: both end at what is stored, and nothing is stored twice', async () => {
  const faults = fc.constantFrom<Fault>('lost before', 'lost after', 503, 500, 'not JSON');
  const act = fc.record({
    page: fc.nat({ max: 1 }),
    kind: fc.constantFrom('set', 'set', 'set', 'undo', 'redo', 'wait', 'fault'),
    key: fc.constantFrom('a', 'b', 'c', 'd'),
    value: fc.string({ minLength: 1, maxLength: 2 }),
    fault: faults
  });
  await fc.assert(
    fc.asyncProperty(fc.array(act, { maxLength: 25 }), async (acts) => {
      server = new WordsServer();
      live = new FakeLive();
      const pages = [await opened(), await opened()];
      for (const { page, kind, key, value, fault } of acts) {
        const kept = pages[page]!;
        if (kind === 'set') kept.do({ [key]: value }, `Set ${key}`, key);
        else if (kind === 'undo') kept.undo();
        else if (kind === 'redo') kept.redo();
        else if (kind === 'wait') await vi.advanceTimersByTimeAsync(400);
        else server.faults.push(fault);
      }
      server.faults = [];
      await all();
      for (const kept of pages) {
        expect(kept.status.state).toBe('saved');
        expect(kept.words).toEqual(server.head.words);
      }
      const ids = server.revisions.map(({ id }) => id);
      expect(new Set(ids).size).toBe(ids.length);
    }),
    { numRuns: 60 }
  );
});
