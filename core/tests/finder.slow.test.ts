import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readDrawer, type Part } from '../src/drawer/index.ts';
import { filledTrain, findStacks, type Solution } from '../src/finder/index.ts';
import { checkTrain } from '../src/check/index.ts';
import { readTrain, type Element, type Port, type Train } from '../src/train/index.ts';
import { compareRanks, tryAll, type Rank } from './bruteForce.ts';
import { drawer, female, male } from './drawer.ts';
import { names, oneGap } from './gaps.ts';
import { camera, corrector, part, train } from './trains.ts';

const rankOf = ({ residualMm, pieces, buys }: Solution): Rank => [
  Math.round(Math.abs(residualMm ?? 0) * 1000),
  pieces,
  buys
];

// Small and awkward: few values, so that residuals tie, threads bottom and parts run out.
const um = (...values: number[]) => fc.constantFrom(...values.map((value) => value / 1000));
const thread = fc.constantFrom('M48x0.75', 'M48x0.75', 'M42x0.75');
const port = (gender: 'male' | 'female'): fc.Arbitrary<Port> =>
  fc.record({
    thread,
    gender: fc.constant(gender),
    lengthMm: gender === 'male' ? um(3000, 4000, 5000) : um(3000, 4500, 5000)
  });
const anyPort = fc.oneof(port('male'), port('female'));

const ring = fc.record(
  {
    kind: fc.constantFrom('spacer', 'adapter'),
    lengthMm: um(1234, 2500, 3001, 5000, 7499, 10_017),
    sky: fc.oneof({ weight: 3, arbitrary: port('female') }, { weight: 1, arbitrary: anyPort }),
    camera: fc.oneof({ weight: 3, arbitrary: port('male') }, { weight: 1, arbitrary: anyPort }),
    reversible: fc.boolean(),
    quantity: fc.constantFrom(1, 1, 2),
    owned: fc.constantFrom(true, true, false)
  },
  { requiredKeys: ['kind', 'lengthMm', 'sky', 'camera'] }
);
const dialled = fc.record({
  kind: fc.constant('variable-spacer'),
  lengthMm: um(2000, 4000),
  sky: port('female'),
  camera: port('male'),
  adjust: fc.constantFrom({ minMm: 0, maxMm: 2, setMm: 1 }, { minMm: 0, maxMm: 3, setMm: 0, stepMm: 0.25 })
});
/** Rings on a long thread with a lock ring, and rings without a shoulder that sink into a bore. */
const seated = fc.oneof(
  fc.record({
    kind: fc.constant('adapter'),
    lengthMm: um(2000, 3001),
    sky: port('female'),
    camera: fc.constantFrom(7, 9).map((lengthMm) => ({ ...male('M48x0.75', lengthMm), lockRing: true }))
  }),
  fc.record({
    kind: fc.constant('adapter'),
    lengthMm: um(3000, 4000),
    sky: fc.constant({ ...male('M48x0.75', 3), shoulder: false }),
    camera: fc.constantFrom(female('M48x0.75', 3), female('M48x0.75', 4.5))
  })
);
const shim = fc.record({
  kind: fc.constant('shim'),
  lengthMm: um(100, 201, 500, 1000),
  quantity: fc.constantFrom(1, 2)
});

const anyParts = (rings: number, dials: number, seats = 0): fc.Arbitrary<Part[]> =>
  fc
    .tuple(
      fc.array(ring, { minLength: 1, maxLength: rings }),
      fc.array(shim, { maxLength: 2 }),
      fc.array(dialled, { maxLength: dials }),
      fc.array(seated, { minLength: Math.min(seats, 1), maxLength: seats })
    )
    .map((made) =>
      made
        .flat()
        .map(
          (document, index) =>
            JSON.parse(JSON.stringify({ partId: `P${index}`, name: `P${index}`, ...document })) as object
        )
    )
    .map((parts) => readDrawer({ lodestone: 'drawer/1', parts }))
    .map((reading) => (reading.ok ? reading.document : []));

const end = fc.constantFrom(male('M48x0.75', 4), male('M48x0.75', 5), female('M48x0.75', 4.5), male('M42x0.75', 3));
const start = fc.constantFrom(
  female('M48x0.75', 4.5),
  female('M48x0.75', 3),
  male('M48x0.75', 4),
  female('M42x0.75', 4)
);
const limits = fc.constantFrom({}, {}, {}, { minMm: 3 }, { maxMm: 12 });

