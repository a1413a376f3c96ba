import { formatLength } from '../why/wording.ts';
import { atElement, type Check } from './finding.ts';
import type { GroupFault } from '../length/groups.ts';
import { withinTolerance } from '../length/tolerance.ts';
import { nameOf, type GapElement } from '../train/model.ts';

/** Places that nothing stands in yet. */
export const openGaps: Check = {
  id: 'open-gaps',
  title: 'Gaps',
  fine: () => 'No place is left open.',
  codes: ['open'],
  find: ({ train, ledger: { residualMm, required } }) => {
    const isRight =
      residualMm !== null && required.toleranceMm !== null && withinTolerance(residualMm, required.toleranceMm);
    return train.elements
      .filter((element): element is GapElement => element.kind === 'gap')
      .map(({ id, name, minMm = 0 }) => ({
        code: 'open',
        level: 'warning',
        place: atElement(id),
        say: (unit) =>
          minMm > 0
            ? `“${name}” is still empty, and has to hold at least ${formatLength(minMm, unit)}; counted as 0 mm.`
            : isRight
              ? `“${name}”: nothing is missing there any more; counted as 0 mm.`
              : `“${name}” is still empty; counted as 0 mm.`,
        proposals: () =>
          isRight && minMm === 0
            ? [
                {
                  action: () => 'Close this place',
                  sentence: () => `Close “${name}”: nothing is missing there any more.`,
                  operation: { op: 'remove', id }
                }
              ]
            : []
      }));
  }
};

const FAULT_WORDS: Readonly<Record<GroupFault, string>> = {
  gone: 'one of its ends is no longer in the train',
  changed: 'the parts between its ends have changed since',
  'no-shoulder': 'one of its ends is a shim, or a filter inside another part, and has no shoulder to measure from',
  'over-gap': 'something is still to be put between its ends',
  'over-datum': 'the back focus is counted from a part inside it',
  overlaps: 'it overlaps another one'
};

/** Measurements over several parts that do not hold any more. */
export const groupsLeft: Check = {
  id: 'groups-left',
  title: 'Measured together',
  codes: ['group-unused'],
  find: ({ train, ledger }) =>
    ledger.groups.left.map(({ group, why }) => ({
      code: 'group-unused',
      level: 'warning',
      place: train.elements.some(({ id }) => id === group.from) ? atElement(group.from) : { kind: 'host' },
      say: (unit) =>
        `${formatLength(group.lengthMm, unit)} was measured from ${nameOf(train, group.from)} to ${nameOf(train, group.to)} together, but ${FAULT_WORDS[why]}: the parts' own lengths count.`,
      proposals: () => [
        {
          action: () => 'Forget that measurement',
          sentence: () => 'Forget the measurement over several parts.',
          operation: {
            op: 'set',
            at: 'train',
            path: ['groups'],
            to: withoutGroup(train.groups ?? [], group)
          }
        }
      ]
    }))
};

function withoutGroup<G>(groups: readonly G[], gone: G): G[] | undefined {
  const kept = groups.filter((each) => each !== gone);
  return kept.length === 0 ? undefined : kept;
}
