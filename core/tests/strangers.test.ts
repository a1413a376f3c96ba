// Somebody else's train, and a drawer that has other parts, or other parts under the same numbers.
import { describe, expect, it } from 'vitest';
import { checkTrain } from '../src/check/index.ts';
import { asGood, readDrawer, strangersParts, withSubstitutes, type Part } from '../src/drawer/index.ts';
import { partIdsOf, readTrain, type Train } from '../src/train/index.ts';
import { demoDrawer, readDemo } from './demo.ts';
import { camera, corrector, part, train } from './trains.ts';

const M48 = (gender: 'male' | 'female') => ({ thread: 'M48x0.75', gender, lengthMm: gender === 'male' ? 4 : 5 });
const ring = (partId: string, lengthMm: number, more: object = {}): Part => {
  const reading = readDrawer({
    lodestone: 'drawer/1',
    parts: [
      { partId, kind: 'spacer', name: `Ring ${lengthMm}`, lengthMm, sky: M48('female'), camera: M48('male'), ...more }
    ]
  });
  if (!reading.ok) throw new Error(JSON.stringify(reading.complaints));
  return reading.document[0]!;
};
const theirs = (...rings: [partId: string, lengthMm: number][]): Train =>
  train([
    corrector({ backFocusMm: 55 }, { camera: M48('male') }),
    ...rings.map(([partId, lengthMm]) => part(partId, lengthMm, { partId, sky: M48('female'), camera: M48('male') })),
    camera(17.5, { sky: M48('female') })
  ]);

describe('a train of somebody else', () => {
  it('asks of nothing that is this drawer’s, and of nothing where no part has a number', () => {
    for (const name of ['heron', 'dormouse', 'long-tom']) {
      expect(strangersParts(readDemo(`${name}.json`), demoDrawer())).toEqual([]);
    }
    expect(strangersParts(readDemo('avocet.json'), [])).toEqual([]);
    // Measured since, it is the same part.
    const measured = ring('R-1', 20, { measured: { lengthMm: 20.03, uncertaintyMm: 0.02 } });
    expect(strangersParts(theirs(['R-1', 20]), [measured])).toEqual([]);
  });

  it('names what is unknown here, and what has the same number and is another part', () => {
    const found = strangersParts(theirs(['R-1', 20], ['R-9', 17.5]), [ring('R-1', 10)]);
    expect(found.map(({ number, isNamesake }) => [number, isNamesake])).toEqual([
      ['R-1', true],
      ['R-9', false]
    ]);
  });

  it('offers one’s own that do the same, the nearest first, turned round where they have to be', () => {
    const turned = ring('R-4', 20.02, { sky: M48('male'), camera: M48('female'), reversible: true });
    const parts = [
      ring('R-2', 22),
      ring('R-3', 20.1),
      turned,
      ring('R-5', 20, { camera: { thread: 'M42x0.75', gender: 'male' } }),
      ring('R-6', 20, { owned: false }),
      ring('R-7', 40)
    ];
    const [stranger] = strangersParts(theirs(['X-1', 20]), parts);
    expect(stranger!.substitutes.map(({ part: { partId }, reversed }) => [partId, reversed])).toEqual([
      ['R-4', true],
      ['R-3', false],
      ['R-2', false]
    ]);
  });

  it('takes no copy twice by itself, and what stays theirs loses its number, not its name', () => {
    const found = strangersParts(theirs(['X-1', 20], ['X-2', 17.5], ['X-3', 20]), [
      ring('R-1', 20),
      ring('R-2', 17.52)
    ]);
    const chosen = asGood(found);
    expect([...chosen].map(([id, { part: own }]) => [id, own.partId])).toEqual([
      ['X-1', 'R-1'],
      ['X-2', 'R-2']
    ]);
    const mine = withSubstitutes(theirs(['X-1', 20], ['X-2', 17.5], ['X-3', 20]), found, chosen);
    expect(readTrain(mine).ok).toBe(true);
    expect(mine.elements.flatMap(partIdsOf)).toEqual(['R-1', 'R-2']);
    expect(mine.elements[3]).toMatchObject({ name: 'X-3', lengthMm: 20, note: 'X-3 in the drawer it comes from.' });
    // 20 + 17.52 + 20 + 17.5 − 55, added up by hand.
    expect(checkTrain(mine).residualMm).toBeCloseTo(20.02, 9);
  });

  it('exchanges no corrector for one of another back focus, and no wheel for a ring', () => {
    const asks = (backFocusMm: number, partId: string): Part => {
      const reading = readDrawer({
        lodestone: 'drawer/1',
        parts: [{ partId, kind: 'corrector', name: 'Own', lengthMm: 30, corrector: { backFocusMm } }]
      });
      if (!reading.ok) throw new Error('no drawer');
      return reading.document[0]!;
    };
    const document = train([{ ...corrector({ backFocusMm: 55 }), partId: 'C-9' }, camera(17.5)]);
    const [stranger] = strangersParts(document, [asks(55.2, 'C-1'), asks(70, 'C-2'), ring('R-1', 30)]);
    expect(stranger!.substitutes.map(({ part: { partId } }) => partId)).toEqual(['C-1']);
  });

  it('tells filters in a wheel that is here from one’s own of the same number', () => {
    const wheel = (first: string, thicknessMm: number) =>
      part('W-1', 20, {
        kind: 'filter-wheel',
        partId: 'W-1',
        glass: [
          { name: 'Ha 5 nm', partId: first, thicknessMm, index: 1.5168, fromSkyMm: 10, slot: 1 },
          { name: 'Red', partId: 'F-9', thicknessMm: 2, index: 1.5168, fromSkyMm: 10, slot: 2 }
        ]
      });
    const own = (partId: string, name: string, thicknessMm: number) => ({
      partId,
      kind: 'filter',
      name,
      lengthMm: thicknessMm,
      glass: [{ name, thicknessMm, index: 1.5168 }]
    });
    const reading = readDrawer({
      lodestone: 'drawer/1',
      parts: [
        { partId: 'W-1', kind: 'filter-wheel', name: 'Wheel', lengthMm: 20 },
        own('F-1', 'Hydrogen alpha', 3),
        own('F-2', 'Hydrogen alpha', 2.05),
        own('F-9', 'R', 2)
      ]
    });
    if (!reading.ok) throw new Error(JSON.stringify(reading.complaints));
    const document = train([corrector({ backFocusMm: 55 }), wheel('F-1', 2), camera(17.5)]);
    const found = strangersParts(document, reading.document);
    expect(found.map(({ key, isNamesake }) => [key, isNamesake])).toEqual([['W-1/glass/0', true]]);
    expect(
      found[0]!.substitutes.map(({ part: { partId }, longerMm }) => [partId, Number(longerMm.toFixed(3))])
    ).toEqual([
      ['F-2', 0.05],
      ['F-1', 1]
    ]);
    const mine = withSubstitutes(document, found, asGood(found));
    expect(readTrain(mine).ok).toBe(true);
    expect(mine.elements[1]).toMatchObject({
      partId: 'W-1',
      glass: [{ partId: 'F-2', thicknessMm: 2.05, slot: 1, fromSkyMm: 10 }, { partId: 'F-9' }]
    });
    const theirOwn = withSubstitutes(document, found, new Map());
    expect(theirOwn.elements.flatMap(partIdsOf)).toEqual(['W-1', 'F-9']);
    expect(checkTrain(theirOwn).residualMm).toBe(checkTrain(document).residualMm);
  });
});
