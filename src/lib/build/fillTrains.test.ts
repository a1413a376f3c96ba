import { readTrain, type Train } from '@lodestone/core/train';
import type { Part } from '@lodestone/core/drawer';
import type { Solution } from '@lodestone/core/finder';
import type { StoredTrain } from '$lib/api/trains.ts';
import type { Save, SaveReply } from '$lib/train/transport.ts';
import { describe, expect, it } from 'vitest';
import heron from '../../../demo/heron.json' with { type: 'json' };
import { emptyAgain, fillTrains } from './fillTrains.ts';

const reading = readTrain(heron);
if (!reading.ok) throw new Error('the demo is not valid');
const document: Train = reading.document;

const ring: Part = {
  partId: 'R-1',
  element: { id: 'R-1', kind: 'spacer', name: 'ring', lengthMm: 7.5 },
  quantity: 1,
  owned: true,
  location: '',
  state: 'spare',
  measurements: []
};

const stack: Solution = {
  residualMm: -0.181,
  gaps: [{ id: 'rings', placed: [{ part: ring, reversed: false }], mm: 7.5 }],
  joints: 2,
  pieces: 1,
  buys: 0,
  price: 0,
  dials: [],
  strain: 0,
  orders: 1,
  assumed: { tolerance: false, lengths: false },
  brightest: null,
  probability: 1,
  inTolerance: true,
  cornerLight: null,
  warnings: []
};

/** A server in a few lines: revisions by train, and trains it will not take. */
class FakeServer {
  readonly trains = new Map<string, StoredTrain>();
  refuse: string | undefined;

  add(id: string): StoredTrain {
    const train: StoredTrain = {
      id,
      state: 'active',
      revision: { number: 1, hash: '', savedAt: '2026-11-25T00:00:00Z' },
      document: { ...document, name: id }
    };
    this.trains.set(id, train);
    return train;
  }

  /** Somebody else changes a train. */
  touch(id: string): void {
    const train = this.trains.get(id)!;
    this.trains.set(id, { ...train, revision: { ...train.revision, number: train.revision.number + 1 } });
  }

  send = (id: string, { basedOn, document: sent }: Save): Promise<SaveReply> => {
    const head = this.trains.get(id)!;
    if (this.refuse === id) return Promise.resolve({ kind: 'refused', message: 'is deleted' });
    if (head.revision.number !== basedOn) return Promise.resolve({ kind: 'stale', theirs: head });
    const train = { ...head, document: sent, revision: { ...head.revision, number: basedOn + 1 } };
    this.trains.set(id, train);
    return Promise.resolve({ kind: 'stored', stored: train });
  };

  partsOf = (id: string): string[] =>
    this.trains
      .get(id)!
      .document.elements.flatMap((element) =>
        'partId' in element && element.partId === 'R-1' ? [element.partId] : []
      );
}

describe('filling trains that are not open', () => {
  it('stores a revision of each, which can be taken back', async () => {
    const server = new FakeServer();
    const trains = [server.add('one'), server.add('two')];
    const filled = await fillTrains(trains, [stack, stack], server.send);
    expect(['one', 'two'].map(server.partsOf)).toEqual([['R-1'], ['R-1']]);
    expect(filled.map(({ after }) => after.revision.number)).toEqual([2, 2]);
    await emptyAgain(filled, server.send);
    expect(['one', 'two'].map(server.partsOf)).toEqual([[], []]);
    expect(server.trains.get('one')!.document).toEqual(trains[0]!.document);
  });

  it('fills all of them or none: what went before a failure is given back', async () => {
    const server = new FakeServer();
    const trains = [server.add('one'), server.add('two')];
    server.touch('two');
    await expect(fillTrains(trains, [stack, stack], server.send)).rejects.toThrow('two was changed meanwhile');
    expect(['one', 'two'].map(server.partsOf)).toEqual([[], []]);
    server.refuse = 'one';
    await expect(fillTrains(trains, [stack, stack], server.send)).rejects.toThrow('one: is deleted');
  });

  it('does not take back what somebody has changed since', async () => {
    const server = new FakeServer();
    const filled = await fillTrains([server.add('one')], [stack], server.send);
    server.touch('one');
    await expect(emptyAgain(filled, server.send)).rejects.toThrow('one was changed meanwhile');
    expect(server.partsOf('one')).toEqual(['R-1']);
  });
});
