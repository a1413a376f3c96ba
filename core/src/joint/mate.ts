import type { Port, ThreadPort } from '../train/model.ts';
import { parseThread } from './thread.ts';

/** Why two faces do not join. */
export type MismatchCode =
  | 'thread-diameter'
  | 'thread-pitch'
  | 'thread-gender'
  | 'bayonet'
  | 'bayonet-gender'
  | 'bolts'
  | 'slip'
  | 'slip-gender'
  | 'port-kind';

export type Mating =
  { joins: true } | { joins: 'unknown'; message: string } | { joins: false; code: MismatchCode; message: string };

const joins: Mating = { joins: true };
const refuses = (code: MismatchCode, message: string): Mating => ({ joins: false, code, message });

/** A port as a person writes it: `M48×0.75 male 4.5`. */
export function portInWords(port: Port): string {
  if ('thread' in port) {
    const designation = parseThread(port.thread)?.designation ?? port.thread;
    return `${designation} ${port.gender}${port.lengthMm === undefined ? '' : ` ${port.lengthMm}`}`;
  }
  if ('bayonet' in port) return `bayonet ${port.bayonet} ${port.gender}`;
  if ('slip' in port) return `slip fit ${port.slip} ${port.gender}`;
  return `${port.bolts.count} bolts on ${port.bolts.circleMm}`;
}

const micrometres = (mm: number): number => Math.round(mm * 1000);

function mateThreads(sky: ThreadPort, camera: ThreadPort): Mating {
  const above = parseThread(sky.thread);
  const below = parseThread(camera.thread);
  if (!above || !below) {
    const unread = above ? camera.thread : sky.thread;
    return {
      joins: 'unknown',
      message: `“${unread}” does not say diameter and pitch (as in M42×0.75), so it is not known whether this joint closes`
    };
  }
  const samePitch = micrometres(above.pitchMm) === micrometres(below.pitchMm);
  if (micrometres(above.diameterMm) !== micrometres(below.diameterMm)) {
    return refuses(
      'thread-diameter',
      `${above.designation} does not screw to ${below.designation}: a step ring ${above.designation} to ${below.designation} is needed`
    );
  }
  if (!samePitch) {
    return refuses(
      'thread-pitch',
      `${above.designation} and ${below.designation} share a diameter but not the pitch: it would start, bind and ruin both. An adapter ${above.designation} to ${below.designation} is needed`
    );
  }
  if (sky.gender === camera.gender) {
    return refuses(
      'thread-gender',
      `${above.designation} is ${sky.gender} on both sides: a gender changer, ${sky.gender === 'male' ? 'female to female' : 'male to male'}, is needed`
    );
  }
  return joins;
}

/**
 * Whether two faces join: same thread, bayonet or size, opposite gender.
 *
 * @param sky camera face of the part on the sky side
 * @param camera sky face of the part on the camera side
 */
export function mate(sky: Port, camera: Port): Mating {
  if ('thread' in sky && 'thread' in camera) return mateThreads(sky, camera);
  if ('bayonet' in sky && 'bayonet' in camera) {
    if (sky.bayonet !== camera.bayonet) {
      return refuses('bayonet', `bayonet ${sky.bayonet} does not take ${camera.bayonet}: a bayonet adapter is needed`);
    }
    if (sky.gender === camera.gender) {
      return refuses('bayonet-gender', `bayonet ${sky.bayonet} is ${sky.gender} on both sides`);
    }
    return joins;
  }
  if ('slip' in sky && 'slip' in camera) {
    if (sky.slip !== camera.slip) {
      return refuses('slip', `a ${sky.slip} slip fit does not take ${camera.slip}: a reducing sleeve is needed`);
    }
    if (sky.gender === camera.gender) {
      return refuses('slip-gender', `the ${sky.slip} slip fit is ${sky.gender} on both sides`);
    }
    return joins;
  }
  if ('bolts' in sky && 'bolts' in camera) {
    const same =
      sky.bolts.count === camera.bolts.count && micrometres(sky.bolts.circleMm) === micrometres(camera.bolts.circleMm);
    return same ? joins : refuses('bolts', `${portInWords(sky)} does not meet ${portInWords(camera)}`);
  }
  return refuses('port-kind', `${portInWords(sky)} does not join ${portInWords(camera)}: an adapter is needed`);
}
