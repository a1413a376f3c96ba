import { assumed, facesAssumed } from './assumed.ts';
import { backFocus, infinity } from './backFocus.ts';
import { balanceCheck } from './balance.ts';
import { cablesCheck } from './cables.ts';
import { engagementCheck } from './engagement.ts';
import type { Facts } from './facts.ts';
import { flanges } from './flanges.ts';
import { field, infrared } from './field.ts';
import { figuresCheck } from './figures.ts';
import { filtersCheck } from './filters.ts';
import type { Check, Finding, Level } from './finding.ts';
import { guideCheck } from './guide.ts';
import { lightCheck } from './light.ts';
import { groupsLeft, openGaps } from './gaps.ts';
import { loadCheck } from './load.ts';
import { glass } from './glass.ts';
import { glassReach } from './glassReach.ts';
import { length } from './length.ts';
import { mating } from './mating.ts';
import { focuserBehind, partOrder } from './partOrder.ts';
import { piecesCheck } from './pieces.ts';
import { reachesFocus } from './reachesFocus.ts';
import { sagCheck } from './sag.ts';
import { screws } from './screws.ts';
import { seat } from './seat.ts';
import { turning } from './turning.ts';
import { uncertain } from './uncertain.ts';

/** Every question that is asked of a train, in the order its answers are told. */
export const CHECKS: readonly Check[] = [
  length,
  uncertain,
  field,
  mating,
  flanges,
  engagementCheck,
  glassReach,
  seat,
  screws,
  turning,
  backFocus,
  figuresCheck,
  infinity,
  reachesFocus,
  partOrder,
  focuserBehind,
  infrared,
  lightCheck,
  guideCheck,
  loadCheck,
  sagCheck,
  balanceCheck,
  cablesCheck,
  piecesCheck,
  filtersCheck,
  glass,
  groupsLeft,
  openGaps,
  facesAssumed,
  assumed
];

/** Worst first. */
export const RANK: Readonly<Record<Level, number>> = {
  error: 0,
  warning: 1,
  'not-known': 2,
  assumed: 3,
  passed: 4
};

/** Everything worth telling about a train, worst first, each level in the order of the checks. */
export function findingsOf(facts: Facts): Finding[] {
  const found: Finding[] = [];
  for (const check of CHECKS) for (const finding of check.find(facts)) found.push(finding);
  return found.sort((a, b) => RANK[a.level] - RANK[b.level]);
}
