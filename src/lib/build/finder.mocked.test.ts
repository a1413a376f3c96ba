import { checkTrain } from '@lodestone/core/check';
import type { Train } from '@lodestone/core/train';
import { readDrawer, type PartUse } from '@lodestone/core/drawer';
import { adviseOn, findStacks } from '@lodestone/core/finder';
import type { Drawer } from '$lib/parts/drawer.svelte.ts';
import { FakePage } from '$lib/testing/sync.ts';
import { TrainSession } from '$lib/train/session.svelte.ts';
import type { FinderAnswer, FinderReport, FinderTask } from '$lib/workers/finder.worker.ts';
import { expose } from 'comlink';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import drawerDocument from '../../../demo/drawer.json' with { type: 'json' };
import dormouse from '../../../demo/dormouse.json' with { type: 'json' };
import heron from '../../../demo/heron.json' with { type: 'json' };
import { Finder } from './finder.svelte.ts';

/** Workers as they are started: what each is asked, and how it is to answer. */
const workers = vi.hoisted(() => ({
  asked: [] as FinderTask[],
  ended: 0,
  answer: undefined as unknown as (task: FinderTask, tell: (report: FinderReport) => void) => unknown
}));
vi.mock('$lib/workers/start.ts', () => ({
  startFinder: () => {
    const { port1, port2 } = new MessageChannel();
    const find = (task: FinderTask, tell: (report: FinderReport) => void): unknown => {
      workers.asked.push(task);
      return workers.answer(task, tell);
    };
    expose({ find }, port2);
    port1.start();
    // What was on its way already may still arrive.
    const terminate = (): number => workers.ended++;
    return Object.assign(port1, { terminate });
  }
}));
vi.mock('$lib/train/transport.ts', () => ({ sendSave: () => new Promise(() => undefined) }));

/** A slow machine gets its time. */
const soon = (check: () => void): Promise<void> => vi.waitFor(check, { timeout: 20_000 });

const reading = readDrawer(drawerDocument);
if (!reading.ok) throw new Error('the demo must be a drawer');
const parts = reading.document;

function setup(document: unknown, uses: readonly PartUse[] = []) {
  const train = new TrainSession(
    {
      id: 'here',
      state: 'active',
      revision: { number: 1, hash: 'h', savedAt: '2026-11-25T00:00:00Z' },
      document: document as Train
    },
    new FakePage()
  );
  const drawer = { plain: parts, uses, isRead: true, load: () => Promise.resolve() };
  return { train, drawer, finder: new Finder(train, drawer as unknown as Drawer, () => 'mm') };
}

/** As the worker does, without what could be bought. */
function found({ train, prefer, maxPieces, pinned, forbidden, tied, unit, parts: all }: FinderTask): FinderAnswer {
  const options = {
    prefer,
    maxPieces,
    pinned,
    unit,
    parts: all.filter(({ owned }) => owned),
    forbidden: new Set(forbidden),
    tied: new Map(tied)
  };
  const result = findStacks(train, options);
  return { result, advice: adviseOn(train, options, result) };
}

async function searched(document: unknown, uses?: readonly PartUse[]) {
  const made = setup(document, uses);
  made.finder.show();
  await soon(() => expect(made.finder.state).toBe('done'));
  await soon(() => expect(made.train.preview).toBeDefined());
  return made;
}

beforeEach(() => {
  workers.asked = [];
  workers.ended = 0;
  workers.answer = found;
});

describe('a search', () => {
  it('shows its first stack on the rail without touching the document, and the next one on asking', async () => {
    const { train, finder } = await searched(heron);
    expect(finder.offers[0]).toMatchObject({ kind: 'stack', solution: { inTolerance: true } });
    expect(train.document).toEqual(heron);
    expect(checkTrain(train.shown).verdict).toBe('on-spec');
    const first = train.shown;
    finder.look(1);
    expect(train.shown).not.toEqual(first);
    finder.look(-5);
    expect(finder.active).toBe(0);
    finder.look(10_000);
    expect(finder.active).toBe(finder.offers.length - 1);
    finder.hide();
    expect(train.preview).toBeUndefined();
    expect(workers.ended).toBe(1);
  });

  it('is taken as one step, undone as one', async () => {
    const { train, finder } = await searched(heron);
    expect(finder.take()).toBeUndefined();
    expect(finder.open).toBe(false);
    expect(checkTrain(train.document).verdict).toBe('on-spec');
    expect(train.document.elements.some(({ kind }) => kind === 'gap')).toBe(false);
    train.undo();
    expect(train.document).toEqual(heron);
  });

  it('that finds nothing inside the tolerance leads with what would help, each of which does', async () => {
    const { train, finder } = await searched(dormouse);
    const [first] = finder.offers;
    expect(first?.kind).toBe('advice');
    expect(finder.missed).toBe(false);
    finder.take(0);
    expect(checkTrain(train.document).verdict).toBe('on-spec');
    expect(train.undoLabel).toBe(first?.kind === 'advice' ? first.advice.message : '');
  });

  it('is out of date once the train has changed: nothing of it is shown or taken any more', async () => {
    const { train, finder } = await searched(heron);
    train.dispatch({ op: 'set', at: 'guider', path: ['lengthMm'], to: 20 }, 'Length');
    expect(finder.stale).toBe(true);
    finder.look(1);
    expect(train.preview).toBeUndefined();
    const before = train.document;
    expect(finder.take(0)).toMatch(/changed/);
    expect(train.document).toBe(before);
  });
});

