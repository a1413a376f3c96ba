import { tubeWays } from '../focus/tubes.ts';
import { mm } from '../why/quantity.ts';
import { formatLength, type LengthUnit } from '../why/wording.ts';
import type { Facts } from './facts.ts';
import type { Check, Finding } from './finding.ts';
import { onceFilled } from './onceFilled.ts';

/** Ways that are offered. */
const MOST_OFFERED = 3;

/** Less than this is not a figure to tell, mm: it only does not reach. */
const LEAST_SAID_MM = 0.005;

const say = (lengthMm: number, unit: LengthUnit): string => formatLength(lengthMm, unit);

/** Whether the host’s draw tube, or its mirror, brings this train to focus (handbook §10). */
export const reachesFocus: Check = {
  id: 'reaches-focus',
  title: 'Focus travel',
  codes: ['focus-no-inward', 'focus-no-outward', 'focus-reaches', 'focus-unknown', 'focus-contradicts'],
  find: (facts) => onceFilled(facts, findingsOf(facts))
};

function findingsOf(facts: Facts): Finding[] {
  const { focus, train, ledger } = facts;
  // Where nobody knows what goes into a gap, nothing is known of the focus.
  if (!focus || (ledger.residualMm === null && train.elements.some(({ kind }) => kind === 'gap'))) return [];
  const { report, contradicts, byMirror, extensionMm } = focus;
  const { verdict, travelMm } = report;
  const place = { kind: 'host' } as const;
  const part = byMirror ? 'mirror' : 'draw tube';
  if (contradicts) {
    return [
      {
        code: 'focus-contradicts',
        level: 'warning',
        place,
        say: () =>
          'The stated focus and the tries contradict each other: focus would be beyond one position and before a nearer one.'
      }
    ];
  }
  const [low, high] = extensionMm;
  if (verdict === 'no-inward' || verdict === 'no-outward') {
    const inward = verdict === 'no-inward';
    const missMm = inward ? -high : low - (travelMm ?? 0);
    return [
      {
        code: inward ? 'focus-no-inward' : 'focus-no-outward',
        level: 'warning',
        place,
        figure: mm(inward ? high : low),
        limit: mm(inward ? 0 : (travelMm ?? 0)),
        badness: missMm,
        say: (unit) =>
          inward
            ? `It does not reach focus: the ${part} would have to go ${missMm < LEAST_SAID_MM ? '' : `${say(missMm, unit)} `}farther in than it can.${ledger.required.totalMm === null ? ' Remove that much length.' : ' The parts ahead of the corrector must be shorter by that much.'}`
            : `It does not reach focus: the ${part} would have to be ${say(low, unit)} out and has ${say(travelMm ?? 0, unit)} of travel. An extension tube of ${say(missMm, unit)} to ${say(high, unit)} is needed.`,
        proposals: (parts) =>
          inward
            ? []
            : tubeWays(train, focus, parts)
                .filter((way) => way.verdict === 'reaches' && way.parts.length > 0)
                .slice(0, MOST_OFFERED)
                .map((way) => ({
                  action: () => `Put ${way.parts.map(({ partId }) => partId).join(' and ')} ahead of it`,
                  sentence: (unit) => way.say(unit),
                  operation: way.operation
                }))
      }
    ];
  }
  if (verdict === 'unknown') {
    return [
      {
        code: 'focus-unknown',
        level: 'not-known',
        place,
        fill: ['focuser'],
        say: (unit) =>
          travelMm === null
            ? `How far the ${part} of ${train.host.name} travels is not stated, so whether it reaches focus is not known.`
            : Number.isFinite(low) || Number.isFinite(high)
              ? `What was tried leaves it open whether the ${part} reaches: focus falls ${Number.isFinite(low) ? `at ${say(low, unit)} or beyond` : ''}${Number.isFinite(low) && Number.isFinite(high) ? ', and ' : ''}${Number.isFinite(high) ? `at ${say(high, unit)} at the most` : ''}, of ${say(travelMm, unit)}.`
              : `Where ${train.host.name} focuses by itself is not stated: try it, and enter the result under First light.`
      }
    ];
  }
  return [
    {
      code: 'focus-reaches',
      level: 'passed',
      place,
      figure: mm(report.extensionMm ?? low),
      limit: mm(travelMm ?? 0),
      say: (unit) =>
        `It reaches focus with the ${part} ${say(report.extensionMm ?? low, unit)} out of ${say(travelMm ?? 0, unit)}, ±${say(focus.uncertaintyMm, unit)}.`
    }
  ];
}
