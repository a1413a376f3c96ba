import type { LimitWithUnweighed } from '../load/load.ts';
import { nameOf, type Train } from '../train/model.ts';
import type { Quantity } from '../why/quantity.ts';
import { listedBriefly } from '../why/wording.ts';
import { atElement, type Check, type Finding } from './finding.ts';
import { onceFilled } from './onceFilled.ts';

const grams = (massKg: number): Quantity => ({ value: massKg * 1000, unit: 'g' });
const inKg = (massKg: number): string => `${massKg.toFixed(2)} kg`;

function limitFinding(train: Train, { at, massKg, maxKg, ok, unweighed }: LimitWithUnweighed): Finding {
  const name = nameOf(train, at);
  const common = {
    code: 'load',
    title: `Load on ${name}`,
    place: atElement(at),
    figure: grams(massKg),
    limit: grams(maxKg),
    why: 'load.mass'
  } as const;
  if (!ok) {
    return {
      ...common,
      level: 'warning',
      badness: massKg - maxKg,
      say: () =>
        `${name} carries ${inKg(massKg)}, and is made for ${inKg(maxKg)} at the most: it may tilt, slip or drop.`
    };
  }
  // What is weighed is light enough; what is not may be the rest.
  if (unweighed.length > 0) {
    return {
      ...common,
      level: 'not-known',
      fill: ['massG'],
      place: atElement(unweighed[0]!),
      say: () =>
        `Of what hangs on ${name}, ${inKg(massKg)} are weighed, with ${inKg(maxKg)} allowed; give the mass of ${listedBriefly(unweighed.map((id) => nameOf(train, id)))}.`
    };
  }
  return {
    ...common,
    level: 'passed',
    say: () => `${name} carries ${inKg(massKg)} of the ${inKg(maxKg)} it is made for.`
  };
}

/** Masses against the ratings of the focuser and of parts (handbook §7). */
export const loadCheck: Check = {
  id: 'load',
  title: 'Load',
  codes: ['load'],
  find: (facts) =>
    onceFilled(
      facts,
      facts.load.limits.map((limit) => limitFinding(facts.train, limit))
    )
};