describe('what the worker is asked', () => {
  it('leaves out copies that stand in other assembled trains, unless it is told to take them', async () => {
    const use = (partId: string, trainId: string, assembled: boolean) =>
      ({ partId, trainId, assembled, name: trainId }) as unknown as PartUse;
    const uses = [use('R-01', 'there', true), use('R-02', 'there', false), use('S-05', 'here', true)];
    const { finder } = await searched(heron, uses);
    expect(workers.asked[0]!.tied).toEqual([['R-01', 1]]);
    const named = finder.solutions
      .flatMap(({ gaps }) => gaps.flatMap(({ placed }) => placed))
      .map(({ part }) => part.partId);
    expect(named).not.toContain('R-01');
    finder.evenHeld = true;
    await finder.search();
    expect(workers.asked[1]!.tied).toEqual([]);
  });

  it('a part that must be in is in every stack; one that must not, in none; never both at once', async () => {
    const { finder } = await searched(heron);
    const partIds = () =>
      finder.solutions.map(({ gaps }) => gaps.flatMap(({ placed }) => placed.map(({ part }) => part.partId)));
    finder.togglePin('R-03');
    await soon(() => expect(finder.state).toBe('done'));
    expect(partIds().length).toBeGreaterThan(0);
    expect(partIds().every((stack) => stack.includes('R-03'))).toBe(true);
    finder.toggleBan('R-03');
    await soon(() => expect(finder.state).toBe('done'));
    expect(finder.pinned.size).toBe(0);
    expect(partIds().flat()).not.toContain('R-03');
  });

  it('another order is searched for; trade-offs are another view of the same search', async () => {
    const { finder } = await searched(heron);
    finder.choose('closest');
    await soon(() => expect(finder.state).toBe('done'));
    finder.choose('trade-offs');
    expect(workers.asked).toHaveLength(2);
    expect(finder.solutions).toBe(finder.result!.pareto);
    finder.choose('fewest');
    await soon(() => expect(finder.state).toBe('done'));
    expect(workers.asked.map(({ prefer }) => prefer)).toEqual(['fewest', 'closest', 'fewest']);
    const pieces = finder.solutions.map((solution) => solution.pieces);
    expect(pieces).toEqual(pieces.toSorted((a, b) => a - b));
  });
});

describe('a search that does not end well', () => {
  it('is cancelled: the best so far stands, and is not said to be proven', async () => {
    const { train, finder } = setup(heron);
    workers.answer = (task, tell) => {
      tell({ share: 0.4, pieces: 3, best: found(task).result.solutions[0] });
      return new Promise(() => undefined);
    };
    finder.show();
    await soon(() => expect(finder.report?.best).toBeDefined());
    finder.cancel();
    expect(finder.state).toBe('stopped');
    expect(finder.result).toMatchObject({ exhausted: false });
    expect(finder.offers).toHaveLength(1);
    expect(checkTrain(train.shown).verdict).toBe('on-spec');
    expect(workers.ended).toBe(1);
  });

  it('overtaken by another, its late answer is not listened to', async () => {
    const { finder } = setup(heron);
    let answerLate: (answer: FinderAnswer) => void = () => undefined;
    workers.answer = () => new Promise<FinderAnswer>((answered) => (answerLate = answered));
    finder.show();
    await soon(() => expect(workers.asked).toHaveLength(1));
    workers.answer = found;
    finder.maxPieces = 2;
    await finder.search();
    const { result } = finder;
    expect(result).toBeDefined();
    answerLate(found({ ...workers.asked[0]!, maxPieces: 6 }));
    await new Promise((passed) => setTimeout(passed, 20));
    expect(finder.result).toBe(result);
  });

  it('asked for twice while the drawer is still being read begins once', async () => {
    const { drawer, finder } = setup(heron);
    let read = (): void => undefined;
    drawer.isRead = false;
    drawer.load = () =>
      new Promise<void>((done) => {
        read = () => {
          drawer.isRead = true;
          done();
        };
      });
    workers.answer = found;
    finder.show();
    const first = read;
    void finder.search();
    first();
    read();
    await soon(() => expect(finder.state).toBe('done'));
    expect(workers.asked).toHaveLength(1);
  });

  it('fails with the reason', async () => {
    const { finder } = setup(heron);
    workers.answer = () => {
      throw new Error('out of memory');
    };
    finder.show();
    await soon(() => expect(finder.state).toBe('failed'));
    expect(finder.failure).toBe('out of memory');
  });

  it('waits for the drawer, and says so when that cannot be reached', async () => {
    const { finder, drawer } = setup(heron);
    drawer.isRead = false;
    finder.show();
    await soon(() => expect(finder.state).toBe('failed'));
    expect(finder.failure).toMatch(/drawer cannot be reached/);
    expect(workers.asked).toHaveLength(0);
  });
});
