import type { Adjust } from '../train/model.ts';
import { toUnits } from './units.ts';

/** An adjustable length, in units. */
export interface Dial {
  min: number;
  max: number;
  /** Marked step; 0 where any setting will do. */
  step: number;
}

export const dialOf = ({ minMm, maxMm, stepMm }: Adjust): Dial => ({
  min: toUnits(minMm),
  max: toUnits(maxMm),
  step: stepMm === undefined ? 0 : Math.max(1, toUnits(stepMm))
});

/** The setting nearest to `wanted` that a dial has: to its step, then into its range, as a check reckons it. */
const nearest = ({ min, max, step }: Dial, wanted: number): number =>
  Math.min(max, Math.max(min, step === 0 ? wanted : Math.round(wanted / step) * step));

/** Every setting of a dial with a step. */
function settings({ min, max, step }: Dial): number[] {
  const found = new Set<number>([min, max]);
  for (let at = Math.ceil(min / step) * step; at <= max; at += step) found.add(at);
  return [...found].sort((a, b) => a - b);
}

/** More separate sums than this are taken for one stretch; what comes of it is reckoned exactly all the same. */
const MOST_STRETCHES = 400;

/** Stretches of length that dials can add between them, in order, apart from each other. No dial: nothing. */
export function stretchesOf(dials: readonly Dial[]): [number, number][] {
  let stretches: [number, number][] = [[0, 0]];
  for (const dial of dials) {
    const added: [number, number][] = dial.step === 0 ? [[dial.min, dial.max]] : settings(dial).map((at) => [at, at]);
    const sums = stretches
      .flatMap(([from, to]) => added.map(([low, high]): [number, number] => [from + low, to + high]))
      .sort(([a], [b]) => a - b);
    stretches = [];
    for (const [from, to] of sums) {
      const last = stretches.at(-1);
      if (last && from <= last[1]) last[1] = Math.max(last[1], to);
      else stretches.push([from, to]);
    }
    if (stretches.length > MOST_STRETCHES) stretches = [[stretches[0]![0], stretches.at(-1)![1]]];
  }
  return stretches;
}

/** How dials are set, and by how much they still miss, in units: positive too long. */
export interface Settled {
  set: number[];
  miss: number;
}

/** Distance of settings from the middle of their travel, as a share of it, squared and added up. */
const strain = (dials: readonly Dial[], set: readonly number[]): number =>
  dials.reduce((sum, { min, max }, index) => {
    const half = (max - min) / 2;
    return half === 0 ? sum : sum + ((set[index]! - (min + max) / 2) / half) ** 2;
  }, 0);

/**
 * Sets dials so that they add `wanted` between them as nearly as they can, in whole micrometres; of equals, as near
 * to the middle of their travel as they can.
 */
export function settle(dials: readonly Dial[], wanted: number): Settled {
  if (dials.length === 0) return { set: [], miss: -wanted };
  let best: Settled | undefined;
  let bestStrain = Infinity;
  /** The last dial takes what the others leave; it is one without a step where there is one. */
  const order = dials
    .map((_dial, index) => index)
    .sort((a, b) => Number(dials[a]!.step === 0) - Number(dials[b]!.step === 0));
  const set: number[] = dials.map(({ min }) => min);
  const try_ = (at: number, left: number): void => {
    const index = order[at]!;
    const dial = dials[index]!;
    if (at === order.length - 1) {
      set[index] = nearest(dial, left);
      const miss = set[index] - left;
      const size = Math.round(Math.abs(miss) / 10);
      const bestSize = best ? Math.round(Math.abs(best.miss) / 10) : Infinity;
      const strained = strain(dials, set);
      if (size < bestSize || (size === bestSize && strained < bestStrain)) {
        best = { set: [...set], miss };
        bestStrain = strained;
      }
      return;
    }
    // A dial without a step next to another one: a hundred settings show where the middle is.
    const { min, max, step } = dial;
    const choices =
      step === 0 ? Array.from({ length: 101 }, (_, part) => min + ((max - min) * part) / 100) : settings(dial);
    for (const choice of choices) {
      set[index] = choice;
      try_(at + 1, left - choice);
    }
  };
  try_(0, wanted);
  return best!;
}
