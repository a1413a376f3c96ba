import type { Operation, Train } from '@lodestone/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { StoredTrain } from '$lib/api/trains.ts';
import type { Pending } from './pendingStore.ts';
import { SaveQueue, type SaveStatus } from './saveQueue.ts';
import { Unreachable } from '$lib/api/ask.ts';
import { type Save, type SaveReply } from './transport.ts';

const document = (name: string): Train => ({
  lodestone: 'train/1',
  name,
  host: {
    name: 'host',
    kind: 'refractor',
    apertureMm: 100,
    focalLengthMm: 700,
    camera: { thread: 'M63x1', gender: 'female' }
  },
  elements: [{ id: 'camera', kind: 'camera', name: 'camera', lengthMm: 17.5 }]
});
const rename = (to: string): Operation => ({ op: 'set', at: 'train', path: ['name'], to });

/** A server as the queue sees it: keeps revisions, knows save ids, can lose replies and go away. */
class Server {
  revisions: { saveId: string; name: string }[] = [{ saveId: 'first', name: 'start' }];
  away = false;
  losesReplies = 0;
  refusal: string | undefined;
  received: Save[] = [];

  get head(): StoredTrain {
    const number = this.revisions.length;
    return {
      id: 't',
      state: 'active',
      revision: { number, hash: 'h', savedAt: '2026-11-24T00:00:00Z' },
      document: document(this.revisions.at(-1)!.name)
    };
  }

  send = async (save: Save): Promise<SaveReply> => {
    await Promise.resolve();
    if (this.away) throw new Unreachable('away');
    this.received.push(save);
    if (this.refusal) return { kind: 'refused', message: this.refusal };
    const known = this.revisions.findIndex(({ saveId }) => saveId === save.saveId);
    if (known < 0 && save.basedOn !== this.revisions.length) return { kind: 'stale', head: this.head };
    if (known < 0) this.revisions.push({ saveId: save.saveId, name: save.document.name });
    if (this.losesReplies > 0) {
      this.losesReplies--;
      throw new Unreachable('the reply was lost');
    }
    const number = known < 0 ? this.revisions.length : known + 1;
    return { kind: 'stored', train: { ...this.head, revision: { ...this.head.revision, number } } };
  };

  get names() {
    return this.revisions.map(({ name }) => name);
  }
}

function setup(server = new Server(), tabId = 'tab') {
  const kept = new Map<string, Pending>();
  const statuses: SaveStatus[] = [];
  const queue = new SaveQueue({
    trainId: 't',
    tabId,
    revision: server.revisions.length,
    send: server.send,
    store: {
      put: async (pending) => void kept.set(pending.tabId, structuredClone(pending)),
      drop: async (_train, tab) => void kept.delete(tab)
    },
    onstatus: (status) => statuses.push(status),
    delayMs: 100,
    retryMs: 200,
    longestRetryMs: 400
  });
  return { server, queue, kept, statuses, state: () => statuses.at(-1)?.state };
}

describe('SaveQueue', () => {
  beforeEach(() => {
    vi.useFakeTimers();
    return () => vi.useRealTimers();
  });
  const pass = (ms: number) => vi.advanceTimersByTimeAsync(ms);

  it('waits for quiet, saves once, and then keeps nothing in the browser', async () => {
    const { server, queue, kept, state } = setup();
    await queue.change(document('a'), rename('a'));
    await queue.change(document('ab'), rename('ab'));
    expect(kept.get('tab')?.document.name).toBe('ab');
    expect(state()).toBe('unsaved');
    await pass(150);
    expect(server.names).toEqual(['start', 'ab']);
    expect([state(), kept.size, queue.revision]).toEqual(['saved', 0, 2]);
  });

  it('a reply lost after the commit does not make a second revision', async () => {
    const { server, queue, state } = setup();
    server.losesReplies = 1;
    await queue.change(document('a'), rename('a'));
    await pass(150);
    expect(state()).toBe('offline');
    await queue.change(document('b'), rename('b'));
    await pass(500);
    expect(server.names).toEqual(['start', 'a', 'b']);
    expect(server.received[0]?.saveId).toBe(server.received[1]?.saveId);
    expect(state()).toBe('saved');
  });

  it('keeps trying while the server is away, ever more slowly, and loses nothing', async () => {
    const { server, queue, kept, state } = setup();
    server.away = true;
    for (const name of ['a', 'b', 'c']) {
      await queue.change(document(name), rename(name));
      await pass(300);
    }
    expect(state()).toBe('offline');
    expect(kept.get('tab')?.document.name).toBe('c');
    server.away = false;
    await pass(1000);
    expect(server.names.at(-1)).toBe('c');
    expect(state()).toBe('saved');
  });

  it('a tab closed in the middle is carried on by the next one, with the same save id', async () => {
    const first = setup();
    first.server.losesReplies = 1;
    await first.queue.change(document('a'), rename('a'));
    await pass(150);
    await first.queue.change(document('b'), rename('b'));
    first.queue.end();
    const left = first.kept.get('tab')!;
    expect(left.inFlight?.document.name).toBe('a');

    const second = setup(first.server, 'other');
    await second.queue.resume(left);
    expect(first.server.names).toEqual(['start', 'a', 'b']);
    expect(second.state()).toBe('saved');
  });

  it('a stale save overwrites nothing: it stops, keeps the work and shows the other version', async () => {
    const { server, queue, kept, statuses } = setup();
    server.revisions.push({ saveId: 'theirs', name: 'theirs' });
    await queue.change(document('mine'), rename('mine'));
    await pass(150);
    expect(statuses.at(-1)).toMatchObject({ state: 'conflict', head: { document: { name: 'theirs' } } });
    expect(server.names).toEqual(['start', 'theirs']);
    expect(kept.get('tab')?.document.name).toBe('mine');
    expect(queue.operations).toEqual([rename('mine')]);
    await pass(5000);
    expect(server.received).toHaveLength(1);

    queue.rebase(2);
    await queue.change(document('both'), rename('both'));
    await pass(150);
    expect(server.names).toEqual(['start', 'theirs', 'both']);
  });

  it('a save the server refuses is not sent again, and its reason is shown', async () => {
    const { server, queue, kept, statuses } = setup();
    server.refusal = 'too long';
    await queue.change(document('a'), rename('a'));
    await pass(5000);
    expect(statuses.at(-1)).toEqual({ state: 'refused', message: 'too long' });
    expect(server.received).toHaveLength(1);
    expect(kept.get('tab')?.document.name).toBe('a');
  });

  it('what is done while a save is under way goes with the next one', async () => {
    const { server, queue, statuses } = setup();
    await queue.change(document('a'), rename('a'));
    const sending = queue.flush();
    await queue.change(document('b'), rename('b'));
    await sending;
    await pass(200);
    expect(server.names).toEqual(['start', 'a', 'b']);
    expect(statuses.at(-1)?.state).toBe('saved');
    expect(queue.operations).toEqual([]);
  });

  it('knows what a save under way does not carry, also in the same field, should it meet another revision', async () => {
    const { server, queue, kept, statuses } = setup();
    await queue.change(document('a'), rename('a'));
    const sending = queue.flush();
    await queue.change(document('ab'), rename('ab'));
    expect(kept.get('tab')).toMatchObject({ sentOperations: 1, operations: [rename('a'), rename('ab')] });
    await Promise.resolve();
    server.revisions.push({ saveId: 'theirs', name: 'theirs' });
    await sending;
    await pass(500);
    expect(statuses.at(-1)?.state).toBe('conflict');
    expect(queue.operations.at(-1)).toEqual(rename('ab'));
  });
});
