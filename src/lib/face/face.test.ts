import { apply, readTrain } from '@lodestone/core/train';
import { assess } from '@lodestone/core/check';
import { illumination, illuminationMap } from '@lodestone/core/light';
import { readDrawer, refreshedPart } from '@lodestone/core/drawer';
import { describe, expect, it } from 'vitest';
import longTom from '../../../demo/long-tom.json' with { type: 'json' };
import { isoLines } from './contours.ts';
import { cellsOf } from './lightMap.ts';
import demoDrawer from '../../../demo/drawer.json' with { type: 'json' };
import { carouselOf, emptySlot, fillSlot, spreadOperation } from './slotPlan.ts';
import { MOON, SUN, findObjects, loadSky, objectInWords } from './sky.ts';

describe('lines of equal light', () => {
  const light = () => {
    const reading = readTrain(longTom);
    if (!reading.ok) throw new Error('the demo must be valid');
    return assess(reading.document).facts.light!;
  };
  const map = (of = light()) => {
    const [columns, rows] = cellsOf(of.sensor);
    const shares = illuminationMap([of.sensor.widthMm, of.sensor.heightMm], [columns, rows], of.optics);
    return { columns, rows, shares, centre: 1 };
  };

  it('pass where the light is as they say, in mm on the sensor', () => {
    const of = light();
    const lines = isoLines(map(of), [36, 24], false);
    expect(lines.map(({ share }) => share)).toContain(0.9);
    const ninety = lines.find(({ share }) => share === 0.9)!;
    const points = [...ninety.path.matchAll(/(-?[\d.]+) (-?[\d.]+)/g)].map(
      ([, x, y]) => [Number(x), Number(y)] as const
    );
    // On the rim of the map the line runs along the sensor's edge: only what lies inside tells.
    const inside = points.filter(([x, y]) => Math.abs(x) < 17.5 && Math.abs(y) < 11.5);
    expect(inside.length).toBeGreaterThan(4);
    for (const [x, y] of inside) {
      // The light falls steeply there: within a cell of the map.
      const there = [-0.6, 0, 0.6].flatMap((dx) =>
        [-0.6, 0, 0.6].map((dy) => 1 - illumination([x + dx, -y + dy], of.optics))
      );
      expect(Math.min(...there)).toBeLessThan(0.12);
      expect(Math.max(...there)).toBeGreaterThan(0.02);
    }
  });

  it('are drawn relative to the middle as a flat shows them', () => {
    const dim = map();
    const half = { ...dim, shares: dim.shares.map((share) => share / 2), centre: 0.5 };
    expect(isoLines(half, [36, 24], true)).toEqual(isoLines(dim, [36, 24], true));
    expect(isoLines(half, [36, 24], false).some(({ share }) => share > 0.5)).toBe(false);
  });
});

describe('the catalogue', () => {
  it('is found in by designation, by name and by the beginning of a word', async () => {
    const { objects, stars } = await loadSky();
    const ids = (typed: string) => findObjects(objects, typed, 5).map(({ id }) => id);
    expect(ids('m 31')[0]).toBe('M31');
    expect(ids('Orion')[0]).toBe('M42');
    expect(ids('ngc7000')[0]).toBe('NGC 7000');
    expect(ids('moon')[0]).toBe('Moon');
    expect(ids('xyzzy')).toEqual([]);
    expect(objectInWords(objects.find(({ id }) => id === 'M45')!)).toBe('M45 · Pleiades');
    // All of Messier's, with a place and a size; stars brightest first, down to magnitude 7.
    const messier = objects.filter(({ id }) => /^M\d+$/.test(id));
    expect(messier.length).toBeGreaterThanOrEqual(108);
    for (const { raDeg, decDeg, majorArcmin, minorArcmin } of objects.filter((each) => each !== MOON && each !== SUN)) {
      expect(raDeg >= 0 && raDeg < 360 && Math.abs(decDeg) <= 90).toBe(true);
      expect(majorArcmin).toBeGreaterThanOrEqual(minorArcmin);
    }
    expect(stars[0]![2]).toBeLessThan(-1);
    expect(stars.at(-1)![2]).toBeLessThanOrEqual(7);
  });
});

