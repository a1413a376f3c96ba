import { detachablesOf } from '../train/detachable.ts';
import { HOST, bareLengthOf, isSolid, type Detachable } from '../train/model.ts';
import { mm } from '../why/quantity.ts';
import { formatLength } from '../why/wording.ts';
import { atElement, type Check, type Finding } from './finding.ts';

/** Noses, tilt plates and mounts are shorter than this, mm (common practice, no source). */
const USUAL_MM = 20;

function tooLong(at: string, of: string, ownMm: number, pieces: readonly Detachable[]): Finding[] {
  return pieces.flatMap(({ name, lengthMm }): Finding[] =>
    lengthMm <= Math.max(ownMm, USUAL_MM) + 1e-9
      ? []
      : [
          {
            code: 'piece-longer',
            level: 'warning',
            place: atElement(at),
            figure: mm(lengthMm),
            limit: mm(ownMm),
            say: (unit) =>
              `${name} is ${formatLength(lengthMm, unit)}, longer than the ${formatLength(ownMm, unit)} of ${of} itself. Check both lengths.`
          }
        ]
  );
}

/** Whether what can be taken off is of a size that can be: on a host, against its own back focus where it states one. */
export const piecesCheck: Check = {
  id: 'pieces',
  title: 'What can be taken off',
  codes: ['piece-longer'],
  find: ({ train: { host, elements } }) => [
    ...tooLong(HOST, host.name, host.corrector?.backFocusMm ?? host.focalLengthMm, host.detachable ?? []),
    ...elements.flatMap((element) =>
      isSolid(element) ? tooLong(element.id, element.name, bareLengthOf(element), detachablesOf(element)) : []
    )
  ]
};
