import type { Train } from '@lodestone/core/train';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Sitting, StateOfTrain } from '$lib/api/history.ts';
import type { StoredTrain } from '$lib/api/trains.ts';
import { FakePage, stubBrowser } from '$lib/testing/sync.ts';
import { TrainSession } from '$lib/train/session.svelte.ts';
import heron from '../../../demo/heron.json' with { type: 'json' };
import { History, type HistoryWays } from './history.svelte.ts';
import { timelineOf } from './timeline.ts';

const now = heron as Train;
const before: Train = { ...now, name: 'As it was', elements: now.elements.slice(1) };
const stored = (document: Train, number: number): StoredTrain => ({
  id: 'heron',
  state: 'active',
  revision: { number, hash: 'h', savedAt: '2026-11-22T00:00:00Z' },
  document
});
const sitting = (first: number, last: number, day: string): Sitting => ({
  first,
  devices: [],
  last,
  beganAt: `${day}T20:00:00Z`,
  endedAt: `${day}T21:00:00Z`
});
const state = (number: number): StateOfTrain => ({
  number,
  savedAt: '2026-11-22T00:00:00Z',
  residualMm: number / 10,
  toleranceMm: 0.3,
  changes: []
});

let asked: string[][];
let ways: HistoryWays;
let train: TrainSession;
let history: History;

beforeEach(() => {
  stubBrowser();
  asked = [];
  ways = {
    history: (from) =>
      Promise.resolve({
        sittings: from === undefined ? [sitting(90, 100, '2026-11-22')] : [sitting(1, 89, '2026-11-01')],
        names: [{ number: 95, name: 'First light' }],
        more: from === undefined
      }),
    states: (of) => {
      asked.push([...of]);
      return Promise.resolve(of.map((each) => state(Number(each.split('-').at(-1)))));
    },
    revision: vi.fn((number: number) => Promise.resolve(stored(before, number))),
    name: () => Promise.resolve()
  };
  train = new TrainSession(stored(now, 100), new FakePage());
  history = new History(train, ways);
});

describe('a history', () => {
  it('asks for its sittings, told from the state before each, and for the newest states one by one', async () => {
    await history.load();
    expect(history.head).toBe(100);
    expect(asked[0]).toEqual(['89-100']);
    expect(asked[1]!.length).toBe(40);
    expect(asked[1]!.at(-1)).toBe('60-61');
    expect(history.names.get(95)).toBe('First light');
    expect(history.known.map(({ number }) => number)).toEqual(Array.from({ length: 40 }, (_, index) => 61 + index));
  });

  it('asks for nothing twice, and for what failed again', async () => {
    await history.load();
    const before = asked.length;
    await history.tell(history.sittings!);
    expect(asked.length).toBe(before);
    ways.states = () => Promise.reject(new Error('away'));
    await expect(history.tellSingle(3, 1)).rejects.toThrow('away');
    ways.states = (of) => {
      asked.push([...of]);
      return Promise.resolve([]);
    };
    await history.tellSingle(3, 1);
    expect(asked.at(-1)).toEqual(['2-3', '1-2', '1']);
  });

  it('goes back sitting by sitting', async () => {
    await history.load();
    await history.loadMore();
    expect(history.sittings!.map(({ first }) => first)).toEqual([90, 1]);
    expect(history.oldest).toBe(1);
    expect(history.more).toBe(false);
  });

  it('shows a state without changing anything, and makes the train as it was, which can be undone', async () => {
    await history.load();
    await history.look(95);
    expect(train.shown.name).toBe('As it was');
    expect(train.document.name).toBe('Heron');
    expect(history.restore()).toBeUndefined();
    expect(train.document).toEqual(before);
    expect(train.preview).toBeUndefined();
    expect(train.undoLabel).toBe('Restore revision 95');
    train.undo();
    expect(train.document).toEqual(now);
  });

  it('the newest is the train itself: nothing is asked for', async () => {
    await history.load();
    await history.look(100);
    expect(ways.revision).not.toHaveBeenCalled();
    expect(history.looked).toBeUndefined();
  });

  it('of two that are asked for the later is shown, whichever answer comes first', async () => {
    await history.load();
    let late: ((of: StoredTrain) => void) | undefined;
    ways.revision = (number) =>
      number === 91 ? new Promise((done) => (late = done)) : Promise.resolve(stored(before, number));
    const first = history.look(91);
    await history.look(92);
    late!(stored({ ...before, name: 'too late' }, 91));
    await first;
    expect(history.looked?.revision.number).toBe(92);
    expect(train.shown.name).toBe('As it was');
  });

  it('a name is kept, and an empty one takes it away', async () => {
    const sent: (string | undefined)[] = [];
    ways.name = (_number, name) => {
      sent.push(name);
      return Promise.resolve();
    };
    await history.name(3, '  Before the wheel ');
    expect(history.names.get(3)).toBe('Before the wheel');
    await history.name(3, ' ');
    expect(history.names.has(3)).toBe(false);
    expect(sent).toEqual(['Before the wheel', undefined]);
  });
});

describe('the line of what happened', () => {
  it('has sittings, focus runs and experiments, the newest first', () => {
    const line = timelineOf(
      {
        focusing: { runs: [{ on: '2026-11-22T20:30:00Z', points: [{ position: 1, hfrPx: 2 }] }, { points: [] }] },
        tuning: { experiments: [{ on: '2026-11-23', spacingMm: 55 }] }
      },
      [sitting(90, 100, '2026-11-22'), sitting(1, 89, '2026-11-01')],
      []
    );
    expect(line.map(({ kind }) => kind)).toEqual(['experiment', 'sitting', 'run', 'sitting']);
  });
});
