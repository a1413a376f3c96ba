import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { filledTrain, findStacks } from '../src/finder/index.ts';
import { assess, checkTrain } from '../src/check/index.ts';
import type { BodyElement, Element, Port, ThreadPort, Train } from '../src/train/index.ts';
import { assemblySheet } from '../src/assembly/index.ts';
import { drawer } from './drawer.ts';
import { names } from './gaps.ts';
import { camera, corrector, part, train } from './trains.ts';

/** What sinks into a bore is decided by diameters, and rings may stand side by side in one (handbook §3). */

const male = (thread: string, lengthMm = 4, more: Partial<ThreadPort> = {}): ThreadPort => ({
  thread,
  gender: 'male',
  lengthMm,
  ...more
});
const female = (thread: string, lengthMm = 5, more: Partial<ThreadPort> = {}): ThreadPort => ({
  thread,
  gender: 'female',
  lengthMm,
  ...more
});
const M48 = 'M48x0.75';
const M42 = 'M42x0.75';

/** A ring of 4 mm without a shoulder: M48 outside, M42 inside. */
const ring = (id: string, lengthMm = 4, more: Partial<BodyElement> = {}): BodyElement =>
  part(id, lengthMm, { sky: male(M48, lengthMm, { shoulder: false }), camera: female(M42, 3.5), ...more });

/** A corrector, an adapter of 20 whose rear bore is M48, 8 mm deep, what comes next, and a camera of 35. */
const bored = (inside: Element[], face: Port, asks = 55): Train =>
  train([
    corrector({ backFocusMm: asks }, { camera: male(M48) }),
    part('adapter', 20, { sky: female(M48), camera: female(M48, 8), outerMm: 60 }),
    ...inside,
    camera(35, { sky: face, outerMm: 80 })
  ]);
const M42_MALE = male(M42, 3);
const errorsOf = (made: Train): string[] =>
  assess(made)
    .errors.map(({ code }) => code)
    .sort();

