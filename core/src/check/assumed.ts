import { ASSUMED_CALIPER_MM, ASSUMED_SHIM_MM, ASSUMED_TOLERANCE_MM } from '../doubt/doubts.ts';
import { findElement, isShim, isSolid, nameOf, type Train } from '../train/model.ts';
import { mm } from '../why/quantity.ts';
import { formatLength, listed, type LengthUnit } from '../why/wording.ts';
import { atElement, type Check, type Finding } from './finding.ts';

/** Names for a sentence, the rest counted where there are many. */
function namesOf(names: readonly string[]): string {
  const shown = names.length > 4 ? [...names.slice(0, 3), `${names.length - 3} more`] : names;
  return listed(shown);
}

function lines(train: Train, ids: readonly string[], unit: LengthUnit): string {
  const measured = (id: string): boolean => {
    const element = findElement(train, id);
    return element !== undefined && isSolid(element) && element.measured !== undefined;
  };
  const shim = (id: string): boolean => {
    const element = findElement(train, id);
    return element !== undefined && isShim(element);
  };
  const groups: [string[], number, string][] = [
    [ids.filter((id) => !measured(id) && !shim(id)), ASSUMED_TOLERANCE_MM, 'tolerance not stated'],
    [ids.filter((id) => !measured(id) && shim(id)), ASSUMED_SHIM_MM, 'shims without a tolerance'],
    [ids.filter(measured), ASSUMED_CALIPER_MM, 'measured with ordinary calipers, uncertainty not stated']
  ];
  return groups
    .filter(([each]) => each.length > 0)
    .map(
      ([each, half, why]) =>
        `±${formatLength(half, unit)} assumed for ${namesOf(each.map((id) => nameOf(train, id)))} (${why})`
    )
    .join('; ');
}

/** What is taken for granted about how well lengths are known: one line for all. */
export const assumed: Check = {
  id: 'assumed',
  stage: 'build',
  codes: ['tolerance-assumed', 'tolerance-rule-of-thumb'],
  find: ({ train, ledger, doubts }) => {
    const found: Finding[] = [];
    const ids = [...new Set(doubts.filter(({ kind }) => kind === 'assumed').map(({ id }) => id))];
    if (ids.length > 0) {
      found.push({
        code: 'tolerance-assumed',
        level: 'assumed',
        place: atElement(ids[0]!),
        badness: ids.length,
        say: (unit) => `${lines(train, ids, unit)}.`
      });
    }
    if (ledger.toleranceSource === 'rule') {
      const toleranceMm = ledger.required.toleranceMm ?? 0;
      found.push({
        code: 'tolerance-rule-of-thumb',
        level: 'assumed',
        place: atElement(ledger.datum.id),
        figure: mm(toleranceMm),
        why: 'length.tolerance',
        say: (unit) =>
          `No tolerance is stated for the back focus; ±${formatLength(toleranceMm, unit)} is a rule of thumb for f/${ledger.focalRatio.toFixed(1)} and this sensor.`
      });
    }
    return found;
  }
};
