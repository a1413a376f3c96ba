import { narrowings } from '../doubt/narrow.ts';
import { doubtName } from '../doubt/explain.ts';
import { chanceWithin, chanceWithinInWords } from '../doubt/uncertainty.ts';
import { mm } from '../why/quantity.ts';
import { formatTolerance } from '../why/wording.ts';
import { atElement, type Check } from './finding.ts';

/** How well the length is known, and which reading would tell most of it (handbook §8). */
export const uncertain: Check = {
  id: 'uncertain',
  title: 'How well it is known',
  codes: ['uncertain'],
  find: (facts) => {
    const { train, ledger } = facts;
    const { residualMm, required, datum } = ledger;
    const { toleranceMm } = required;
    if (residualMm === null || toleranceMm === null) return [];
    const say = (unit: 'mm' | 'in'): string => {
      const { spread } = facts;
      const chance = chanceWithin(spread, residualMm, toleranceMm);
      const [best] = narrowings(facts.doubts);
      const next = best
        ? ` Measure ${best.of === 'thread' ? 'the ' : ''}${doubtName(train, best)} next: ${(best.share * 100).toFixed(0)} % of what is not known, and ±${formatTolerance(best.halfWidth95Mm, unit)} is left.`
        : ' Every part is measured as well as calipers can.';
      return `The length is known to ±${formatTolerance(spread.halfWidth95Mm, unit)} (95 %); ${facts.hasEmptyPlace ? 'how likely it is within tolerance is not known while a gap is empty' : `it is ${chanceWithinInWords(chance ?? 0, facts.assumed)}`}.${next}`;
    };
    return [
      {
        code: 'uncertain',
        level: 'passed',
        place: atElement(datum.id),
        // A whole convolution: only where it is shown.
        get figure() {
          return mm(facts.spread.halfWidth95Mm);
        },
        limit: mm(toleranceMm),
        why: 'doubt.interval',
        say
      }
    ];
  }
};
