import { refreshedPart, type Part } from '../drawer/part.ts';
import { isSolid, type Train } from '../train/model.ts';
import { sameJson } from '../train/sameJson.ts';
import { atElement, type Finding } from './finding.ts';

/** Codes of findings that are made of a train and a drawer together. */
export const SNAPSHOT_CODES = ['snapshot-outdated'] as const;

/**
 * Elements whose copy of a part differs from what the drawer says of it now.
 *
 * @param partOf part of the drawer by its number; undefined where there is none
 */
export function snapshotFindings(train: Train, partOf: (partId: string) => Part | undefined): Finding[] {
  return train.elements.flatMap((element): Finding[] => {
    const part = isSolid(element) && element.partId !== undefined ? partOf(element.partId) : undefined;
    const refreshed = part && refreshedPart(element, part);
    if (!refreshed || sameJson(refreshed, element)) return [];
    return [
      {
        code: 'snapshot-outdated',
        level: 'warning',
        place: atElement(element.id),
        say: () => `${element.name}: ${part.partId} differs between the drawer and this train.`,
        proposals: () => [
          {
            action: () => 'Bring it up to date',
            sentence: () => `Use the drawer’s values of ${part.partId}.`,
            operation: { op: 'replace', id: element.id, element: refreshed },
            reveals: true
          }
        ]
      }
    ];
  });
}
