import { describe, expect, it } from 'vitest';
import {
  facetsOf,
  freePartId,
  indexDrawer,
  nearestQuery,
  partsThatFit,
  placedPart,
  placesOf,
  readDrawer,
  readDrawerText,
  refreshedPart,
  facetsLeft,
  searchParts,
  sortParts,
  type PartUse
} from '../src/drawer/index.ts';
import { checkTrain } from '../src/check/index.ts';
import { complaintLine, readTrain, type BodyElement } from '../src/train/index.ts';
import { mate } from '../src/joint/index.ts';
import { drawer, female, male } from './drawer.ts';
import { camera, corrector, train } from './trains.ts';

const complaints = (candidate: unknown): string[] => {
  const reading = readDrawer(candidate);
  return reading.ok ? [] : reading.complaints.map(complaintLine);
};
const file = (...parts: unknown[]) => ({ lodestone: 'drawer/1', parts });
const ring = (more: object = {}) => ({ partId: 'R-1', kind: 'spacer', name: 'Ring', lengthMm: 5, ...more });

describe('a drawer document', () => {
  it('fills in what is usual', () => {
    const reading = readDrawer(file(ring()));
    expect(reading.ok && reading.document[0]).toEqual({
      partId: 'R-1',
      element: { id: 'R-1', kind: 'spacer', name: 'Ring', lengthMm: 5 },
      quantity: 1,
      owned: true,
      location: '',
      state: 'spare',
      measurements: []
    });
  });

  it.each<[string, unknown, RegExp]>([
    ['no tag', { parts: [] }, /missing “lodestone”/],
    ['another tag', { lodestone: 'train/1', parts: [] }, /\/lodestone: .*drawer\/1/],
    ['no part number', file({ kind: 'spacer', name: 'x', lengthMm: 1 }), /\/parts\/0: part 1 “x” is missing “partId”/],
    ['an unknown key', file(ring({ colour: 'black' })), /\/parts\/0\/colour: part 1 “Ring”, colour has a key/],
    [
      'a negative length',
      file(ring({ lengthMm: -1 })),
      /\/parts\/0\/lengthMm: part 1 “Ring”, length must be at least 0/
    ],
    ['eleven metres', file(ring({ lengthMm: 11_000 })), /at most 10000/],
    ['half a part', file(ring({ quantity: 0.5 })), /\/parts\/0\/quantity/],
    ['a state nobody knows', file(ring({ state: 'lost' })), /in-use, spare, set-aside/],
    ['a gap', file(ring({ kind: 'gap' })), /a gap is not a part/],
    ['a copy', file(ring({ copy: 2 })), /a drawer has quantity/],
    ['a number twice', file(ring(), ring()), /\/parts\/1\/partId: .*already the number of part 1/],
    [
      'a bad measurement',
      file(ring({ measurements: [{ lengthMm: 'long' }] })),
      /\/parts\/0\/measurements\/0\/lengthMm/
    ],
    ['a dial beyond its range', file(ring({ adjust: { minMm: 0, maxMm: 5, setMm: 9 } })), /\/parts\/0\/adjust\/setMm/],
    ['a part that is a list', file([]), /\/parts\/0: part 1 must be an object/],
    [
      '__proto__',
      JSON.parse(
        '{"lodestone":"drawer/1","parts":[{"partId":"a","kind":"shim","name":"x","lengthMm":1,"__proto__":{"x":1}}]}'
      ),
      /__proto__/
    ],
    ['nothing', null, /must be an object/]
  ])('with %s is told where and why', (_words, candidate, expected) => {
    expect(complaints(candidate).join('\n')).toMatch(expected);
  });

  it('reads “set aside” as set-aside, and one spelling of a place', () => {
    const reading = readDrawer(file(ring({ state: 'set aside', location: 'Shed/Tin 2 /Bag 1' })));
    expect(reading.ok && reading.document[0]).toMatchObject({ state: 'set-aside', location: 'Shed / Tin 2 / Bag 1' });
  });

  it('names the line of text', () => {
    const reading = readDrawerText('{\n "lodestone": "drawer/1",\n "parts": [\n {"partId": "a"}\n ]\n}');
    expect(reading.ok ? 0 : reading.complaints[0]?.line).toBe(4);
  });
});