const anyTrain = (gaps: 1 | 2, dial: boolean): fc.Arbitrary<Train> =>
  fc
    .record({
      asks: um(20_000, 25_123, 31_750, 40_001),
      corrector: end,
      between: fc.tuple(start, end),
      camera: start,
      limits: fc.tuple(limits, limits),
      seat: fc.constantFrom({}, {}, { shimsMm: [0.2] }, { recessMm: 0.5 }, { gapMm: 0.3 }),
      dial: dial
        ? fc.constantFrom(undefined, { minMm: 0, maxMm: 1.5, setMm: 0.4, stepMm: 0.1 })
        : fc.constant(undefined)
    })
    .map((made) => {
      const gap = (index: 0 | 1): Element => ({ id: `gap-${index}`, kind: 'gap', name: 'gap', ...made.limits[index] });
      const middle = part('guider', 8, { kind: 'off-axis-guider', sky: made.between[0], camera: made.between[1] });
      return train([
        corrector({ backFocusMm: made.asks }, { camera: made.corrector, ...(made.dial ? { adjust: made.dial } : {}) }),
        gap(0),
        ...(gaps === 2 ? [middle, gap(1)] : []),
        camera(10, { sky: made.camera as never, seat: made.seat })
      ]);
    });

/** How many of the compared instances had a stack with no residual, and how many had none at all. */
const seen = { instances: 0, exact: 0, infeasible: 0 };

function compare(made: Train, parts: Part[], maxPieces: number): void {
  const all = tryAll(made, parts, maxPieces);
  const LISTED = 12;
  const { solutions, exhausted } = findStacks(made, { unit: 'mm', parts, maxPieces, limit: LISTED });
  expect(exhausted).toBe(true);
  expect(solutions.map(rankOf)).toEqual(all.slice(0, LISTED));
  seen.instances++;
  if (all.length === 0) seen.infeasible++;
  if (all[0]?.[0] === 0) seen.exact++;

  const tolerance = checkTrain(made).required.toleranceMm! * 1000;
  const inside = all.filter(([residual]) => residual <= Math.round(tolerance));
  inside.sort((a, b) => a[1] - b[1] || a[2] - b[2] || a[0] - b[0]);
  const fewest = findStacks(made, { unit: 'mm', parts, maxPieces, prefer: 'fewest', limit: 5 });
  expect(fewest.solutions.map(rankOf)).toEqual(inside.slice(0, 5));

  for (const solution of [...solutions, ...fewest.solutions]) {
    const filled = filledTrain(made, solution);
    expect(readTrain(filled).ok).toBe(true);
    const report = checkTrain(filled);
    expect(report.problems.filter(({ severity }) => severity === 'error')).toEqual([]);
    expect(report.residualMm).toBeCloseTo(solution.residualMm!, 9);
    for (const { partId, quantity } of parts) {
      const placed = solution.gaps.flatMap(({ placed: each }) => each).filter((each) => each.part.partId === partId);
      expect(placed.length).toBeLessThanOrEqual(quantity);
    }
  }
}

describe('the finder against trying everything', () => {
  it('one gap: rings of all threads, turned round, shims, bottoming threads, measured openings', () => {
    fc.assert(
      fc.property(anyTrain(1, false), anyParts(4, 0), (made, parts) => compare(made, parts, 4)),
      { numRuns: 150 }
    );
  });

  it('one gap with dials, in the train and in the drawer', () => {
    fc.assert(
      fc.property(anyTrain(1, true), anyParts(3, 0), (made, parts) => compare(made, parts, 3)),
      { numRuns: 80 }
    );
    fc.assert(
      fc.property(anyTrain(1, false), anyParts(3, 1), (made, parts) => compare(made, parts, 3)),
      { numRuns: 80 }
    );
  });

  it('dials inside gaps with limits: none is set beyond them', () => {
    const limited = anyTrain(1, true).filter(({ elements }) =>
      elements.some((each) => 'maxMm' in each || 'minMm' in each)
    );
    fc.assert(
      fc.property(limited, anyParts(2, 2), (made, parts) => compare(made, parts, 3)),
      { numRuns: 60 }
    );
  });

  it('lock rings that are unscrewed, and rings that sink into a bore', () => {
    fc.assert(
      fc.property(anyTrain(1, false), anyParts(2, 1, 2), (made, parts) => compare(made, parts, 3)),
      { numRuns: 80 }
    );
  });

  it('limits over two gaps together: every stack that keeps them, and no other', () => {
    fc.assert(
      fc.property(anyTrain(2, false), anyParts(3, 0), fc.constantFrom(8, 14), (made, parts, maxMm) => {
        const spans = [{ from: 'gap-0', to: 'gap-1', maxMm, because: 'a guider has to reach' }];
        const all = findStacks(made, { unit: 'mm', parts, maxPieces: 3, limit: 500 });
        const kept = findStacks(made, { unit: 'mm', parts, maxPieces: 3, limit: 500, spans });
        expect(all.exhausted && kept.exhausted).toBe(true);
        const together = ({ gaps }: Solution): number => gaps.reduce((sum, gap) => sum + gap.mm, 0);
        for (const solution of kept.solutions) expect(together(solution)).toBeLessThanOrEqual(maxMm + 1e-9);
        // Laid elsewhere, shims may keep a limit that they did not: none is lost that kept it as it was.
        const within = all.solutions.filter((solution) => together(solution) <= maxMm + 1e-9);
        expect(kept.solutions.length).toBeGreaterThanOrEqual(within.length);
      }),
      { numRuns: 60 }
    );
  });

  it('two gaps that share one drawer', () => {
    fc.assert(
      fc.property(anyTrain(2, false), anyParts(3, 0), (made, parts) => compare(made, parts, 3)),
      { numRuns: 120 }
    );
  });

  it('was compared where it matters: most instances have no exact stack, some have none at all', () => {
    expect(seen.instances).toBeGreaterThanOrEqual(400);
    expect(seen.exact).toBeLessThan(seen.instances / 2);
    expect(seen.infeasible).toBeGreaterThan(10);
  });
});

