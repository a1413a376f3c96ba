import { apply, type Operation, type Train } from '@lodestone/core/train';
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { StoredTrain } from '$lib/api/trains.ts';
import type { Told } from '$lib/sync/live.ts';
import { FakePage, stubBrowser } from '$lib/testing/sync.ts';
import heron from '../../../demo/heron.json' with { type: 'json' };
import { TrainSession } from './session.svelte.ts';
import type { Save, SaveReply } from './transport.ts';

/** What the server answers; saves that arrived. */
const server = vi.hoisted(() => ({
  received: [] as Save[],
  answer: undefined as unknown as (save: Save) => SaveReply,
  created: [] as Train[],
  head: undefined as unknown as StoredTrain
}));
vi.mock('./transport.ts', () => ({
  sendSave: (_id: string, save: Save) => {
    server.received.push(save);
    return Promise.resolve(server.answer(save));
  },
  fetchTrain: () => Promise.resolve(server.head),
  createTrain: (_saveId: string, document: Train) => {
    server.created.push(document);
    return Promise.resolve({ id: 'copy' });
  }
}));
/** The page that shows it: what it keeps, and what it is told. */
let page: FakePage;
const tell = (told: Told): void => page.live().tell('train/heron', told);

const start = heron as Train;
const stored = (document: Train, number: number): StoredTrain => ({
  id: 'heron',
  state: 'active',
  revision: { number, hash: 'h', savedAt: `2026-11-2${number}T00:00:00Z` },
  document
});
const opened = (): TrainSession => new TrainSession(stored(start, 1), page);
const ids = ({ document }: TrainSession): string[] => document.elements.map(({ id }) => id);
const setLength = (at: string, to: number): Operation => ({ op: 'set', at, path: ['lengthMm'], to });
const ring: Operation = {
  op: 'insert',
  element: { id: 'ring', kind: 'spacer', name: 'Ring', lengthMm: 7.5 },
  before: 'guider'
};