describe('rings without a shoulder in a bore 8 mm deep', () => {
  it('a body is never narrower than its own threads, whatever its outer diameter is told as', () => {
    const behind = (outerMm: number | undefined) =>
      bored(
        [ring('a'), part('b', 10, { sky: male(M42, 7), camera: male('M54x0.75'), outerMm })],
        female('M54x0.75'),
        65
      );
    const { problems, ...wide } = checkTrain(behind(54));
    expect(checkTrain(behind(30))).toMatchObject(wide);
    expect(problems.map(({ code }) => code)).not.toContain('body-narrow');
    expect(checkTrain(behind(30)).actual.totalMm).toBe(65);
    const told = (outerMm: number) =>
      assess(behind(outerMm)).findings.flatMap(({ code, say }) => (code === 'body-narrow' ? [say('mm')] : []));
    expect(told(30)).toEqual([
      'b has a stated outer diameter of 30.00 mm and a thread of 54.00 mm: it is drawn as wide as the thread. Correct its outer diameter.'
    ]);
    expect(told(54)).toEqual([]);
  });

  it('two of 4 mm are flush, side by side, each screwed into the bore (handbook §3)', () => {
    const made = bored([ring('a'), ring('b')], M42_MALE);
    expect(checkTrain(made)).toMatchObject({ actual: { totalMm: 55 }, residualMm: 0, verdict: 'on-spec' });
    expect(errorsOf(made)).toEqual([]);
    // The same, their inner thread told as the outer one: there is no room for it inside them.
    const same = bored(
      [ring('a', 4, { camera: female(M48, 4) }), ring('b', 4, { camera: female(M48, 4) })],
      male(M48, 3)
    );
    expect(checkTrain(same).actual.totalMm).toBe(55);
  });

  it('with one, what is narrow enough goes 4 into the bore: a 7.5 mm spacer adds 3.5 (handbook §3)', () => {
    const spacer = part('spacer', 7.5, { sky: male(M42, 3), camera: female(M42), outerMm: 46 });
    expect(checkTrain(bored([ring('a'), spacer], M42_MALE)).actual.totalMm).toBeCloseTo(20 - 4 + 7.5 + 35, 9);
    const unsaid = part('spacer', 7.5, { sky: male(M42, 3), camera: female(M42) });
    expect(checkTrain(bored([ring('a'), unsaid], M42_MALE)).actual.totalMm).toBeCloseTo(20 - 4 + 7.5 + 35, 9);
  });

  it('with one, a body of 60 mm stands on the rim, and its thread has to bridge what is between', () => {
    const long = bored([ring('a', 7)], male(M42, 3.6));
    // 8 deep, a ring of 7: the camera stands on the rim, 1 mm from the ring.
    expect(checkTrain(long).actual.totalMm).toBeCloseTo(20 + 35, 9);
    expect(errorsOf(long)).toEqual([]);
    const bridge = bored([ring('a', 4)], male(M42, 3));
    expect(checkTrain(bridge).actual.totalMm).toBeCloseTo(20 + 35, 9);
    expect(errorsOf(bridge)).toEqual(['engagement-none']);
  });

  it('neither the bore’s depth nor the ring’s length is in doubt where the next part stands on the rim', () => {
    const told = assess(bored([ring('a', 7)], male(M42, 3.6))).facts.doubts.map(({ id, of }) => `${id} ${of}`);
    expect(told).toEqual(['adapter length', 'camera length']);
    const sunk = assess(bored([ring('a'), ring('b')], M42_MALE)).facts.doubts.map(({ id, of }) => `${id} ${of}`);
    expect(sunk).toContain('adapter thread');
  });

  it('a body wider than the bore does not sink, whatever its thread says', () => {
    const wide = (outerMm: number | undefined) =>
      checkTrain(
        bored(
          [
            ring('a', 10, {
              sky: male(M48, 6, { shoulder: false }),
              ...(outerMm === undefined ? {} : { outerMm })
            })
          ],
          M42_MALE
        )
      ).actual.totalMm;
    expect(wide(60)).toBe(20 + 10 + 35);
    expect(wide(48)).toBe(20 - 8 + 10 + 35);
    expect(wide(undefined)).toBe(20 - 8 + 10 + 35);
    // Unstated it is at least as wide as the larger of its threads.
    const step = part('step', 10, { sky: male(M48, 4, { shoulder: false }), camera: female('M54x0.75') });
    expect(checkTrain(bored([step], male('M54x0.75'))).actual.totalMm).toBe(20 + 10 + 35);
  });

  it('the other way round: a ring that sinks toward the camera holds what is before it on the rim', () => {
    const made = (outerMm: number): Train =>
      train([
        corrector({ backFocusMm: 55 }, { camera: male(M48) }),
        part('before', 10, { sky: female(M48), camera: female(M42, 5), outerMm }),
        part('ring', 5, { sky: male(M42, 5), camera: male(M48, 5, { shoulder: false }), outerMm: 48 }),
        camera(35, { sky: female(M48, 8), outerMm: 80 })
      ]);
    expect(checkTrain(made(60)).actual.totalMm).toBeCloseTo(10 + 35, 9);
    expect(checkTrain(made(44)).actual.totalMm).toBeCloseTo(10 - 3 + 35, 9);
  });

  it('a bore of unknown depth leaves the length not known: not good, no chance, and told which depth', () => {
    const made = train([
      corrector({ backFocusMm: 55 }, { camera: male(M48) }),
      part('adapter', 20, { sky: female(M48), camera: { thread: M48, gender: 'female' }, outerMm: 60 }),
      ring('a', 8),
      camera(35, { sky: M42_MALE, outerMm: 80 })
    ]);
    const { verdict, residualMm, uncertainty, problems } = checkTrain(made);
    expect([verdict, residualMm, uncertainty.probabilityInTolerance]).toEqual(['free', null, null]);
    expect(assess(made).isGood).toBe(false);
    expect(assess(made).verdictInWords('mm')).toBe('Length not known');
    expect(problems.find(({ code }) => code === 'seat-unknown')!.message).toContain('how deep the bore of adapter is');
  });
});

