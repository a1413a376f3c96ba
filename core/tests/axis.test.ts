import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Facts, checkTrain } from '../src/check/index.ts';
import { readTrain, type Element, type Group, type Port, type Train } from '../src/train/index.ts';
import { anyTrain, camera, corrector, part, train } from './trains.ts';

/** The axis and the ledger are two ways to say where the sensor is: of every valid document they say the same. */

const m48 = (gender: 'male' | 'female', more: object = {}): Port => ({
  thread: 'M48x0.75',
  gender,
  lengthMm: 5,
  ...more
});
const inner = { second: { thread: 'M42x0.75', gender: 'female', lengthMm: 4 } } as const;

/** A filter that goes into the inner thread of what stands on its sky side. */
const nested = (id: string): Element =>
  part(id, 6, { kind: 'filter', sky: { thread: 'M42x0.75', gender: 'male', lengthMm: 3 }, camera: m48('male') });

/** Any valid train, with measurements over any two of its elements. */
const withGroups: fc.Arbitrary<Train> = fc
  .tuple(
    anyTrain,
    fc.array(
      fc.record({
        from: fc.nat(12),
        to: fc.nat(12),
        lengthMm: fc.integer({ min: 0, max: 90_000 }).map((um) => um / 1000)
      }),
      { maxLength: 4 }
    ),
    fc.array(fc.nat(12), { maxLength: 2 })
  )
  .map(([made, spans, filters]) => {
    const elements = made.elements.flatMap((element, index): Element[] =>
      filters.includes(index) && element.kind !== 'camera'
        ? [{ ...element, camera: m48('female', inner) } as Element, nested(`f${index}`)]
        : [element]
    );
    const groups = spans.map(({ from, to, lengthMm }): Group => ({
      from: elements[from % elements.length]!.id,
      to: elements[to % elements.length]!.id,
      lengthMm
    }));
    return { ...made, elements, groups };
  });

describe('the axis and the ledger', () => {
  it('put the sensor at one place, whatever was measured together, and every element somewhere', () => {
    let judged = 0;
    fc.assert(
      fc.property(withGroups, (made) => {
        const reading = readTrain(made);
        if (!reading.ok) return;
        judged++;
        const { axis, ledger } = new Facts(reading.document);
        expect(axis.sensorMm).toBeCloseTo(ledger.actualMm, 9);
        for (const { fromMm, toMm } of axis.spans) expect(Number.isFinite(fromMm) && Number.isFinite(toMm)).toBe(true);
        for (const { group, fromIndex, toIndex } of ledger.groups.inForce) {
          expect(axis.spans[toIndex]!.toMm - axis.spans[fromIndex]!.fromMm).toBeCloseTo(group.lengthMm, 9);
        }
      }),
      { numRuns: 3000 }
    );
    expect(judged).toBeGreaterThan(500);
  });

  const host = train([]).host;
  const shim = (id: string, lengthMm: number): Element => ({ id, kind: 'shim', name: id, lengthMm });

  it.each([
    ['begins at a shim', 'shim-1', 'b'],
    ['begins at the second of two shims', 'shim-2', 'b'],
    ['ends on a shim', 'a', 'shim-1'],
    ['ends on a gap', 'a', 'gap'],
    ['is of one element', 'a', 'a']
  ])('a measurement that %s is refused with its place', (_what, from, to) => {
    const elements: Element[] = [
      corrector({ backFocusMm: 55 }),
      part('a', 10),
      shim('shim-1', 0.5),
      shim('shim-2', 0.2),
      part('b', 10),
      { id: 'gap', kind: 'gap', name: 'gap' },
      camera(20)
    ];
    const reading = readTrain({ ...train(elements), groups: [{ from, to, lengthMm: 20 }] });
    expect(reading).toMatchObject({
      ok: false,
      complaints: [{ pointer: expect.stringMatching(/^\/groups\/0\/(from|to)$/) as unknown }]
    });
  });

  it.each([
    ['begins', 'filter', 'b'],
    ['ends', 'a', 'filter']
  ])('a measurement that %s at a filter inside another part is told and not used', (_what, from, to) => {
    const made = train([
      corrector({ backFocusMm: 55 }),
      part('a', 10, { sky: m48('female'), camera: m48('female', inner) }),
      nested('filter'),
      part('b', 10, { sky: m48('male'), camera: m48('female') }),
      camera(20)
    ]);
    const { problems, actual } = checkTrain({ ...made, groups: [{ from, to, lengthMm: 30 }] });
    expect(problems.find(({ code }) => code === 'group-unused')?.message).toContain('no shoulder to measure from');
    expect(actual.totalMm).toBe(40);
  });

  it('shims between parts that were measured together lie in that measurement, once', () => {
    const made = train([
      corrector({ backFocusMm: 55 }),
      part('a', 10),
      shim('shim-1', 0.5),
      part('b', 10),
      shim('shim-2', 0.3),
      camera(20)
    ]);
    const { actual } = checkTrain({ ...made, groups: [{ from: 'a', to: 'b', lengthMm: 21 }] });
    expect(actual.totalMm).toBeCloseTo(21 + 0.3 + 20, 9);
  });

  it('ahead of the corrector a measurement counts for where the host’s face stands, and not for the back focus', () => {
    const made = train([part('a', 10), part('b', 10), corrector({ backFocusMm: 55 }), camera(55)], { host });
    const plain = new Facts(made);
    const measured = new Facts({ ...made, groups: [{ from: 'a', to: 'b', lengthMm: 20.4 }] });
    expect(measured.ledger.actualMm).toBe(plain.ledger.actualMm);
    expect(measured.axis.hostFaceMm).toBeCloseTo(plain.axis.hostFaceMm - 0.4, 9);
    expect(measured.ledger.groups.left).toEqual([]);
  });
});
