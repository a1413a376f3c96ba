import type { BoltPort, Port, ThreadPort } from '../train/model.ts';
import { mayBeSame, sameName } from './names.ts';
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
  | 'clamp'
  | 'clamp-gender'
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
  if ('clamp' in port) return `clamp ${port.clamp} ${port.gender}`;
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
  if ('clamp' in port) return { clamp: port.clamp, gender };
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
      message: `“${unread}” has no diameter and pitch (as in M42×0.75), so it is not known whether this joint closes`
    };
  }
  if (!sameDiameter(above, below)) {
    const alike = lookalike(above, below) === 'diameter' ? '; they are easily taken for each other' : '';
    return refusal(
      'thread-diameter',
      'step ring',
      sky,
      camera,
      `${above.designation} does not fit ${below.designation}${alike}`
    );
  }
  if (!samePitch(above, below)) {
    return refusal(
      'thread-pitch',
      'pitch adapter',
      sky,
      camera,
      `${above.designation} and ${below.designation} have the same diameter, but a different pitch: it will start, then jam and damage both threads`
    );
  }
  if (sky.gender === camera.gender) {
    return refusal('thread-gender', 'gender changer', sky, camera, `${above.designation}: both ends are ${sky.gender}`);
  }
  return joins;
}

type Named = 'bayonet' | 'slip' | 'clamp';

const NAMED: Readonly<Record<Named, { words: string; mends: Adapter['name'] }>> = {
  bayonet: { words: 'bayonet', mends: 'bayonet adapter' },
  slip: { words: 'slip fit', mends: 'sleeve' },
  clamp: { words: 'clamp', mends: 'adapter' }
};

interface NamedFace {
  name: string;
  gender: 'male' | 'female';
}

function mateNamed(kind: Named, above: NamedFace, below: NamedFace, sky: Port, camera: Port): Mating {
  const { words, mends } = NAMED[kind];
  if (!sameName(above.name, below.name)) {
    const asks = mayBeSame(above.name, below.name) ? ' (is this the same? Then give both the same name)' : '';
    return refusal(kind, mends, sky, camera, `${words} ${above.name} does not fit ${below.name}${asks}`);
  }
  if (above.gender !== below.gender) return joins;
  return refusal(`${kind}-gender`, mends, sky, camera, `${words} ${above.name}: both ends are ${above.gender}`);
}

/** Bolts of one pattern find holes of another on the same circle where every one of the fewer has its counterpart. */
const boltsMeet = (a: BoltPort['bolts'], b: BoltPort['bolts']): boolean =>
  micrometres(a.circleMm) === micrometres(b.circleMm) && Math.max(a.count, b.count) % Math.min(a.count, b.count) === 0;

/**
 * Whether two faces join: same thread, bayonet, size or clamp, opposite gender; bolts of the same circle, where the
 * fewer find their counterparts among the more. The same two faces give the same answer whichever is on the sky side.
 *
 * @param sky camera face of the part on the sky side
 * @param camera sky face of the part on the camera side
 * @returns where they do not, why, and the class of adapter that mends it
 */
export function mate(sky: Port, camera: Port): Mating {
  if ('thread' in sky && 'thread' in camera) return mateThreads(sky, camera);
  if ('bayonet' in sky && 'bayonet' in camera) {
    return mateNamed('bayonet', { ...sky, name: sky.bayonet }, { ...camera, name: camera.bayonet }, sky, camera);
  }
  if ('slip' in sky && 'slip' in camera) {
    return mateNamed('slip', { ...sky, name: sky.slip }, { ...camera, name: camera.slip }, sky, camera);
  }
  if ('clamp' in sky && 'clamp' in camera) {
    return mateNamed('clamp', { ...sky, name: sky.clamp }, { ...camera, name: camera.clamp }, sky, camera);
  }
  if ('bolts' in sky && 'bolts' in camera) {
    return boltsMeet(sky.bolts, camera.bolts)
      ? joins
      : refusal('bolts', 'bolt plate', sky, camera, `${portInWords(sky)} does not meet ${portInWords(camera)}`);
  }
  const bayonet = 'bayonet' in sky || 'bayonet' in camera;
  return refusal(
    'port-kind',
    bayonet ? 'bayonet adapter' : 'adapter',
    sky,
    camera,
    `${portInWords(sky)} does not fit ${portInWords(camera)}`
  );
}

/** Whether two faces are known, and known to join. */
export const facesJoin = (sky: Port | undefined, camera: Port | undefined): boolean =>
  sky !== undefined && camera !== undefined && mate(sky, camera).joins === true;

/** Whether two faces are the same to whatever they meet. */
export const facesAlike = (a: Port | undefined, b: Port): boolean => facesJoin(a, counterpart(b));