describe('searching', () => {
  const uses: PartUse[] = [{ partId: 'R-3', trainId: 't', trainName: 'Heron', copy: undefined, assembled: false }];
  const parts = drawer(
    { partId: 'R-1', name: 'Long ring', lengthMm: 16.5, location: 'Tin 1 / Bag 2' },
    {
      partId: 'R-2',
      name: 'Turned ring',
      lengthMm: 16.5,
      sky: male('M48x0.75'),
      camera: male('M48x0.75'),
      location: 'Tin 2'
    },
    {
      partId: 'R-3',
      name: 'Thin ring',
      lengthMm: 5,
      measured: { lengthMm: 5.12 },
      sky: male('M42x1'),
      location: 'Tin 2 / Bag 1'
    },
    { partId: 'R-30', name: 'Step', lengthMm: 2, sky: female('T2'), camera: female('M42x0.75'), state: 'set-aside' },
    { partId: 'S-1', kind: 'shim', name: 'Shim 0.5', lengthMm: 0.5, owned: false }
  );
  const index = indexDrawer(parts, uses);
  const ids = (query: string, filter = {}) => searchParts(index, query, filter).map(({ partId }) => partId);

  it.each<[string, string[]]>([
    ['', ['R-1', 'R-2', 'R-3', 'R-30', 'S-1']],
    ['ring', ['R-1', 'R-2', 'R-3']],
    ['m48 f 16.5', ['R-1']],
    ['M48×0.75 m', ['R-1', 'R-2', 'R-3']],
    ['m42x1', ['R-3']],
    ['t2', ['R-30']],
    ['16', ['R-1', 'R-2']],
    ['5.1', ['R-3']],
    ['5,12', ['R-3']],
    ['tin 2', ['R-2', 'R-3']],
    ['bag 2', ['R-1']],
    ['in Heron', ['R-3']],
    ['thin in her', ['R-3']],
    ['set aside', ['R-30']],
    ['to buy', ['S-1']],
    ['r-3', ['R-3', 'R-30']],
    ['nothing of the kind', []]
  ])('“%s”', (query, expected) => {
    expect(ids(query)).toEqual(expected);
  });

  it('offers the nearest word for one that nothing has, and leaves numbers, threads and good words alone', () => {
    const index = indexDrawer(parts, uses);
    expect(nearestQuery(index, 'turnde ring')).toBe('turned ring');
    expect(nearestQuery(index, 'rimg m48')).toBe('ring m48');
    expect(nearestQuery(index, 'ring 16.5')).toBeUndefined();
    expect(nearestQuery(index, 'm49 17.5')).toBeUndefined();
    expect(nearestQuery(index, 'telescope')).toBeUndefined();
    expect(nearestQuery(indexDrawer([]), 'ring')).toBeUndefined();
  });

  it('a number typed in full comes first', () => {
    const more = indexDrawer(drawer({ partId: 'R-77' }, { partId: 'R-7' }));
    expect(searchParts(more, 'r-7').map(({ partId }) => partId)).toEqual(['R-7', 'R-77']);
  });

  it('facets narrow down and count', () => {
    expect(ids('', { thread: 'M42×0.75' })).toEqual(['R-30']);
    expect(ids('', { location: 'Tin 2' })).toEqual(['R-2', 'R-3']);
    expect(ids('', { measured: 'yes' })).toEqual(['R-3']);
    expect(ids('', { state: 'to-buy' })).toEqual(['S-1']);
    expect(ids('', { trainId: 't' })).toEqual(['R-3']);
    expect(facetsOf(parts).thread.get('M48×0.75')).toBe(3);
    expect(placesOf(parts).map(({ path, count, depth }) => [path, count, depth])).toEqual([
      ['Tin 1', 1, 0],
      ['Tin 1 / Bag 2', 1, 1],
      ['Tin 2', 2, 0],
      ['Tin 2 / Bag 1', 1, 1]
    ]);
  });

  it('sorts numbers in names as numbers, and by the length that counts', () => {
    expect(sortParts(parts, 'partId').map(({ partId }) => partId)).toEqual(['R-1', 'R-2', 'R-3', 'R-30', 'S-1']);
    expect(sortParts(parts, 'length', true).map(({ partId }) => partId)).toEqual(['R-1', 'R-2', 'R-3', 'R-30', 'S-1']);
  });
});

describe('what fits here', () => {
  const parts = drawer(
    { partId: 'near', lengthMm: 7.6 },
    { partId: 'far', lengthMm: 20 },
    { partId: 'turned', lengthMm: 7.5, sky: male('M48x0.75'), camera: female('M48x0.75'), reversible: true },
    { partId: 'one-way', lengthMm: 7.5, sky: male('M48x0.75'), camera: female('M48x0.75') },
    { partId: 'half', lengthMm: 7.5, camera: male('M42x1') },
    { partId: 'bent', lengthMm: 7.5, state: 'set-aside' },
    { partId: 'shim', kind: 'shim', lengthMm: 0.5, clearMm: 49 },
    { partId: 'narrow', kind: 'shim', lengthMm: 0.5, clearMm: 43 }
  );
  const fitting = partsThatFit(parts, male('M48x0.75'), female('M48x0.75'), 7.5);

  it('comes with what closes both sides first, nearest in length first', () => {
    expect(fitting.map(({ part, fit }) => [part.partId, fit.closes, fit.reversed])).toEqual([
      ['turned', 'both', true],
      ['near', 'both', false],
      ['far', 'both', false],
      ['shim', 'both', false],
      ['half', 'sky', false]
    ]);
  });

  it('what is said to close both sides does', () => {
    for (const { part, fit } of fitting) {
      if (fit.closes !== 'both' || part.element.kind === 'shim') continue;
      const placed = placedPart(part, { id: 'x', reversed: fit.reversed }) as BodyElement;
      expect(mate(male('M48x0.75'), placed.sky!).joins).toBe(true);
      expect(mate(placed.camera!, female('M48x0.75')).joins).toBe(true);
    }
  });
});

