import { formatLength } from '../why/wording.ts';
import { atElement, type Check } from './finding.ts';
import type { GroupFault } from '../length/groups.ts';
import { withinTolerance } from '../length/tolerance.ts';
import { nameOf } from '../train/model.ts';

/** Places that nothing stands in yet. */
export const openGaps: Check = {
  id: 'open-gaps',
  title: 'Open places',
  fine: () => 'No place is left open.',
  stage: 'build',
  codes: ['open'],
  find: ({ train, ledger: { residualMm, required } }) => {
    const isFilled =
      residualMm !== null && required.toleranceMm !== null && withinTolerance(residualMm, required.toleranceMm);
    return train.elements
      .filter(({ kind }) => kind === 'gap')
      .map(({ id, name }) => ({
        code: 'open',
        level: 'warning',
        place: atElement(id),
        say: () =>
          isFilled
            ? `${name}: nothing is missing there any more; counted as 0 mm.`
            : `${name}: still empty; counted as 0 mm.`,
        proposals: () =>
          isFilled
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
  gone: 'one of its ends no longer stands in the train',
  changed: 'what stands between its ends has changed since',
  'over-gap': 'something is still to be put between its ends',
  'over-datum': 'the back focus is counted from a part inside it',
  overlaps: 'it overlaps another one'
};

/** Measurements over several parts that do not hold any more. */
export const groupsLeft: Check = {
  id: 'groups-left',
  title: 'Measured together',
  stage: 'build',
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
