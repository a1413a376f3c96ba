import { describe, expect, it } from 'vitest';
import { findStacks, otherOrders, type Solution } from '../src/finder/index.ts';
import { checkTrain } from '../src/check/index.ts';
import { engagement, jointsOf } from '../src/joint/index.ts';
import type { Train } from '../src/train/index.ts';
import { filledTrain } from '../src/finder/index.ts';
import { drawer, female, male } from './drawer.ts';
import { camera, corrector, train } from './trains.ts';

/** A gap between a wide face and a narrow one. */
const narrowing = (asksMm: number): Train =>
  train([
    corrector({ backFocusMm: asksMm }, { camera: male('M63x1') }),
    { id: 'gap', kind: 'gap', name: 'gap' },
    camera(17.5, { sky: female('M42x0.75') as never })
  ]);
const wide = { sky: female('M63x1'), camera: male('M63x1') };
const narrow = { sky: female('M42x0.75'), camera: male('M42x0.75') };
const step = { kind: 'adapter', sky: female('M63x1'), camera: male('M42x0.75'), lengthMm: 2 };

const names = ({ gaps }: Solution): string[] => gaps.flatMap(({ placed }) => placed.map(({ part }) => part.partId));

describe('the order inside a gap (common practice, no source)', () => {
  it('wide parts stand toward the telescope, longer ones first, the fewest changes of thread', () => {
    const parts = drawer(
      { partId: 'narrow', ...narrow, lengthMm: 6 },
      { partId: 'step', ...step },
      { partId: 'wide-short', ...wide, lengthMm: 5 },
      { partId: 'wide-long', ...wide, lengthMm: 9 }
    );
    const [best] = findStacks(narrowing(17.5 + 22), { unit: 'mm', parts }).solutions;
    expect(best!.residualMm).toBeCloseTo(0, 9);
    expect(names(best!)).toEqual(['wide-long', 'wide-short', 'step', 'narrow']);
    // Only the two wide rings may change places.
    expect(best!.orders).toBe(2);
    const others = otherOrders(narrowing(17.5 + 22), best!);
    expect(others.map(names)).toEqual([['wide-short', 'wide-long', 'step', 'narrow']]);
    expect(others[0]!.residualMm).toBeCloseTo(0, 9);
  });

  it('counts orders of alike parts once', () => {
    const parts = drawer(
      { partId: 'ring', ...wide, lengthMm: 5, quantity: 3 },
      { partId: 'other', ...wide, lengthMm: 7 },
      { partId: 'step', ...step }
    );
    const [best] = findStacks(narrowing(17.5 + 24), { unit: 'mm', parts }).solutions;
    expect(names(best!).sort()).toEqual(['other', 'ring', 'ring', 'ring', 'step']);
    // Four places for the one that differs.
    expect(best!.orders).toBe(4);
    const others = otherOrders(narrowing(17.5 + 24), best!).map((each) => names(each).join(' '));
    expect(new Set([names(best!).join(' '), ...others]).size).toBe(4);
    expect(otherOrders(narrowing(17.5 + 24), best!, 2)).toHaveLength(2);
  });

  it('a part is turned round only where it has to be', () => {
    const parts = drawer(
      {
        partId: 'turns',
        sky: male('M42x0.75'),
        camera: female('M63x1'),
        kind: 'adapter',
        lengthMm: 2,
        reversible: true
      },
      { partId: 'wide', ...wide, lengthMm: 5 }
    );
    const [best] = findStacks(narrowing(17.5 + 7), { unit: 'mm', parts }).solutions;
    expect(best!.gaps[0]!.placed).toMatchObject([{ reversed: false }, { reversed: true }]);
    expect(
      checkTrain(filledTrain(narrowing(24.5), best!)).problems.filter(({ severity }) => severity === 'error')
    ).toEqual([]);
  });

  it('shims lie where most thread holds', () => {
    const parts = drawer(
      { partId: 'short', sky: female('M63x1'), camera: male('M63x1', 3.5), lengthMm: 5 },
      { partId: 'step', ...step },
      { partId: 'shim', kind: 'shim', lengthMm: 0.3 }
    );
    const made = narrowing(17.5 + 7.3);
    const [best] = findStacks(made, { unit: 'mm', parts }).solutions;
    expect(best!.residualMm).toBeCloseTo(0, 9);
    const filled = filledTrain(made, best!);
    const joints = jointsOf(filled).filter(({ open }) => !open);
    const shimmed = joints.find(({ shimsMm }) => shimsMm > 0)!;
    const turns = (joint: (typeof joints)[number]): number => engagement(joint.pair, 0) ?? 0;
    expect(turns(shimmed)).toBeGreaterThan(3.5);
  });

  it('a gap’s limits are kept by what stands in it, openings included', () => {
    const parts = drawer(
      { partId: 'long', ...wide, lengthMm: 20 },
      { partId: 'short', ...wide, lengthMm: 5 },
      { partId: 'step', ...step }
    );
    const limited = (limits: object): Train => ({
      ...narrowing(39.5),
      elements: narrowing(39.5).elements.map((element) =>
        element.kind === 'gap' ? { ...element, ...limits } : element
      )
    });
    expect(names(findStacks(limited({}), { unit: 'mm', parts }).solutions[0]!)).toEqual(['long', 'step']);
    for (const solution of findStacks(limited({ maxMm: 21.9 }), { unit: 'mm', parts }).solutions) {
      expect(solution.gaps[0]!.mm).toBeLessThanOrEqual(21.9);
    }
    expect(names(findStacks(limited({ maxMm: 21.9 }), { unit: 'mm', parts }).solutions[0]!)).toEqual(['short', 'step']);
    expect(names(findStacks(limited({ minMm: 25 }), { unit: 'mm', parts }).solutions[0]!)).toEqual([
      'long',
      'short',
      'step'
    ]);
  });

  it('the probability is that of the train it makes', () => {
    const parts = drawer(
      { partId: 'wide', ...wide, lengthMm: 5, toleranceMm: 0.1 },
      { partId: 'step', ...step, toleranceMm: 0.1 }
    );
    const made = narrowing(24.45);
    for (const solution of findStacks(made, { unit: 'mm', parts }).solutions) {
      expect(solution.probability).toBe(checkTrain(filledTrain(made, solution)).uncertainty.probabilityInTolerance);
    }
  });

  it('gaps that stand together are filled as one, and every one of them is told', () => {
    const [first, , last] = narrowing(39.5).elements;
    const made = {
      ...narrowing(39.5),
      elements: [
        first!,
        { id: 'a', kind: 'gap' as const, name: 'a' },
        { id: 'b', kind: 'gap' as const, name: 'b' },
        last!
      ]
    };
    const parts = drawer({ partId: 'long', ...wide, lengthMm: 20 }, { partId: 'step', ...step });
    const [best] = findStacks(made, { unit: 'mm', parts }).solutions;
    expect(best!.gaps.map(({ id, placed }) => [id, placed.length])).toEqual([
      ['a', 2],
      ['b', 0]
    ]);
    expect(filledTrain(made, best!).elements.some(({ kind }) => kind === 'gap')).toBe(false);
  });
});