describe('a part in a train', () => {
  const [part] = drawer({
    partId: 'R-1',
    lengthMm: 10,
    reversible: true,
    adjust: { minMm: 0, maxMm: 5, setMm: 0 },
    measurements: [{ lengthMm: 10.1, maxErrorMm: 0.02 }]
  });

  it('carries its measured length and says which part and copy it is', () => {
    const placed = placedPart(part!, { id: 'a', copy: 2, reversed: true });
    expect(placed).toMatchObject({
      id: 'a',
      partId: 'R-1',
      copy: 2,
      measured: { lengthMm: 10.1 },
      reversed: true,
      sky: male('M48x0.75')
    });
    const made = train([corrector({ backFocusMm: 55 }), placed, camera(44.9)]);
    expect(readTrain(made).ok).toBe(true);
    expect(checkTrain(made).residualMm).toBeCloseTo(0, 9);
  });

  it('is brought up to date without losing what belongs to its place', () => {
    const placed = {
      ...placedPart(part!, { id: 'a', copy: 2, reversed: true }),
      note: 'notch up',
      seat: { shimsMm: [0.1] },
      adjust: { minMm: 0, maxMm: 5, setMm: 4.5 }
    } as BodyElement;
    const changed = { ...part!, measurements: [{ lengthMm: 9.8, maxErrorMm: 0.02 }] };
    const element = { ...(changed.element as BodyElement), name: 'Renamed', adjust: { minMm: 0, maxMm: 4, setMm: 0 } };
    expect(refreshedPart(placed, { ...changed, element })).toMatchObject({
      id: 'a',
      copy: 2,
      name: 'Renamed',
      note: 'notch up',
      seat: { shimsMm: [0.1] },
      reversed: true,
      sky: male('M48x0.75'),
      measured: { lengthMm: 9.8 },
      adjust: { maxMm: 4, setMm: 4 }
    });
    expect(refreshedPart(placed, part!)).toEqual(placed);
  });

  it('numbers run on', () => {
    expect(freePartId(new Set(['R-01', 'R-02']), 'spacer')).toBe('R-03');
    expect(freePartId(new Set(), 'shim')).toBe('S-01');
  });
});

describe('lengths as they are searched for', () => {
  const index = indexDrawer(
    drawer(
      { partId: 'R-5', lengthMm: 5 },
      { partId: 'R-10', lengthMm: 10 },
      { partId: 'R-16', lengthMm: 16.5 },
      { partId: 'R-20', lengthMm: 20 }
    )
  );
  it.each([
    ['10 mm', ['R-10']],
    ['10mm', ['R-10']],
    ['10–20', ['R-10', 'R-16', 'R-20']],
    ['10-16,5mm', ['R-10', 'R-16']],
    ['>10.5', ['R-16', 'R-20']],
    ['<=5', ['R-5']]
  ])('%s', (query, expected) => {
    expect(searchParts(index, query).map(({ partId }) => partId)).toEqual(expected);
  });
});

it('beside a choice stands what it leaves of everything else that was asked for', () => {
  const index = indexDrawer(
    drawer(
      { partId: 'R-1', location: 'Tin 1', state: 'set-aside' },
      { partId: 'R-2', location: 'Tin 1' },
      { partId: 'S-1', kind: 'shim', location: 'Tin 2' }
    ),
    [{ partId: 'R-2', trainId: 't', trainName: 'Heron', copy: undefined, assembled: false }]
  );
  const left = facetsLeft(index, '', { location: 'Tin 1' });
  expect([...left.state]).toEqual([
    ['set-aside', 1],
    ['spare', 1]
  ]);
  // Its own choice does not count against the others of its kind.
  expect([...left.location]).toEqual([
    ['Tin 1', 2],
    ['Tin 2', 1]
  ]);
  expect(left.kind.get('shim')).toBeUndefined();
  expect([...left.trainId]).toEqual([['t', 1]]);
  // What it says is what choosing it leads to.
  for (const [state, count] of left.state) {
    expect(searchParts(index, '', { location: 'Tin 1', state })).toHaveLength(count);
  }
});
