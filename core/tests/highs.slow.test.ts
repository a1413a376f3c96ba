import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { findStacks } from '../src/finder/index.ts';
import type { Train } from '../src/train/index.ts';
import { randomDrawer, randomTrain } from '../bench/drawers.ts';
import { modelOf, solveWithHighs } from './milp.ts';

describe('the finder against a mixed-integer solver (HiGHS)', () => {
  it('reaches the same least residual on random drawers, one gap and two', async () => {
    const instances = fc.sample(
      fc.record({
        seed: fc.integer({ min: 1, max: 1e6 }),
        size: fc.integer({ min: 3, max: 12 }),
        gaps: fc.constantFrom(1, 2),
        pieces: fc.integer({ min: 1, max: 4 })
      }),
      { numRuns: Number(process.env.LODESTONE_RUNS ?? 200), seed: 7 }
    );
    let exact = 0;
    let infeasible = 0;
    for (const { seed, size, gaps, pieces } of instances) {
      const parts = randomDrawer(size, seed);
      const train: Train = randomTrain(gaps as 1 | 2, seed);
      const { solutions, exhausted } = findStacks(train, { unit: 'mm', parts, maxPieces: pieces, limit: 1 });
      const judged = await solveWithHighs(modelOf(train, parts, pieces));
      expect(exhausted && judged.proven).toBe(true);
      expect(solutions.length > 0, `seed ${seed}, ${size} parts`).toBe(judged.feasible);
      if (!judged.feasible) {
        infeasible++;
        continue;
      }
      const ours = Math.abs(solutions[0]!.residualMm!);
      // HiGHS keeps its rows to 1e-6; half a micrometre tells stacks apart.
      expect(Math.abs(ours - judged.residualMm), `seed ${seed}, ${size} parts`).toBeLessThan(0.0005);
      if (ours < 0.0005) exact++;
    }
    expect(exact).toBeLessThan(instances.length / 2);
    expect(infeasible).toBeGreaterThan(0);
  });
});
