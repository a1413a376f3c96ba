import { cablesOf } from '../train/model.ts';
import { mm } from '../why/quantity.ts';
import { formatLength } from '../why/wording.ts';
import { atElement, type Check, type Finding } from './finding.ts';

/** Whether every cable reaches at the worst pointing (handbook §8). */
export const cablesCheck: Check = {
  id: 'cables',
  title: 'Cables',
  codes: ['cable'],
  find: ({ train }) =>
    cablesOf(train).flatMap(({ at, of, cable: { name, reachMm, neededMm } }): Finding[] => {
      if (reachMm === undefined || neededMm === undefined) return [];
      const short = neededMm - reachMm;
      return [
        {
          code: 'cable',
          title: `${name}, to ${of}`,
          level: short > 0 ? 'warning' : 'passed',
          place: atElement(at),
          figure: mm(reachMm),
          limit: mm(neededMm),
          badness: short,
          say: (unit) => {
            const digits = unit === 'mm' ? 0 : 1;
            return short > 0
              ? `${name} is ${formatLength(short, unit, digits)} too short where the telescope points worst: it pulls on ${of}.`
              : `${name} reaches everywhere, with ${formatLength(-short, unit, digits)} to spare.`;
          }
        }
      ];
    })
};
