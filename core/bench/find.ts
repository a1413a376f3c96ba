// The finder and HiGHS on the same instances, in one run. Equal optimum is asserted; the ratio is printed.
import { findStacks } from '../src/finder/index.ts';
import { modelOf, solveWithHighs } from '../tests/milp.ts';
import type { Part } from '../src/drawer/index.ts';
import { randomDrawer, randomTrain, seeded } from './drawers.ts';

const PIECES = 6;
const LISTED = 20;
const SEED = 20261124;
const ROUNDS = 5;
/** HiGHS keeps its rows to 1e-6; half a micrometre tells stacks apart. */
const HAIR_MM = 0.0005;

const um = (mm: number): string => `${(mm * 1000).toFixed(1)} µm`;

/** The first instance from the seed on that has a stack at all. */
function solvable(size: number, gaps: 1 | 2) {
  for (let seed = SEED; ; seed++) {
    const parts = randomDrawer(size, seed);
    const train = randomTrain(gaps, seed);
    if (findStacks(train, { unit: 'mm', parts, maxPieces: 4, limit: 1 }).solutions.length > 0) return { parts, train };
  }
}

console.log(`\nFinder, ${PIECES} pieces, ${LISTED} solutions, beside HiGHS on the same instance:`);
for (const size of [30, 100, 300]) {
  for (const gaps of [1, 2] as const) {
    const { parts, train } = solvable(size, gaps);
    const find = (limit: number) => findStacks(train, { unit: 'mm', parts, maxPieces: PIECES, limit });
    /** Shortest time of several rounds, ms. */
    const timed = (limit: number): number => {
      let shortest = Infinity;
      for (let round = 0; round < ROUNDS; round++) {
        const began = performance.now();
        find(limit);
        shortest = Math.min(shortest, performance.now() - began);
      }
      return shortest;
    };
    const result = find(LISTED);
    const listed = timed(LISTED);
    // HiGHS gives one stack: the like of it is a list of one.
    const one = timed(1);
    const ours = Math.abs(result.solutions[0]!.residualMm!);
    const judged = await solveWithHighs(modelOf(train, parts, PIECES));
    const brackets = judged.boundMm <= ours + HAIR_MM && ours <= judged.residualMm + HAIR_MM;
    const agrees = judged.proven ? brackets && judged.residualMm <= ours + HAIR_MM : brackets;
    const verdict = judged.proven
      ? agrees
        ? 'equal'
        : 'DIFFERENT'
      : `not finished: ${agrees ? '' : 'CONTRADICTED, '}between ${um(judged.boundMm)} and ${um(judged.residualMm)}`;
    console.log(
      `  ${`${size} parts, ${gaps} ${gaps === 1 ? 'gap' : 'gaps'}`.padEnd(20)} ${listed.toFixed(1).padStart(8)} ms  the best alone ${one.toFixed(1).padStart(8)} ms  HiGHS ${judged.ms.toFixed(0).padStart(6)} ms  ${(judged.ms / listed).toFixed(0).padStart(5)}× ${(judged.ms / one).toFixed(0).padStart(5)}×  optimum ${um(ours)}, ${verdict}${result.exhausted ? '' : ', OURS NOT EXHAUSTED'}`
    );
    if (!agrees) process.exitCode = 1;
  }
}

/** Shortest of a few rounds, ms. */
function shortest(work: () => unknown, rounds: number): number {
  let best = Infinity;
  for (let round = 0; round < rounds; round++) {
    const began = performance.now();
    work();
    best = Math.min(best, performance.now() - began);
  }
  return best;
}

const MANY_PIECES = 8;

console.log(`\nFinder, large drawers, ${MANY_PIECES} pieces, 2 gaps, the best alone:`);
for (const size of [1000, 3000, 10_000]) {
  const parts = randomDrawer(size, SEED);
  const train = randomTrain(2, SEED);
  const find = () => findStacks(train, { unit: 'mm', parts, maxPieces: MANY_PIECES, limit: 1 });
  const { exhausted, solutions } = find();
  const told = `${um(Math.abs(solutions[0]?.residualMm ?? NaN))}${exhausted ? ', proven' : ', NOT PROVEN'}`;
  console.log(`  ${`${size} parts`.padEnd(20)} ${shortest(find, 3).toFixed(0).padStart(8)} ms  ${told}`);
}

console.log(`\nFinder, drawers of round lengths, ${PIECES} pieces, 1 gap, ${LISTED} solutions:`);
for (const [words, stepMm] of [
  ['whole millimetres', 1],
  ['half millimetres', 0.5]
] as const) {
  const parts = randomDrawer(300, SEED, stepMm);
  const train = randomTrain(1, SEED);
  const find = () => findStacks(train, { unit: 'mm', parts, maxPieces: PIECES, limit: LISTED });
  const { exhausted, solutions } = find();
  const told = `${um(Math.abs(solutions[0]?.residualMm ?? NaN))}${exhausted ? ', proven' : ', NOT PROVEN'}`;
  console.log(`  ${words.padEnd(20)} ${shortest(find, 3).toFixed(0).padStart(8)} ms  ${told}`);
}

console.log(`\nFinder with the beam in it, 300 parts, ${PIECES} pieces, ${LISTED} solutions, beside the same without:`);
for (const gaps of [1, 2] as const) {
  const { parts: plain, train: bare } = solvable(300, gaps);
  const random = seeded(SEED);
  // Of ten rings seven are as wide as their thread lets them be, the others less.
  const parts = plain.map((part): Part => {
    const { element } = part;
    if (element.kind === 'shim' || !('sky' in element)) return part;
    const clearMm = random() < 0.7 ? 60 : 24 + random() * 20;
    return { ...part, element: { ...element, clearMm } as Part['element'] };
  });
  const sensor = { widthMm: 23.5, heightMm: 15.7, pixelUm: 3.76 };
  const elements = bare.elements.map((each) => (each.kind === 'camera' ? { ...each, sensor } : each));
  const train = { ...bare, elements };
  // Without a sensor nothing is known of the light, and nothing is asked of it.
  const find = (of: typeof train) => findStacks(of, { unit: 'mm', parts, maxPieces: PIECES, limit: LISTED });
  const [without, withBeam] = [bare, train].map((of) => shortest(() => find(of), ROUNDS)) as [number, number];
  const { solutions, leastCornerLight } = find(train);
  const dark = solutions.filter(({ cornerLight }) => (cornerLight ?? 1) < (leastCornerLight ?? 0) - 0.005).length;
  console.log(
    `  ${`${gaps} ${gaps === 1 ? 'gap' : 'gaps'}`.padEnd(20)} ${withBeam.toFixed(1).padStart(8)} ms  without ${without.toFixed(1).padStart(8)} ms  ${(withBeam / without).toFixed(2)} × (aim at most 1.3)  ${dark} of ${solutions.length} too dark`
  );
}
