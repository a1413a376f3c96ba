import type { Port, ThreadPort } from '../train/model.ts';
import { lookalike, parseThread, sameDiameter, samePitch } from './thread.ts';

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

/** The class of part that would join two faces which do not: its exact ports, and what the trade calls it. */
export interface Adapter {
  name: 'gender changer' | 'step ring' | 'pitch adapter' | 'bayonet adapter' | 'sleeve' | 'bolt plate' | 'adapter';
  /** Its sky face, which joins the part on the sky side. */
  sky: Port;
  /** Its camera face, which joins the part on the camera side. */
  camera: Port;
}

export type Mating =
  | { joins: true }
  | { joins: 'unknown'; message: string }
  | { joins: false; code: MismatchCode; message: string; adapter: Adapter };

const joins: Mating = { joins: true };

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

/**
 * The face that joins this one: opposite gender, and of a thread no more than it takes: a male as long as the
 * female is deep, a female as deep as the male is long.
 */
export function counterpart(port: Port): Port {
  if ('bolts' in port) return { bolts: port.bolts };
  const gender = port.gender === 'male' ? 'female' : 'male';
  if ('bayonet' in port) return { bayonet: port.bayonet, gender };
  if ('slip' in port) return { slip: port.slip, gender };
  return { thread: port.thread, gender, ...(port.lengthMm === undefined ? {} : { lengthMm: port.lengthMm }) };
}

const adapterBetween = (name: Adapter['name'], sky: Port, camera: Port): Adapter => ({
  name,
  sky: counterpart(sky),
  camera: counterpart(camera)
});

/** An adapter in words: `step ring M48×0.75 male 4 to M42×0.75 female 3`. */
export const adapterInWords = ({ name, sky, camera }: Adapter): string =>
  `${name} ${portInWords(sky)} to ${portInWords(camera)}`;

function refusal(
  code: MismatchCode,
  name: Adapter['name'],
  sky: Port,
  camera: Port,
  reason: string
): Extract<Mating, { joins: false }> {
  const adapter = adapterBetween(name, sky, camera);
  return { joins: false, code, message: `${reason}. Needed: ${adapterInWords(adapter)}`, adapter };
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
  if (!sameDiameter(above, below)) {
    const alike = lookalike(above, below) === 'diameter' ? '; they look alike' : '';
    return refusal(
      'thread-diameter',
      'step ring',
      sky,
      camera,
      `${above.designation} does not screw to ${below.designation}${alike}`
    );
  }
  if (!samePitch(above, below)) {
    return refusal(
      'thread-pitch',
      'pitch adapter',
      sky,
      camera,
      `${above.designation} and ${below.designation} look alike: same diameter, other pitch. It would start, bind and ruin both`
    );
  }
  if (sky.gender === camera.gender) {
    return refusal(
      'thread-gender',
      'gender changer',
      sky,
      camera,
      `${above.designation} is ${sky.gender} on both sides`
    );
  }
  return joins;
}

function mateNamed(
  name: string,
  other: string,
  sameGender: boolean,
  sky: Port,
  camera: Port,
  kind: 'bayonet' | 'slip'
): Mating {
  const words = kind === 'bayonet' ? 'bayonet' : 'slip fit';
  const mends = kind === 'bayonet' ? 'bayonet adapter' : 'sleeve';
  if (name !== other) return refusal(kind, mends, sky, camera, `${words} ${name} does not take ${other}`);
  if (!sameGender) return joins;
  return refusal(`${kind}-gender`, mends, sky, camera, `${words} ${name} has the same gender on both sides`);
}

/**
 * Whether two faces join: same thread, bayonet or size, opposite gender; equal bolt circles. The same two faces
 * give the same answer whichever of them is on the sky side.
 *
 * @param sky camera face of the part on the sky side
 * @param camera sky face of the part on the camera side
 * @returns where they do not, why, and the class of adapter that mends it
 */
export function mate(sky: Port, camera: Port): Mating {
  if ('thread' in sky && 'thread' in camera) return mateThreads(sky, camera);
  if ('bayonet' in sky && 'bayonet' in camera) {
    return mateNamed(sky.bayonet, camera.bayonet, sky.gender === camera.gender, sky, camera, 'bayonet');
  }
  if ('slip' in sky && 'slip' in camera) {
    return mateNamed(sky.slip, camera.slip, sky.gender === camera.gender, sky, camera, 'slip');
  }
  if ('bolts' in sky && 'bolts' in camera) {
    const same =
      sky.bolts.count === camera.bolts.count && micrometres(sky.bolts.circleMm) === micrometres(camera.bolts.circleMm);
    return same
      ? joins
      : refusal('bolts', 'bolt plate', sky, camera, `${portInWords(sky)} does not meet ${portInWords(camera)}`);
  }
  const bayonet = 'bayonet' in sky || 'bayonet' in camera;
  return refusal(
    'port-kind',
    bayonet ? 'bayonet adapter' : 'adapter',
    sky,
    camera,
    `${portInWords(sky)} does not join ${portInWords(camera)}`
  );
}
