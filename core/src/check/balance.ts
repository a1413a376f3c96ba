import { balanceOf } from '../load/balance.ts';
import { mm } from '../why/quantity.ts';
import { formatLength } from '../why/wording.ts';
import type { Check } from './finding.ts';
import { onceFilled } from './onceFilled.ts';

/** A tube is balanced by hand to about this, mm (common practice, no source). */
const GOOD_ENOUGH_MM = 3;

/** Whether the tube is in balance with this train on it, and what brings it there (handbook §7). */
export const balanceCheck: Check = {
  id: 'balance',
  title: 'Balance',
  codes: ['balance'],
  find: (facts) => {
    const { train, load } = facts;
    const balance = balanceOf(train.host, load);
    if (!balance) return [];
    const { slideMm, canSlide, counterweightMm, massG, unweighed } = balance;
    const isBalanced = Math.abs(slideMm) <= GOOD_ENOUGH_MM;
    const rest = unweighed === 0 ? '' : ` ${unweighed} of its parts are not weighed.`;
    return onceFilled(facts, [
      {
        code: 'balance',
        level: unweighed > 0 ? 'not-known' : isBalanced ? 'passed' : 'warning',
        place: { kind: 'host' },
        figure: mm(slideMm),
        limit: mm(GOOD_ENOUGH_MM),
        badness: Math.abs(slideMm),
        say: (unit) => {
          const far = formatLength(Math.abs(slideMm), unit, unit === 'mm' ? 0 : 2);
          const way = slideMm > 0 ? 'toward the sky' : 'toward the camera';
          const heavy = slideMm > 0 ? 'camera' : 'sky';
          const declination = isBalanced
            ? 'The tube is in balance about the declination axis.'
            : `The tube is heavy at the ${heavy} end: slide it ${far} ${way}${canSlide === false ? ', farther than its saddle allows, or hang a weight on the other end' : ''}.`;
          const polar =
            counterweightMm === null
              ? ''
              : ` With ${(massG / 1000).toFixed(2)} kg on it the counterweight goes ${formatLength(counterweightMm, unit, unit === 'mm' ? 0 : 2)} from the polar axis.`;
          return `${declination}${polar}${rest}`;
        }
      }
    ]);
  }
};
