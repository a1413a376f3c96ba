import type { Adjust } from '../train/model.ts';
import { toUnits } from '../units.ts';

/** An adjustable length, in units. Its marks begin at the lower end stop; the upper one can be set as well. */
export interface Dial {
  min: number;
  max: number;
  /** Marked step; 0 where any setting will do. */
  step: number;
}

export const dialOf = ({ minMm, maxMm, stepMm }: Pick<Adjust, 'minMm' | 'maxMm' | 'stepMm'>): Dial => ({
  min: toUnits(minMm),
  max: toUnits(maxMm),
  step: stepMm === undefined ? 0 : Math.max(1, toUnits(stepMm))
});

/** The setting nearest to `wanted` that a dial has: one of its marks, or an end stop. */
export function nearestSetting({ min, max, step }: Dial, wanted: number): number {
  const inside = Math.min(max, Math.max(min, wanted));
  if (step === 0) return inside;
  const mark = Math.min(max, min + Math.round((inside - min) / step) * step);
  return Math.abs(max - inside) < Math.abs(mark - inside) ? max : mark;
}

/** A dial that may only be set between two lengths; undefined where none of its settings lies there. */
export function narrowed(dial: Dial, from: number, to: number): Dial | undefined {
  if (from <= dial.min && to >= dial.max) return dial;
  if (dial.step === 0) {
    const [min, max] = [Math.max(dial.min, from), Math.min(dial.max, to)];
    return min <= max ? { min, max, step: 0 } : undefined;
  }
  const low = from <= dial.min ? dial.min : dial.min + Math.ceil((from - dial.min) / dial.step) * dial.step;
  if (to >= dial.max)
    return low <= dial.max ? { ...dial, min: low } : from <= dial.max ? { ...dial, min: dial.max } : undefined;
  const high = dial.min + Math.floor((to - dial.min) / dial.step) * dial.step;
  return low <= high ? { min: low, max: high, step: dial.step } : undefined;
}

/** A dial with more settings than this turns as good as freely. */
const MOST_SETTINGS = 2000;

const turnsFreely = ({ min, max, step }: Dial): boolean => step === 0 || (max - min) / step > MOST_SETTINGS;

/** Every setting of a dial with a step. */
function settings({ min, max, step }: Dial): number[] {
  const found = new Set<number>([min, max]);
  for (let at = min; at <= max; at += step) found.add(at);
  return [...found].sort((a, b) => a - b);
}

/** Settings spread over the whole travel of a dial that turns freely, on its steps where it has some. */
function sampled(dial: Dial): number[] {
  const { min, max } = dial;
  return Array.from({ length: 101 }, (_, part) => nearestSetting(dial, min + ((max - min) * part) / 100));
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

/** Dials that together may only add so much: those that stand in one gap with limits. In units. */
export interface DialLimit {
  /** Indices of the dials. */
  dials: readonly number[];
  min: number;
  max: number;
}

/** Distance of settings from the middle of their travel, as a share of it, squared and added up. */
export const strain = (dials: readonly Dial[], set: readonly number[]): number =>
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
    set[index] = nearestSetting(dial, middle(dial) + share);
    left -= set[index]!;
  });
  return { set, miss: -left };
}

/** A dial as its limits leave it, once those that are set already have taken their part. */
function allowed(
  dials: readonly Dial[],
  index: number,
  limits: readonly DialLimit[],
  set: readonly number[],
  settled: ReadonlySet<number>
): Dial | undefined {
  let dial: Dial | undefined = dials[index]!;
  for (const { dials: together, min, max } of limits) {
    if (!dial || !together.includes(index)) continue;
    let taken = 0;
    let least = 0;
    let most = 0;
    for (const other of together) {
      if (other === index) continue;
      if (settled.has(other)) taken += set[other]!;
      else {
        least += dials[other]!.min;
        most += dials[other]!.max;
      }
    }
    dial = narrowed(dial, min - taken - most, max - taken - least);
  }
  return dial;
}

/**
 * Sets dials so that they add `wanted` between them as nearly as they can, in whole micrometres; of equals, as near
 * to the middle of their travel as they can.
 *
 * @param limits what dials that stand in one gap may add together
 * @returns undefined where the limits leave no setting
 */
export function settleWithin(
  dials: readonly Dial[],
  wanted: number,
  limits: readonly DialLimit[]
): Settled | undefined {
  if (dials.length === 0) return { set: [], miss: -wanted };
  let best: Settled | undefined;
  let bestStrain = Infinity;
  /** The last dial takes what the others leave: the one of finest step. */
  const fineness = (index: number): number => (dials[index]!.step === 0 ? -1 : dials[index]!.step);
  const order = dials.map((_dial, index) => index).sort((a, b) => fineness(b) - fineness(a));
  const choicesOf = (dial: Dial): number[] => (turnsFreely(dial) ? sampled(dial) : settings(dial));
  const ways = order.slice(0, -1).reduce((product, index) => product * choicesOf(dials[index]!).length, 1);
  if (ways > MOST_WAYS && limits.length === 0) return spread(dials, order, wanted);
  const set: number[] = dials.map(({ min }) => min);
  const settled = new Set<number>();
  let left = MOST_WAYS;
  const setNext = (at: number, rest: number): void => {
    const index = order[at]!;
    const dial = limits.length === 0 ? dials[index]! : allowed(dials, index, limits, set, settled);
    if (!dial || left < 0) return;
    if (at === order.length - 1) {
      left--;
      set[index] = nearestSetting(dial, rest);
      const miss = set[index] - rest;
      const size = Math.round(Math.abs(miss) / 10);
      const bestSize = best ? Math.round(Math.abs(best.miss) / 10) : Infinity;
      const strained = strain(dials, set);
      if (size < bestSize || (size === bestSize && strained < bestStrain)) {
        best = { set: [...set], miss };
        bestStrain = strained;
      }
      return;
    }
    settled.add(index);
    for (const choice of choicesOf(dial)) {
      set[index] = choice;
      setNext(at + 1, rest - choice);
    }
    settled.delete(index);
  };
  setNext(0, wanted);
  return best;
}

/** The same for dials that no gap limits. */
export const settle = (dials: readonly Dial[], wanted: number): Settled => settleWithin(dials, wanted, [])!;