describe('the finder and bores', () => {
  const gap: Element = { id: 'gap', kind: 'gap', name: 'gap' };
  const shoulderless = (partId: string, lengthMm: number, quantity = 1) => ({
    partId,
    lengthMm,
    quantity,
    sky: male(M48, lengthMm, { shoulder: false }),
    camera: female(M42, 3.5)
  });

  it('puts two rings side by side into one bore where that lands', () => {
    const { solutions, exhausted } = findStacks(bored([gap], M42_MALE), {
      unit: 'mm',
      parts: drawer(shoulderless('R4', 4, 2))
    });
    expect(names(solutions[0]!)).toEqual([['R4', 'R4']]);
    expect(solutions[0]).toMatchObject({ residualMm: 0, inTolerance: true });
    expect(exhausted).toBe(true);
    const filled = filledTrain(bored([gap], M42_MALE), solutions[0]!);
    const steps = assemblySheet(filled, 'mm', 'telescope');
    expect(steps.map(({ joint }) => joint).filter(Boolean)).toHaveLength(filled.elements.length);
  });

  it('never sinks a body into a bore it cannot enter', () => {
    const parts = drawer(
      { ...shoulderless('WIDE', 10), sky: male(M48, 6, { shoulder: false }), outerMm: 60 },
      { partId: 'S10', lengthMm: 10, sky: male(M48), camera: female(M42, 3.5), outerMm: 60 }
    );
    const { solutions } = findStacks(bored([gap], M42_MALE, 65), { unit: 'mm', parts });
    expect(solutions.map((each) => [names(each)[0]!.join(), each.residualMm])).toContainEqual(['WIDE', 0]);
    for (const each of solutions) {
      expect(assess(filledTrain(bored([gap], M42_MALE, 65), each)).ledger.residualMm).toBe(each.residualMm);
    }
  });

  it('claims of every stack what a check of it says, and misses none that closes, rings of any width and length', () => {
    const rings = fc.array(
      fc.record({
        tenths: fc.constantFrom(20, 30, 40, 50, 80),
        kind: fc.constantFrom('sinks', 'sinks', 'spacer', 'step'),
        outerMm: fc.constantFrom(undefined, 48, 60)
      }),
      { minLength: 1, maxLength: 4 }
    );
    fc.assert(
      fc.property(rings, (made) => {
        const parts = drawer(
          ...made.map(({ tenths, kind, outerMm }, at) => ({
            partId: `P${at}`,
            lengthMm: tenths / 10,
            ...(outerMm === undefined ? {} : { outerMm }),
            ...(kind === 'sinks'
              ? { sky: male(M48, tenths / 10, { shoulder: false }), camera: female(M42, 3.5) }
              : kind === 'spacer'
                ? { sky: male(M42, 3), camera: female(M42, 3.5) }
                : { sky: male(M48, 4), camera: female(M42, 3.5) })
          }))
        );
        const open = bored([gap], M42_MALE, 60);
        const found = findStacks(open, { unit: 'mm', parts, maxPieces: 3, limit: 500, prefer: 'closest' });
        expect(found.exhausted).toBe(true);
        const told = new Map(found.solutions.map((each) => [[...names(each)[0]!].sort().join(' '), each]));
        // Every order of up to three parts that closes without an error, by a check alone.
        const closest = new Map<string, number>();
        const grow = (used: readonly (typeof parts)[number][]): void => {
          const elements = used.map((each, at) => ({ ...each.element, id: `p${at}` }));
          const filled = {
            ...open,
            elements: [...open.elements.slice(0, 2), ...elements, open.elements.at(-1)!]
          } as Train;
          const { ledger, errors } = assess(filled);
          if (errors.length === 0) {
            const key = used
              .map(({ partId }) => partId)
              .sort()
              .join(' ');
            closest.set(key, Math.min(closest.get(key) ?? Infinity, Math.abs(ledger.residualMm!)));
          }
          if (used.length < 3) for (const each of parts) if (!used.includes(each)) grow([...used, each]);
        };
        grow([]);
        const best = Math.min(...closest.values());
        if (closest.size === 0) expect(found.solutions).toEqual([]);
        else expect(Math.abs(found.solutions[0]!.residualMm!)).toBeCloseTo(best, 6);
        for (const each of told.values()) {
          const after = assess(filledTrain(open, each));
          expect(after.ledger.residualMm).toBe(each.residualMm);
          expect(after.errors).toEqual([]);
        }
      }),
      { numRuns: 60 }
    );
  });
});