describe('what it gives', () => {
  it('finds the one ring that closes the gap, and says so', () => {
    const parts = drawer({ partId: 'A', lengthMm: 37.5 }, { partId: 'B', lengthMm: 30 });
    const { solutions, exhausted, target } = findStacks(oneGap(55), { unit: 'mm', parts });
    expect(target).toMatchObject({ requiredMm: 55, missingMm: 37.5 });
    expect(exhausted).toBe(true);
    expect(names(solutions[0]!)).toEqual([['A']]);
    expect(solutions[0]).toMatchObject({ residualMm: 0, pieces: 1, buys: 0, joints: 2, inTolerance: true, orders: 1 });
    expect(solutions[0]!.gaps[0]!.mm).toBeCloseTo(37.5, 9);
  });

  it('prefers what is owned to what has to be bought, and counts the price', () => {
    const parts = drawer(
      { partId: 'shop', lengthMm: 37.5, owned: false, price: 20 },
      { partId: 'own', lengthMm: 37.5 }
    );
    const { solutions } = findStacks(oneGap(55), { unit: 'mm', parts });
    expect(names(solutions[0]!)).toEqual([['own']]);
    expect(solutions.find(({ buys }) => buys === 1)?.price).toBe(20);
  });

  it('leaves out what is set aside, tied up elsewhere or forbidden, and what bends or filters', () => {
    const parts = drawer(
      { partId: 'aside', lengthMm: 37.5, state: 'set-aside' },
      { partId: 'tied', lengthMm: 37.5 },
      { partId: 'no', lengthMm: 37.5 },
      { partId: 'bent', kind: 'adapter', lengthMm: 37.5, bendsDeg: 90 },
      { partId: 'glass', kind: 'adapter', lengthMm: 37.5, glass: [{ thicknessMm: 2 }] },
      { partId: 'wheel', kind: 'filter-wheel', lengthMm: 37.5 },
      { partId: 'free', lengthMm: 30 }
    );
    const { solutions } = findStacks(oneGap(55), {
      unit: 'mm',
      parts,
      forbidden: new Set(['no']),
      tied: new Map([['tied', 1]])
    });
    expect(solutions.map(names)).toEqual([[['free']], [[]]].filter((each) => each[0]!.length > 0).concat([[[]]]));
  });

  it('a pinned part stands in every stack', () => {
    const parts = drawer({ partId: 'A', lengthMm: 37.5 }, { partId: 'B', lengthMm: 30 }, { partId: 'C', lengthMm: 7 });
    const { solutions } = findStacks(oneGap(55), { unit: 'mm', parts, pinned: ['C'] });
    expect(solutions.length).toBeGreaterThan(0);
    for (const solution of solutions) expect(names(solution).flat()).toContain('C');
    expect(names(solutions[0]!)).toEqual([['B', 'C']]);
  });

  it('parts alike in everything are one kind of stack, and orders of equal length are counted', () => {
    const parts = drawer(
      { partId: 'A1', lengthMm: 20 },
      { partId: 'A2', lengthMm: 20 },
      { partId: 'B', lengthMm: 17.5 }
    );
    const { solutions } = findStacks(oneGap(55), { unit: 'mm', parts });
    expect(names(solutions[0]!)).toEqual([['A1', 'B']]);
    expect(solutions[0]!.orders).toBe(2);
    expect(solutions.filter((each) => names(each).flat().length === 2 && each.residualMm === 0)).toHaveLength(1);
  });

  it('leaves a dial as near to the middle of its travel as it can', () => {
    const made = train([
      corrector({ backFocusMm: 55 }, { camera: male('M48x0.75'), adjust: { minMm: 0, maxMm: 10, setMm: 0 } }),
      part('dial', 20, {
        sky: female('M48x0.75'),
        camera: male('M48x0.75'),
        adjust: { minMm: 0, maxMm: 10, setMm: 9 }
      }),
      { id: 'gap', kind: 'gap', name: 'gap' },
      camera(17.5, { sky: female('M48x0.75') as never })
    ]);
    const [best] = findStacks(made, { unit: 'mm', parts: drawer({ partId: 'A', lengthMm: 7.5 }) }).solutions;
    expect(best!.residualMm).toBeCloseTo(0, 9);
    // 55 = 20 + 17.5 + 7.5 + 10, in two dials of 0 to 10: five each.
    expect(best!.pieces === 0 ? 17.5 : 10).toBeCloseTo(
      best!.dials.reduce((sum, { setMm }) => sum + setMm, 0),
      6
    );
    const spread = Math.abs(best!.dials[0]!.setMm - best!.dials[1]!.setMm);
    expect(spread).toBeLessThanOrEqual(0.2);
  });

  it('two dials alike are told apart, each with its own setting', () => {
    const dial = { kind: 'variable-spacer', lengthMm: 10, adjust: { minMm: 0, maxMm: 9, setMm: 0, stepMm: 5 } };
    const parts = drawer({ partId: 'one', ...dial }, { partId: 'two', ...dial });
    const [best] = findStacks(oneGap(51.5), { unit: 'mm', parts }).solutions;
    // 34 = 10 + 10 + 14, by settings of 0, 5 or 9: nine and five.
    expect(best!.residualMm).toBeCloseTo(0, 9);
    expect(best!.dials.map(({ id }) => id)).toEqual(['one', 'two']);
    expect(best!.dials.map(({ setMm }) => setMm).sort()).toEqual([5, 9]);
    expect(best!.gaps[0]!.mm).toBeCloseTo(34, 9);
    const { elements } = filledTrain(oneGap(51.5), best!);
    expect(
      elements.map((element) => ('adjust' in element ? element.adjust?.setMm : undefined)).filter(Boolean)
    ).toEqual(best!.dials.map(({ setMm }) => setMm));
  });

  it('a dial is not mistaken for an element of the train that is called like it', () => {
    const dial = { kind: 'variable-spacer', lengthMm: 30, adjust: { minMm: 0, maxMm: 10, setMm: 0 } };
    const made = oneGap(55);
    const named = { ...made, elements: [{ ...made.elements[0]!, id: 'one' }, ...made.elements.slice(1)] };
    const [best] = findStacks(named, { unit: 'mm', parts: drawer({ partId: 'one', ...dial }) }).solutions;
    expect(best!.residualMm).toBeCloseTo(0, 9);
    expect(checkTrain(filledTrain(named, best!)).residualMm).toBeCloseTo(0, 9);
  });

  it('a gap on the sky side of the corrector closes without counting', () => {
    const made = train([
      { id: 'front', kind: 'gap', name: 'front' },
      corrector({ backFocusMm: 55 }, { sky: male('M63x1'), camera: male('M48x0.75') }),
      { id: 'gap', kind: 'gap', name: 'gap' },
      camera(17.5, { sky: female('M48x0.75') as never })
    ]);
    const parts = drawer(
      { partId: 'A', lengthMm: 37.5 },
      { partId: 'front', lengthMm: 9, sky: male('M63x1'), camera: female('M63x1') }
    );
    const [best] = findStacks(made, { unit: 'mm', parts }).solutions;
    expect(names(best!)).toEqual([[], ['A']]);
    expect(best!.residualMm).toBeCloseTo(0, 9);
  });

  it('a train without a gap has one answer: itself; one that asks for nothing has no residual', () => {
    const closed = train([corrector({ backFocusMm: 55 }), part('ring', 37), camera(17.5)]);
    expect(findStacks(closed, { unit: 'mm', parts: [] }).solutions).toMatchObject([
      { residualMm: -0.5, pieces: 0, gaps: [] }
    ]);
    expect(findStacks(closed, { unit: 'mm', parts: [], prefer: 'fewest' }).solutions).toEqual([]);
    const free = train([
      part('tube', 30, { camera: male('M48x0.75') }),
      { id: 'gap', kind: 'gap', name: 'gap' },
      camera(17.5, { sky: female('M48x0.75') as never })
    ]);
    expect(findStacks(free, { unit: 'mm', parts: drawer({ partId: 'A' }) }).solutions[0]).toMatchObject({
      residualMm: null,
      pieces: 0
    });
  });

  it('can be stopped, and then does not claim to be proven', () => {
    const parts = drawer(
      ...Array.from({ length: 40 }, (_, index) => ({ partId: `R${index}`, lengthMm: 3 + index * 0.317 }))
    );
    let reports = 0;
    const { exhausted, solutions } = findStacks(oneGap(55.0005), {
      unit: 'mm',
      parts,
      onProgress: ({ pieces, best }) => {
        reports++;
        if (best) expect(best.residualMm).not.toBeNull();
        return pieces < 3;
      }
    });
    expect(reports).toBeGreaterThan(2);
    expect(exhausted).toBe(false);
    expect(solutions.length).toBeGreaterThan(0);
  });

  it('likeliest puts a measured stack before one that is closer on paper', () => {
    const parts = drawer(
      { partId: 'paper', lengthMm: 37.5, toleranceMm: 0.3 },
      { partId: 'measured', lengthMm: 37, measured: { lengthMm: 37.52, uncertaintyMm: 0.02 } }
    );
    expect(names(findStacks(oneGap(55), { unit: 'mm', parts }).solutions[0]!)).toEqual([['paper']]);
    const { solutions, exhausted } = findStacks(oneGap(55), { unit: 'mm', parts, prefer: 'likeliest' });
    expect(names(solutions[0]!)).toEqual([['measured']]);
    expect(exhausted).toBe(true);
  });

  it('likeliest claims to be proven only where no stack at all is likelier', () => {
    const claims = { proven: 0, open: 0 };
    fc.assert(
      fc.property(
        fc.array(
          fc.record({ lengthMm: fc.integer({ min: 40, max: 160 }), tolerance: fc.integer({ min: 1, max: 30 }) }),
          {
            minLength: 18,
            maxLength: 26
          }
        ),
        fc.constantFrom(40, 47.53, 60.005),
        (rings, asksMm) => {
          const parts = drawer(
            ...rings.map(({ lengthMm, tolerance }, index) => ({
              partId: `R${index}`,
              lengthMm: lengthMm / 10,
              toleranceMm: tolerance / 100
            }))
          );
          const all = findStacks(oneGap(asksMm), { unit: 'mm', parts, maxPieces: 3, limit: 4000 });
          expect(all.exhausted && all.solutions.length < 4000).toBe(true);
          const best = Math.max(...all.solutions.map(({ probability }) => probability!));
          const { solutions, exhausted, ranked } = findStacks(oneGap(asksMm), {
            unit: 'mm',
            parts,
            maxPieces: 3,
            prefer: 'likeliest'
          });
          if (exhausted) expect(solutions[0]!.probability).toBe(best);
          if (ranked >= 400) claims[exhausted ? 'proven' : 'open']++;
          const listed = solutions.map(({ probability }) => probability!);
          expect(listed).toEqual(listed.toSorted((a, b) => b - a));
        }
      ),
      { numRuns: 12 }
    );
    expect(claims.proven).toBeGreaterThan(0);
  });

  it('the Pareto view holds only stacks that nothing beats in everything', () => {
    const parts = drawer(
      { partId: 'A', lengthMm: 37 },
      { partId: 'B', lengthMm: 20 },
      { partId: 'C', lengthMm: 17.4 },
      { partId: 'X', lengthMm: 37.5, owned: false, price: 30 }
    );
    const { pareto } = findStacks(oneGap(55), { unit: 'mm', parts });
    expect(pareto.map((each) => [names(each)[0]!.join('+'), each.price])).toEqual([
      ['', 0],
      ['A', 0],
      ['X', 30],
      ['B+C', 0]
    ]);
  });

  it('ranks compare as the contract says', () => {
    expect(
      [
        [3, 1, 0],
        [0, 4, 0],
        [0, 3, 1],
        [0, 3, 0]
      ].sort((a, b) => compareRanks(a as Rank, b as Rank))
    ).toEqual([
      [0, 3, 0],
      [0, 3, 1],
      [0, 4, 0],
      [3, 1, 0]
    ]);
  });
});
