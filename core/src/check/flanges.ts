import { T_MOUNT_MM, flangeOf } from '../joint/flange.ts';
import { cameraPort, isBody, isCamera, lengthOf, nameOf, skyPort, HOST, type Train } from '../train/model.ts';
import { hostPort, takenOffMm } from '../train/detachable.ts';
import { parseThread } from '../joint/thread.ts';
import { mm } from '../why/quantity.ts';
import { formatLength, type LengthUnit } from '../why/wording.ts';
import { atElement, type Check, type Finding } from './finding.ts';

const T_THREAD = 'M42×0.75';

/** Adapters are made a little shorter on purpose; more than this is another figure, mm (common practice, no source). */
const SLACK_MM = 0.3;

/** A length that follows from the bayonets of a part, and why. */
interface Expected {
  id: string;
  isMm: number;
  shouldBeMm: number;
  why: (unit: LengthUnit) => string;
}

const ofItsBayonet =
  (flangeMm: number) =>
  (unit: LengthUnit): string =>
    `its bayonet is ${formatLength(flangeMm, unit)} from the sensor`;

function expectedOf({ host, elements }: Train): Expected[] {
  const found: Expected[] = [];
  const lens = flangeOf(hostPort(host));
  const backFocusMm = host.corrector?.backFocusMm;
  if (host.kind === 'camera-lens' && lens !== undefined && backFocusMm !== undefined && takenOffMm(host) === 0) {
    found.push({ id: HOST, isMm: backFocusMm, shouldBeMm: lens, why: ofItsBayonet(lens) });
  }
  for (const element of elements) {
    const [sky, camera] = [skyPort(element), cameraPort(element)];
    const [before, behind] = [flangeOf(sky), flangeOf(camera)];
    if (isCamera(element) && before !== undefined) {
      found.push({ id: element.id, isMm: lengthOf(element), shouldBeMm: before, why: ofItsBayonet(before) });
    }
    if (!isBody(element) || behind === undefined) continue;
    const isMm = lengthOf(element);
    if (before !== undefined) {
      const why = (unit: LengthUnit): string =>
        `between bayonets of ${formatLength(before, unit)} and ${formatLength(behind, unit)} an adapter is as long as they differ`;
      found.push({ id: element.id, isMm, shouldBeMm: before - behind, why });
    } else if (sky && 'thread' in sky && parseThread(sky.thread)?.designation === T_THREAD) {
      const why = (unit: LengthUnit): string =>
        `a T-ring and the ${formatLength(behind, unit)} of its bayonet come to ${formatLength(T_MOUNT_MM, unit)}`;
      found.push({ id: element.id, isMm, shouldBeMm: T_MOUNT_MM - behind, why });
    }
  }
  return found;
}

/**
 * Bayonet, flange distance and adapter agree, each part by itself: errors that cancel in one train stay with the parts.
 *
 * @see handbook §3 (common practice, no source)
 */
export const flanges: Check = {
  id: 'flanges',
  title: 'Bayonets',
  fine: ({ train }) => (expectedOf(train).length > 0 ? 'Bayonets, flange distances and adapters agree.' : undefined),
  codes: ['bayonet-flange'],
  find: ({ train }) =>
    expectedOf(train).flatMap(({ id, isMm, shouldBeMm, why }): Finding[] => {
      const offMm = Math.abs(isMm - shouldBeMm);
      if (offMm <= SLACK_MM) return [];
      return [
        {
          code: 'bayonet-flange',
          level: 'warning',
          place: atElement(id),
          figure: mm(isMm),
          limit: mm(shouldBeMm),
          badness: offMm,
          say: (unit) => {
            const figure = id === HOST ? 'a back focus' : 'a length';
            return `${nameOf(train, id)} has ${figure} of ${formatLength(isMm, unit)}, but ${why(unit)}: ${formatLength(shouldBeMm, unit)} is expected. Check the bayonet or measure the part.`;
          }
        }
      ];
    })
};
