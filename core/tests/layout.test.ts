import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { assess } from '../src/check/index.ts';
import { atOrigin, layoutOf } from '../src/shape/index.ts';
import { lengthOf, isSolid, readTrainText, type Train } from '../src/train/index.ts';
import { anyTrain, camera, corrector, part, train } from './trains.ts';

const layout = (made: Train) => layoutOf(made, assess(made).ledger);

describe('layout', () => {
  it('draws every element as long as it is, and the sensor where the ledger puts it', () => {
    fc.assert(
      fc.property(anyTrain, (made) => {
        const { ledger } = assess(made);
        const laid = layoutOf(made, ledger);
        laid.items.forEach((item, index) => {
          const element = made.elements[index]!;
          const dial = index > ledger.datum.index && item.dial ? item.dial.toMm - item.dial.fromMm : 0;
          const ahead = index < ledger.datum.index && 'adjust' in element ? (element.adjust?.setMm ?? 0) : 0;
          const expected = isSolid(element) ? lengthOf(element) + dial + ahead : 0;
          expect(item.toMm - item.fromMm).toBeCloseTo(expected, 9);
          expect(item.outerRadiusMm).toBeGreaterThan(0);
          expect(item.clearRadiusMm).toBeLessThanOrEqual(item.outerRadiusMm);
        });
        expect(laid.requiredMm).toBe(ledger.required.totalMm);
        expect(laid.steps.at(-1)?.endMm).toBeCloseTo(ledger.actualMm, 9);
        const stated = ledger.joints.some(({ stated: fixed, shimElements }) => fixed && shimElements.length > 0);
        if (!stated) expect(laid.sensorMm).toBeCloseTo(ledger.actualMm, 9);
        expect(laid.sensorMm).toBeCloseTo(ledger.actualMm, 9);
      })
    );
  });

  it('a shape is the same wherever the train around it puts it', () => {
    fc.assert(
      fc.property(anyTrain, fc.integer({ min: 1, max: 9999 }), (made, micrometres) => {
        const first = made.elements.findIndex((element) => isSolid(element));
        const longer = made.elements.map((element, index) =>
          index === first && isSolid(element)
            ? { ...element, measured: { lengthMm: lengthOf(element) + micrometres / 1000 } }
            : element
        );
        const shapes = layout(made).items.map(atOrigin);
        const moved = layout({ ...made, elements: longer }).items.map(atOrigin);
        for (const [index, shape] of shapes.entries()) {
          expect(shape.fromMm).toBe(0);
          if (index !== first) expect(moved[index]).toEqual(shape);
        }
      })
    );
  });

  it('puts the datum shoulder at zero, the corrector before it, threads into their neighbour', () => {
    const made = train([
      corrector({ backFocusMm: 55 }, { camera: { thread: 'M48x0.75', gender: 'male', lengthMm: 5 } }),
      part('ring', 30, { sky: { thread: 'M48x0.75', gender: 'female', lengthMm: 4 } }),
      camera(25)
    ]);
    const { items, joints, sensorMm } = layout(made);
    expect(items.map(({ fromMm, toMm }) => [fromMm, toMm])).toEqual([
      [-30, 0],
      [1, 31],
      [31, 56]
    ]);
    expect(items[0]!.threads).toEqual([{ fromMm: 0, toMm: 5, radiusMm: 24, pitchMm: 0.75 }]);
    expect(joints[1]).toMatchObject({ id: 'ring', skyId: 'corrector', fromMm: 0, toMm: 1 });
    expect(sensorMm).toBe(56);
  });

  it('lays out the demo with the guider’s prism and the design filter in their places', () => {
    const reading = readTrainText(readFileSync(new URL('../../demo/heron.json', import.meta.url), 'utf8'));
    if (!reading.ok) throw new Error('the demo must be a train');
    const { items, requiredMm, sensorMm } = layout(reading.document);
    expect(items[2]!.pickoff).toMatchObject({ fromMm: 5, toMm: 13 });
    expect(items[3]!.glass).toEqual([{ fromMm: 27.2, toMm: 29.2, radiusMm: 16.5, name: 'Luminance' }]);
    expect(requiredMm! - sensorMm).toBeCloseTo(7.681, 3);
  });
});
