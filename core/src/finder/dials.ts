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

/** A dial with more settings than this turns as good as freely. */
const MOST_SETTINGS = 2000;

const turnsFreely = ({ min, max, step }: Dial): boolean => step === 0 || (max - min) / step > MOST_SETTINGS;

/** Every setting of a dial with a step. */
function settings({ min, max, step }: Dial): number[] {
  const found = new Set<number>([min, max]);
  for (let at = Math.ceil(min / step) * step; at <= max; at += step) found.add(at);
  return [...found].sort((a, b) => a - b);
}

/** Settings spread over the whole travel of a dial that turns freely, on its steps where it has some. */
function sampled(dial: Dial): number[] {
  const { min, max } = dial;
  return Array.from({ length: 101 }, (_, part) => nearest(dial, min + ((max - min) * part) / 100));
}

/** More separate sums than this are taken for one stretch; what comes of it is reckoned exactly all the same. */
const MOST_STRETCHES = 400;

/** Stretches of length that dials can add between them, in order, apart from each other. No dial: nothing. */
export function stretchesOf(dials: readonly Dial[]): [number, number][] {
  let stretches: [number, number][] = [[0, 0]];
  for (const dial of dials) {
    const added: [number, number][] = turnsFreely(dial) ? [[dial.min, dial.max]] : settings(dial).map((at) => [at, at]);
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

/** More ways to set several dials than this are not tried one by one. */
const MOST_WAYS = 200_000;

/** Shares what is wanted out over many dials, each as far from its middle as the others; the last takes the rest. */
function spread(dials: readonly Dial[], order: readonly number[], wanted: number): Settled {
  const set: number[] = dials.map(({ min }) => min);
  const middle = ({ min, max }: Dial): number => (min + max) / 2;
  let left = wanted;
  order.forEach((index, at) => {
    const rest = order.slice(at).map((each) => dials[each]!);
    const off = left - rest.reduce((sum, dial) => sum + middle(dial), 0);
    const travel = rest.reduce((sum, { min, max }) => sum + max - min, 0);
    const dial = dials[index]!;
    const share = travel === 0 ? 0 : (off * (dial.max - dial.min)) / travel;
    set[index] = nearest(dial, middle(dial) + share);
    left -= set[index]!;
  });
  return { set, miss: -left };
}

/**
 * Sets dials so that they add `wanted` between them as nearly as they can, in whole micrometres; of equals, as near
 * to the middle of their travel as they can.
 */
export function settle(dials: readonly Dial[], wanted: number): Settled {
  if (dials.length === 0) return { set: [], miss: -wanted };
  let best: Settled | undefined;
  let bestStrain = Infinity;
  /** The last dial takes what the others leave: the one of finest step. */
  const fineness = (index: number): number => (dials[index]!.step === 0 ? -1 : dials[index]!.step);
  const order = dials.map((_dial, index) => index).sort((a, b) => fineness(b) - fineness(a));
  const choicesOf = (dial: Dial): number[] => (turnsFreely(dial) ? sampled(dial) : settings(dial));
  const known = order.slice(0, -1).map((index) => choicesOf(dials[index]!));
  if (known.reduce((ways, choices) => ways * choices.length, 1) > MOST_WAYS) return spread(dials, order, wanted);
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
    for (const choice of known[at]!) {
      set[index] = choice;
      try_(at + 1, left - choice);
    }
  };
  try_(0, wanted);
  return best!;
}
