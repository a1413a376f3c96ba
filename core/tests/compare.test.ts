import { describe, expect, it } from 'vitest';
import { COMPARED_ROWS, bestOf, compared, differences, rowsByDifference, variantOf } from '../src/compare/index.ts';
import { assess, checkTrain } from '../src/check/index.ts';
import { readTrain, type CameraElement } from '../src/train/index.ts';
import { drawer, female, male } from './drawer.ts';
import { camera, corrector, part, train } from './trains.ts';
import { readDemo } from './demo.ts';

const longTom = readDemo('long-tom.json');

describe('trains side by side', () => {
  it('say of each what its own check says', () => {
    const report = checkTrain(longTom);
    const side = compared(longTom, []);
    expect(side).toMatchObject({
      residualMm: report.residualMm,
      chance: report.uncertainty.probabilityInTolerance,
      cornerLight: report.light!.illumination.corner,
      fRatio: report.light!.fRatio,
      massG: report.load.massG,
      guide: report.guide!.verdict
    });
  });

  it('count what is to be bought, and leave a price open that is not known', () => {
    const made = train([
      corrector({ backFocusMm: 55 }, { partId: 'C-1' }),
      part('a', 10, { partId: 'R-1' }),
      part('b', 27.5, { partId: 'R-2' }),
      camera(17.5)
    ]);
    const parts = drawer(
      { partId: 'C-1' },
      { partId: 'R-1', owned: false, price: 12.5 },
      { partId: 'R-2', owned: false }
    );
    const side = compared(made, parts);
    expect(side.buys).toEqual(['R-1', 'R-2']);
    expect([side.price, side.unpriced]).toEqual([12.5, 1]);
    const price = COMPARED_ROWS.find(({ id }) => id === 'price')!;
    expect(price.cell(side, 'mm')).toBe('12.50, and 1 without a price');
    // Not wholly known is not cheaper.
    expect(
      bestOf(price, [side, compared(made, drawer({ partId: 'C-1' }, { partId: 'R-1' }, { partId: 'R-2' }))])
    ).toBeUndefined();
  });

  it('name the better of two where one is', () => {
    const short = compared(train([corrector({ backFocusMm: 55 }), part('a', 36), camera(17.5)]), []);
    const right = compared(train([corrector({ backFocusMm: 55 }), part('a', 37.5), camera(17.5)]), []);
    const row = COMPARED_ROWS.find(({ id }) => id === 'residual')!;
    expect(bestOf(row, [short, right])).toBe(1);
    expect(bestOf(row, [right, right])).toBeUndefined();
    expect(short.exists).toBe(false);
    expect(short.missing('mm').join()).toMatch(/short/i);
    expect(right.exists).toBe(true);
  });

  it('have the rows in which they differ first, and the others apart', () => {
    const short = compared(train([corrector({ backFocusMm: 55 }), part('a', 36), camera(17.5)]), []);
    const right = compared(train([corrector({ backFocusMm: 55 }), part('a', 37.5), camera(17.5)]), []);
    const { differ, alike } = rowsByDifference([short, right], 'mm');
    expect(differ.map(({ id }) => id)).toContain('residual');
    expect(alike.map(({ id }) => id)).toContain('joints');
    expect([...differ, ...alike].map(({ id }) => id).sort()).toEqual(COMPARED_ROWS.map(({ id }) => id).sort());
    for (const row of alike) expect(row.cell(short, 'mm')).toBe(row.cell(right, 'mm'));
    expect(rowsByDifference([right], 'mm').alike).toEqual([]);
  });

  it('tell what came, went and changed', () => {
    const from = train([part('a', 10), part('b', 20), camera(17.5)]);
    const to = train([part('a', 10.3), part('c', 5), camera(17.5)]);
    expect(differences(from, to).map(({ id, change }) => [id, change])).toEqual([
      ['b', 'gone'],
      ['a', 'changed'],
      ['c', 'added']
    ]);
    expect(differences(from, from)).toEqual([]);
    const [, changed] = differences(from, to);
    expect(changed!.say('mm')).toBe('a is another part, or has another setting: 10.00 mm was, 10.30 mm is');
    expect(changed!.say('in')).toBe('a is another part, or has another setting: 0.3937 in was, 0.4055 in is');
  });
});

describe('a variant', () => {
  const faces = { sky: female('M48x0.75'), camera: male('M48x0.75') } as never;
  const trunk = train([
    corrector({ backFocusMm: 55 }, faces),
    part('ring', 17.5, faces),
    part('wheel', 20, { kind: 'filter-wheel', ...(faces as object) }),
    camera(17.5, { sky: female('M48x0.75') as never, sensor: { widthMm: 23, heightMm: 15, pixelUm: 3.8 } })
  ]);

  it('shares the trunk and stands open where its rings were, a valid train', () => {
    const without = variantOf(trunk, { name: 'No wheel', without: ['wheel'] });
    expect(without.elements.map(({ kind }) => kind)).toEqual(['corrector', 'gap', 'camera']);
    expect(without.variantOf).toBe(trunk.name);
    expect(readTrain(without).ok).toBe(true);
    expect(compared(without, []).missing('mm').join()).toContain('is empty');
    expect(assess(without).ledger.residualMm).toBeCloseTo(17.5 - 55, 9);
  });

  it('takes another camera, or another kind of sensor in the one that is there', () => {
    const other = camera(12.5, { name: 'Other', sky: female('M42x0.75') as never }) as CameraElement;
    const swapped = variantOf(trunk, { name: 'B', without: [], camera: other });
    expect(swapped.elements.at(-1)).toMatchObject({ id: 'camera', name: 'Other', lengthMm: 12.5 });
    const colour = variantOf(trunk, { name: 'C', without: [], colour: true });
    // Nothing of its length changes: the rings stay.
    expect(colour.elements.map(({ kind }) => kind)).toEqual(trunk.elements.map(({ kind }) => kind));
    expect((colour.elements.at(-1) as CameraElement).sensor!.colour).toBe(true);
  });
});
