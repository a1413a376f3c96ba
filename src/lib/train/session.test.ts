import { assess, type Operation, type Train } from '@lodestone/core';
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { StoredTrain } from '$lib/api/trains.ts';
import heron from '../../../demo/heron.json' with { type: 'json' };
import { TrainSession } from './session.svelte.ts';
import type { Save, SaveReply } from './transport.ts';

/** What the server answers; saves that arrived. */
const server = vi.hoisted(() => ({
  received: [] as Save[],
  answer: undefined as unknown as (save: Save) => SaveReply,
  created: [] as Train[]
}));
vi.mock('./pendingStore.ts', () => ({
  pendingStore: { put: () => Promise.resolve(), drop: () => Promise.resolve() },
  findOrphan: () => Promise.resolve(undefined)
}));
vi.mock('./transport.ts', () => ({
  sendSave: (_id: string, save: Save) => {
    server.received.push(save);
    return Promise.resolve(server.answer(save));
  },
  createTrain: (_saveId: string, document: Train) => {
    server.created.push(document);
    return Promise.resolve({ id: 'copy' });
  }
}));

const start = heron as Train;
const stored = (document: Train, number: number): StoredTrain => ({
  id: 'heron',
  state: 'active',
  revision: { number, hash: 'h', savedAt: `2026-11-2${number}T00:00:00Z` },
  document
});
const opened = (): TrainSession => new TrainSession(stored(start, 1));
const ids = ({ document }: TrainSession): string[] => document.elements.map(({ id }) => id);
const setLength = (at: string, to: number): Operation => ({ op: 'set', at, path: ['lengthMm'], to });
const ring: Operation = {
  op: 'insert',
  element: { id: 'ring', kind: 'spacer', name: 'Ring', lengthMm: 7.5 },
  before: 'guider'
};

beforeEach(() => {
  vi.useFakeTimers();
  server.received = [];
  server.created = [];
  server.answer = ({ document, basedOn }) => ({ kind: 'stored', train: stored(document, basedOn + 1) });
});
afterEach(() => vi.useRealTimers());

describe('a change', () => {
  it('is carried out, reckoned at once, and sent after a quiet moment', async () => {
    const session = opened();
    const before = session.assessment.report.residualMm!;
    expect(session.dispatch(ring, 'Add Ring')).toBeUndefined();
    expect(session.assessment.report.residualMm).toBeCloseTo(before + 7.5, 9);
    expect(session.status.state).toBe('unsaved');
    await vi.runAllTimersAsync();
    expect(server.received.map(({ basedOn }) => basedOn)).toEqual([1]);
    expect(server.received[0]!.document).toEqual(session.document);
    expect(session.status.state).toBe('saved');
    expect(session.savedAt).toBe('2026-11-22T00:00:00Z');
  });

  it('that would make an invalid document is refused with the place, and nothing moves or is sent', async () => {
    const session = opened();
    expect(session.dispatch(setLength('guider', -1), 'Length')).toMatch(/length/i);
    expect(session.dispatch({ op: 'remove', id: 'nobody' }, 'Remove')).toMatch(/nobody/);
    expect(session.document).toEqual(start);
    expect(session.undoLabel).toBeUndefined();
    await vi.runAllTimersAsync();
    expect(server.received).toEqual([]);
  });

  it('ends the preview of another one', () => {
    const session = opened();
    session.preview = { ...start, name: 'only looked at' };
    expect(session.shown.name).toBe('only looked at');
    session.dispatch(ring, 'Add Ring');
    expect(session.shown).toBe(session.document);
  });
});

describe('undo', () => {
  it('takes a run of typing back in one step, and another field’s in its own', () => {
    const session = opened();
    for (const mm of [1, 17, 17.3]) session.dispatch(setLength('guider', mm), 'Length', 'guider/lengthMm');
    session.dispatch(setLength('wheel', 20), 'Length', 'wheel/lengthMm');
    session.undo();
    session.undo();
    expect(session.document).toEqual(start);
    expect(session.undoLabel).toBeUndefined();
    expect(session.redoLabel).toBe('Length');
  });

  it('shows the part it was about', () => {
    const session = opened();
    session.select({ kind: 'element', id: 'wheel' });
    session.dispatch(setLength('wheel', 20), 'Length');
    session.select({ kind: 'host' });
    session.undo();
    expect(session.selection).toEqual({ kind: 'element', id: 'wheel' });
  });

  it('forgets what could be done again once something else is done', () => {
    const session = opened();
    session.dispatch(ring, 'Add Ring');
    session.undo();
    session.dispatch(setLength('wheel', 20), 'Length');
    expect(session.redoLabel).toBeUndefined();
    expect(session.redo()).toBeUndefined();
    expect(ids(session)).not.toContain('ring');
  });

  it('any changes, all undone, give the beginning; all done again, the end', () => {
    const movable = start.elements.map(({ id }) => id).filter((id) => id !== 'camera');
    const operation: fc.Arbitrary<Operation> = fc.oneof(
      fc
        .record({ id: fc.constantFrom(...movable), mm: fc.integer({ min: 0, max: 60 }) })
        .map(({ id, mm }) => setLength(id, mm)),
      fc
        .record({ id: fc.constantFrom(...movable), before: fc.constantFrom(...movable, 'camera') })
        .map(({ id, before }): Operation => ({ op: 'move', id, before })),
      fc.constantFrom(...movable).map((id): Operation => ({ op: 'remove', id })),
      fc.string({ maxLength: 12 }).map((to): Operation => ({ op: 'set', at: 'host', path: ['name'], to })),
      fc.constant(ring)
    );
    fc.assert(
      fc.property(fc.array(operation, { maxLength: 12 }), (operations) => {
        const session = opened();
        operations.forEach((each, at) => session.dispatch(each, `step ${at}`));
        const end = session.document;
        let steps = 0;
        while (session.undoLabel !== undefined) {
          expect(session.undo()).toBeUndefined();
          steps++;
        }
        expect(session.document).toEqual(start);
        for (let step = 0; step < steps; step++) expect(session.redo()).toBeUndefined();
        expect(session.document).toEqual(end);
        expect(session.redoLabel).toBeUndefined();
      }),
      { numRuns: 100 }
    );
  });
});

