import { apply, glassOf, type Train } from '@lodestone/core/train';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import heronJson from '../../../demo/heron.json';
import longTomJson from '../../../demo/long-tom.json';
import { readDrawer } from '@lodestone/core/drawer';
import { drawerSets, holderOf, namesOf, orderOperation, setOf, setOperation } from './filterSets.ts';
import { carouselOf, type Carousel } from './slotPlan.ts';

const [heron, longTom] = [heronJson, longTomJson] as unknown as [Train, Train];
const wheelOf = (train: Train): Carousel =>
  train.elements.map((element) => carouselOf(element, undefined)).find((each) => each !== undefined)!;
const wheelWith = (names: readonly (string | undefined)[]): Train => {
  const { id } = wheelOf(longTom);
  const glass = names.flatMap((name, at) => (name === undefined ? [] : [{ slot: at + 1, name, thicknessMm: 2 }]));
  return apply(longTom, {
    op: 'batch',
    operations: [
      { op: 'set', at: id, path: ['glass'], to: glass },
      { op: 'set', at: id, path: ['holder'], to: { slots: 7 } },
      { op: 'set', at: id, path: ['designSlot'], to: 1 }
    ]
  });
};
const slotsOf = (train: Train): Record<number, string> =>
  Object.fromEntries(setOf(train).map(({ slot, name }) => [slot, name!]));
const designOf = (train: Train): number | undefined => {
  const element = train.elements.find(({ id }) => id === wheelOf(train).id);
  return element && 'designSlot' in element ? element.designSlot : undefined;
};

describe('filters in an order', () => {
  it('stand in the slots that hold filters, by channel whatever they are called; others follow', () => {
    const train = wheelWith(['Ha 5 nm', 'Blue', undefined, 'Luminance', 'Duo', 'Red', 'G']);
    const ordered = apply(train, orderOperation(train, wheelOf(train), namesOf('L R, G;B Ha'))!);
    expect(slotsOf(ordered)).toEqual({ 1: 'Luminance', 2: 'Red', 4: 'G', 5: 'Blue', 6: 'Ha 5 nm', 7: 'Duo' });
    // The spacing stays made for the same filter.
    expect(designOf(ordered)).toBe(6);
    expect(orderOperation(ordered, wheelOf(ordered), namesOf('L R G B Ha'))).toBeUndefined();
  });

  it('are the same filters, whatever the order', () => {
    const names = fc.shuffledSubarray(['L', 'R', 'G', 'B', 'Ha', 'OIII', 'Duo'], { minLength: 1 });
    fc.assert(
      fc.property(names, fc.array(fc.constantFrom('L', 'b', 'Green', 'ha', 'x')), (there, order) => {
        const train = wheelWith(there);
        const operation = orderOperation(train, wheelOf(train), order);
        const after = operation ? apply(train, operation) : train;
        expect(Object.values(slotsOf(after)).sort()).toEqual([...there].sort());
        expect(Object.keys(slotsOf(after))).toEqual(Object.keys(slotsOf(train)));
      })
    );
  });
});

it('filters are known by the names of their lines too', () => {
  const order = apply(heron, orderOperation(heron, wheelOf(heron), namesOf('Ha OIII SII L R G B'))!);
  expect(Object.values(slotsOf(order)).map((name) => name.split(' ')[0])).toEqual([
    ...['Hydrogen', 'Oxygen', 'Sulphur', 'Luminance', 'Red', 'Green', 'Blue']
  ]);
});

describe('a set of filters', () => {
  it('goes into another wheel as one, in its own slots where they are free', () => {
    const train = wheelWith(['A', 'B']);
    const operation = setOperation(train, wheelOf(train), setOf(heron));
    if (typeof operation === 'string') throw new Error(operation);
    const after = apply(train, operation);
    expect(slotsOf(after)).toEqual(slotsOf(heron));
    expect(glassOf(after.elements.find(({ id }) => id === wheelOf(after).id)!)).toHaveLength(setOf(heron).length);
  });

  it('closes up where a slot stays empty, and is refused where the wheel is too small', () => {
    const train = wheelWith(['A', 'B']);
    const set = setOf(wheelWith(['L', 'R', undefined, 'G']));
    const wheel = { ...wheelOf(train), keepEmpty: [1] };
    const operation = setOperation(train, wheel, set);
    if (typeof operation === 'string') throw new Error(operation);
    expect(slotsOf(apply(train, operation))).toEqual({ 2: 'L', 3: 'R', 4: 'G' });
    expect(designOf(apply(train, operation))).toBe(2);
    expect(setOperation(train, { ...wheel, slots: 3 }, set)).toBe(
      'The set has 3 filters, and the wheel has room for 2.'
    );
  });
});

describe('filters of the drawer', () => {
  const reading = readDrawer({
    lodestone: 'drawer/1',
    parts: [
      ['F-1', 'Blue', 'Tin 4'],
      ['F-2', 'Luminance', 'Tin 4'],
      ['F-3', 'Hydrogen alpha 3 nm', 'Tin 4'],
      ['F-4', 'Red', 'Tin 5'],
      ['F-5', 'Green', '']
    ].map(([partId, name, location]) => ({
      id: partId,
      partId,
      kind: 'filter',
      name: `${name}, 36 mm`,
      lengthMm: 2,
      ...(location ? { location } : {}),
      glass: [{ name, thicknessMm: 2 }]
    }))
  });
  if (!reading.ok) throw new Error(JSON.stringify(reading.complaints));

  it('that lie in one place are one set, in the order of their channels, and go in as one', () => {
    const sets = drawerSets(reading.document);
    expect(sets.map(({ location, filters }) => [location, filters.map(({ name }) => name)])).toEqual([
      ['Tin 4', ['Luminance', 'Blue', 'Hydrogen alpha 3 nm']],
      ['Tin 5', ['Red']]
    ]);
    const operation = setOperation(longTom, wheelOf(longTom), sets[0]!.filters);
    if (typeof operation === 'string') throw new Error(operation);
    expect(slotsOf(apply(longTom, operation))).toEqual({ 1: 'Luminance', 2: 'Blue', 3: 'Hydrogen alpha 3 nm' });
  });
});

describe('what holds filters', () => {
  it('is a wheel with its slots, or a drawer that takes one', () => {
    expect(holderOf(longTom)).toMatchObject({ slots: 5, standing: expect.arrayContaining(['Luminance']) });
    const elements = longTom.elements.map((element) =>
      element.kind === 'filter-wheel' ? { ...element, kind: 'filter-drawer' as const } : element
    );
    expect(holderOf({ ...longTom, elements })).toMatchObject({ slots: 1 });
    expect(
      holderOf({ ...longTom, elements: longTom.elements.filter(({ kind }) => kind !== 'filter-wheel') })
    ).toBeUndefined();
  });
});