beforeEach(() => {
  vi.useFakeTimers();
  page = new FakePage();
  stubBrowser();
  server.received = [];
  server.created = [];
  server.answer = ({ document, basedOn }) => ({ kind: 'stored', stored: stored(document, basedOn + 1) });
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

describe('a change', () => {
  it('is carried out, reckoned at once, and sent after a quiet moment', async () => {
    const session = opened();
    const before = session.assessment.report.residualMm!;
    expect(session.dispatch(ring, 'Add Ring')).toBeUndefined();
    expect(session.assessment.report.residualMm).toBeCloseTo(before + 7.5, 9);
    expect(session.status.state).toBe('unsaved');
    const { document } = session;
    await vi.runAllTimersAsync();
    // What comes back from the server is the same, and counts as no change.
    expect(session.document).toBe(document);
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

describe('several parts', () => {
  const choose = (session: TrainSession, id: string): void => session.select({ kind: 'element', id });

  it('are chosen one by one, and as a row from the first; one stays', () => {
    const session = opened();
    choose(session, 'wheel');
    session.toggle('reducer');
    expect(session.chosen).toEqual(['reducer', 'wheel']);
    session.toggle('reducer');
    expect(session.chosen).toEqual(['wheel']);
    session.toggle('wheel');
    expect(session.chosen).toEqual(['wheel']);
    session.chooseTo('reducer');
    expect(session.chosen).toEqual(['reducer', 'rings', 'guider', 'wheel']);
    // From the same first one the other way.
    session.chooseTo('camera');
    expect(session.chosen).toEqual(['wheel', 'camera']);
    choose(session, 'guider');
    session.extend(1);
    session.extend(1);
    session.extend(-1);
    expect(session.chosen).toEqual(['guider', 'wheel']);
    session.chooseAll();
    expect(session.chosen).toEqual(ids(session));
    choose(session, 'guider');
    expect(session.chosen).toEqual(['guider']);
  });

  it('are moved and removed as one step, which undo takes back; the camera stays', () => {
    const session = opened();
    choose(session, 'guider');
    session.chooseTo('wheel');
    expect(session.shift(-1)).toBeUndefined();
    expect(ids(session)).toEqual(['reducer', 'guider', 'wheel', 'rings', 'camera']);
    expect(session.chosen).toEqual(['guider', 'wheel']);
    expect(session.removeChosen()).toBeUndefined();
    expect(ids(session)).toEqual(['reducer', 'rings', 'camera']);
    expect(session.chosen).toEqual([]);
    session.undo();
    session.undo();
    expect(session.document).toEqual(start);
    session.chooseAll();
    expect(session.removeChosen()).toBe('A train needs its camera. Replace it instead.');
    expect(session.document).toEqual(start);
  });

  it('that others have removed are not chosen any more', () => {
    const session = opened();
    choose(session, 'guider');
    session.toggle('wheel');
    session.dispatch({ op: 'remove', id: 'guider' }, 'Remove');
    expect(session.chosen).toEqual(['wheel']);
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
    expect(session.removeChosen()).toBeUndefined();
    expect(session.selection).toEqual({ kind: 'joint', id: 'wheel' });
    session.select({ kind: 'element', id: 'camera' });
    expect(session.removeChosen()).toMatch(/camera/);
    session.shift(-1);
    expect(ids(session).at(-1)).toBe('camera');
  });
});

describe('another revision overtook ours', () => {
  const renamed: Train = { ...start, name: 'Heron by the other tab' };
  const overtakenBy = (theirs: Train): void => {
    server.answer = ({ basedOn, document }) =>
      basedOn === 1
        ? { kind: 'stale', theirs: stored(theirs, 2) }
        : { kind: 'stored', stored: stored(document, basedOn + 1) };
  };

  it('elsewhere in the train: both go together, and nobody is asked', async () => {
    const session = opened();
    overtakenBy(renamed);
    session.dispatch(ring, 'Add Ring');
    await vi.runAllTimersAsync();
    expect(session.document.name).toBe(renamed.name);
    expect(ids(session)).toContain('ring');
    expect(server.received.at(-1)).toMatchObject({ basedOn: 2, document: session.document });
    expect([session.status.state, session.aside.length]).toEqual(['saved', 0]);
  });

  async function clashed(): Promise<TrainSession> {
    const session = opened();
    overtakenBy(apply(start, setLength('wheel', 21)));
    session.dispatch(setLength('wheel', 20), 'Length of the wheel');
    session.dispatch(ring, 'Add Ring');
    await vi.runAllTimersAsync();
    return session;
  }
  const lengthOf = ({ document }: TrainSession, at: string) =>
    document.elements.find(({ id }) => id === at) as { lengthMm: number };

  it('at the same key: theirs stands, ours is named, and the rest of ours is stored', async () => {
    const session = await clashed();
    expect(lengthOf(session, 'wheel').lengthMm).toBe(21);
    expect(ids(session)).toContain('ring');
    expect(session.aside).toHaveLength(1);
    expect(session.aside[0]).toMatchObject({ entry: { label: 'Length of the wheel' } });
    expect(session.aside[0]!.reason).toMatch(/length: 21 elsewhere, 20 here/);
    expect(session.status.state).toBe('saved');
    // The step of what was set aside is gone, the other is there.
    expect(session.undoLabel).toBe('Add Ring');
  });

  it('ours is made all the same, let go, or kept as a train of its own', async () => {
    const insisting = await clashed();
    expect(insisting.insist(insisting.aside[0]!.entry.id)).toBeUndefined();
    await vi.runAllTimersAsync();
    expect(lengthOf(insisting, 'wheel').lengthMm).toBe(20);
    expect(server.received.at(-1)!.document).toEqual(insisting.document);

    const leaving = await clashed();
    leaving.letGo(leaving.aside[0]!.entry.id);
    expect(leaving.aside).toEqual([]);
    expect(lengthOf(leaving, 'wheel').lengthMm).toBe(21);

    const keeping = await clashed();
    expect(await keeping.keepAsideAsTrain()).toBe('copy');
    expect(server.created.at(-1)!.elements.find(({ id }) => id === 'wheel')).toMatchObject({ lengthMm: 20 });
    expect(keeping.aside).toEqual([]);
  });

  it('ours makes no sense any more: it can still be kept as a train of its own, as it was here', async () => {
    const session = opened();
    overtakenBy({ ...start, elements: start.elements.filter(({ id }) => id !== 'wheel') });
    session.dispatch(setLength('wheel', 20), 'Length');
    await vi.runAllTimersAsync();
    expect(session.insist(session.aside[0]!.entry.id)).toMatch(/wheel/);
    expect(session.aside).toHaveLength(1);
    await session.keepAsideAsTrain();
    expect(server.created.at(-1)!.elements.map(({ id }) => id)).toContain('wheel');
  });

  it('undo takes back ours alone: what the other side has set beside it stays', async () => {
    const session = opened();
    session.open();
    session.dispatch({ op: 'set', at: 'wheel', path: ['seat', 'gapMm'], to: 0.1 }, 'Opening');
    await vi.runAllTimersAsync();
    const theirs = apply(session.document, { op: 'set', at: 'wheel', path: ['seat', 'recessMm'], to: 1 });
    server.head = stored(theirs, 3);
    tell({ number: 3 });
    await vi.runAllTimersAsync();
    expect(session.document).toEqual(theirs);
    expect(session.undo()).toBeUndefined();
    expect(session.document.elements.find(({ id }) => id === 'wheel')).toMatchObject({ seat: { recessMm: 1 } });
    expect(JSON.stringify(session.document)).not.toContain('gapMm":0.1');
  });

  it('undo of what the other side has changed since leaves theirs, and says so', async () => {
    const session = opened();
    session.open();
    session.dispatch(setLength('wheel', 20), 'Length');
    await vi.runAllTimersAsync();
    server.head = stored(apply(session.document, setLength('wheel', 21)), 3);
    tell({ number: 3 });
    await vi.runAllTimersAsync();
    expect(session.undo()).toMatch(/left as it is.*length/i);
    expect(lengthOf(session, 'wheel').lengthMm).toBe(21);
    expect(session.undoLabel).toBeUndefined();
  });

  it('a revision heard of while ours is on its way is not forgotten', async () => {
    const session = opened();
    session.open();
    server.answer = ({ document }) => {
      // Somebody saves on top of ours before our reply has come.
      server.head = stored({ ...document, name: 'theirs' }, 3);
      tell({ number: 2 });
      tell({ number: 3 });
      return { kind: 'stored', stored: stored(document, 2) };
    };
    session.dispatch(ring, 'Add Ring');
    await vi.runAllTimersAsync();
    expect(session.document.name).toBe('theirs');
    expect(ids(session)).toContain('ring');
  });

  it('a deleted train keeps what was done to it, and stores it once it is brought back', async () => {
    const session = opened();
    session.open();
    server.answer = () => ({ kind: 'later', why: 'blocked', message: 'This train was deleted.' });
    session.dispatch(ring, 'Add Ring');
    await vi.advanceTimersByTimeAsync(500);
    expect(session.status).toMatchObject({ state: 'blocked', message: 'This train was deleted.' });
    server.answer = ({ document, basedOn }) => ({ kind: 'stored', stored: stored(document, basedOn + 1) });
    tell({ state: 'active' });
    await vi.advanceTimersByTimeAsync(10);
    expect(session.status.state).toBe('saved');
  });

  it('a save says which state of the drawer its parts were taken from', async () => {
    const session = opened();
    session.drawerNumber = () => 7;
    session.dispatch(ring, 'Add Ring');
    await vi.runAllTimersAsync();
    expect(server.received.at(-1)).toMatchObject({ drawer: 7 });
  });
});