describe('the selection', () => {
  it('opens at the gap that is to be filled, and walks over host, joints and elements to both ends', () => {
    const session = opened();
    expect(session.selection).toEqual({ kind: 'element', id: start.elements.find(({ kind }) => kind === 'gap')!.id });
    session.walk(-100);
    expect(session.selection).toEqual({ kind: 'host' });
    session.walk(1);
    expect(session.selection).toEqual({ kind: 'joint', id: start.elements[0]!.id });
    session.walk(100);
    expect(session.selection).toEqual({ kind: 'element', id: 'camera' });
  });

  it('never points at what is not there any more', () => {
    const session = opened();
    session.select({ kind: 'element', id: 'wheel' });
    session.dispatch({ op: 'remove', id: 'wheel' }, 'Remove');
    expect(session.selection).toEqual({ kind: 'host' });
    session.select({ kind: 'joint', id: 'nobody' });
    expect(session.selection).toEqual({ kind: 'host' });
  });

  it('removes and moves the part it stands at, but never the camera', () => {
    const session = opened();
    const order = ids(session);
    session.select({ kind: 'element', id: 'guider' });
    session.shift(1);
    expect(ids(session).indexOf('guider')).toBe(order.indexOf('guider') + 1);
    session.shift(-1);
    expect(ids(session)).toEqual(order);
    expect(session.removeSelected()).toBeUndefined();
    expect(session.selection).toEqual({ kind: 'joint', id: 'wheel' });
    session.select({ kind: 'element', id: 'camera' });
    expect(session.removeSelected()).toMatch(/camera/);
    session.shift(-1);
    expect(ids(session).at(-1)).toBe('camera');
  });
});

describe('another revision overtook ours', () => {
  const theirs: Train = { ...start, name: 'Heron by the other tab' };

  async function overtaken(): Promise<TrainSession> {
    const session = opened();
    server.answer = ({ basedOn, document }) =>
      basedOn === 1
        ? { kind: 'stale', head: stored(theirs, 2) }
        : { kind: 'stored', train: stored(document, basedOn + 1) };
    session.dispatch(ring, 'Add Ring');
    await vi.runAllTimersAsync();
    expect(session.status.state).toBe('conflict');
    return session;
  }

  it('combines both: theirs with our operations on top', async () => {
    const session = await overtaken();
    await session.settle('combine');
    expect(session.document.name).toBe(theirs.name);
    expect(ids(session)).toContain('ring');
    expect(server.received.at(-1)).toMatchObject({ basedOn: 2, document: session.document });
    expect(session.status.state).toBe('saved');
  });

  it('ours goes on top of theirs, theirs is taken as it is, or ours becomes a train of its own', async () => {
    const ours = await overtaken();
    await ours.settle('ours');
    expect(ours.document.name).toBe(start.name);
    expect(server.received.at(-1)!.basedOn).toBe(2);

    const given = await overtaken();
    await given.settle('theirs');
    expect(given.document).toEqual(theirs);

    const kept = await overtaken();
    expect(await kept.settle('copy')).toBe('copy');
    expect(server.created.at(-1)!.elements.map(({ id }) => id)).toContain('ring');
    expect(kept.document).toEqual(theirs);
  });

  it('offers no combination where ours makes no sense on theirs', async () => {
    const session = opened();
    const without: Train = { ...start, elements: start.elements.filter(({ id }) => id !== 'wheel') };
    server.answer = () => ({ kind: 'stale', head: stored(without, 2) });
    session.dispatch(setLength('wheel', 20), 'Length');
    await vi.runAllTimersAsync();
    expect(session.combined).toBeUndefined();
    expect(assess(session.document).report.residualMm).not.toBeNull();
  });
});