describe('a slot plan', () => {
  const train = () => {
    const reading = readTrain(longTom);
    if (!reading.ok) throw new Error('the demo must be valid');
    return reading.document;
  };

  it('says what stands where, and spreads it as one step, the design slot going with its filter', () => {
    const two = apply(train(), {
      op: 'batch',
      operations: [
        {
          op: 'set',
          at: 'wheel',
          path: ['glass'],
          to: [
            { slot: 1, name: 'Hydrogen', thicknessMm: 3 },
            { slot: 2, name: 'Oxygen', thicknessMm: 3 }
          ]
        },
        { op: 'set', at: 'wheel', path: ['designSlot'], to: 2 },
        { op: 'set', at: 'wheel', path: ['holder'], to: { slots: 5 } }
      ]
    });
    const wheel = two.elements.find(({ id }) => id === 'wheel')!;
    const carousel = carouselOf(wheel, 2)!;
    expect(carousel).toMatchObject({ slots: 5, isAssumed: true, inBeam: 2 });
    expect(carousel.imbalance.resultantG).toBeCloseTo(16.18, 2);
    const spread = spreadOperation(two, carousel)!;
    expect(spread.resultantG).toBeCloseTo(6.18, 2);
    const after = apply(two, spread.operation).elements.find(({ id }) => id === 'wheel');
    expect(after).toMatchObject({
      glass: [
        { slot: 1, name: 'Hydrogen' },
        { slot: 3, name: 'Oxygen' }
      ],
      designSlot: 3
    });
    // As good as it gets.
    expect(spreadOperation(two, carouselOf(after!, 3)!)).toBeUndefined();
  });

  it('takes filters of the drawer, each with its own number, where the holder’s filters lie, and lets them out again', () => {
    const reading = readDrawer(demoDrawer);
    if (!reading.ok) throw new Error('the demo must be valid');
    const partOf = (partId: string) => reading.document.find((part) => part.partId === partId)!;
    const document = train();
    const wheelOf = (of: typeof document) => of.elements.find(({ id }) => id === 'wheel')!;
    const carousel = carouselOf(wheelOf(document), 1)!;
    const filled = apply(document, fillSlot(document, carousel, 5, partOf('FIL-1'))!);
    expect(wheelOf(filled)).toMatchObject({
      glass: expect.arrayContaining([
        expect.objectContaining({ slot: 5, partId: 'FIL-1', name: 'Oxygen III 3 nm', massG: 14, fromSkyMm: 9 })
      ])
    });
    expect(readTrain(filled).ok).toBe(true);
    expect(assess(filled).errors).toEqual([]);
    // Another format than the holder’s is an error of the check, which the panel asks before it does it.
    const wrong = apply(document, fillSlot(document, carousel, 5, partOf('FIL-2'))!);
    expect(assess(wrong).errors.map(({ code }) => code)).toEqual(['filter-format']);
    // What the drawer says of the wheel does not take the filter out again.
    expect(refreshedPart(wheelOf(filled), partOf('FW-2'))).toMatchObject({
      glass: expect.arrayContaining([expect.objectContaining({ partId: 'FIL-1' })])
    });
    expect(fillSlot(document, carousel, 5, partOf('R-21'))).toBeUndefined();
    const emptied = apply(filled, emptySlot(filled, carousel, 5)!);
    expect(wheelOf(emptied)).toMatchObject({
      glass: expect.arrayContaining([{ slot: 5, thicknessMm: 0 }])
    });
  });

  it('is none where nothing has slots', () => {
    expect(carouselOf(train().elements[0]!, undefined)).toBeUndefined();
  });
});
