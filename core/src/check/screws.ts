import { screwCircle, type Precedence } from '../joint/hidden.ts';
import type { Joint } from '../joint/joints.ts';
import { nameOf, type Train } from '../train/model.ts';
import { listed } from '../why/wording.ts';
import { atElement, type Check, type Finding } from './finding.ts';

/** Screws that wait for each other: where the first of them is said, and all in words, or undefined. */
export function screwFault(
  train: Train,
  joints: readonly Joint[]
): { at: NonNullable<Precedence['because']>; words: string } | undefined {
  const reasons = screwCircle(train, joints)?.flatMap(({ because }) => because ?? []);
  const [at] = reasons ?? [];
  if (!reasons || !at) return undefined;
  const named = reasons.map(
    ({ id, hiddenBy }) => `the screws at ${nameOf(train, id)} (covered by ${nameOf(train, hiddenBy)})`
  );
  return { at, words: `${listed(named)} wait for each other` };
}

/** Whether there is an order in which every screw can be reached before something covers it. */
export const screws: Check = {
  id: 'screws',
  title: 'Screws',
  codes: ['screw-circle'],
  find: ({ train, joints }): Finding[] => {
    const fault = screwFault(train, joints);
    if (!fault) return [];
    return [
      {
        code: 'screw-circle',
        level: 'error',
        place: atElement(fault.at.id),
        say: () => `No order of assembly reaches every screw: ${fault.words}. Correct what covers which.`
      }
    ];
  }
};
