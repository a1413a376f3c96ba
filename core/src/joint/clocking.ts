import { isBody, seatOf, type Port, type Train } from '../train/model.ts';
import { jointsOf, type Joint } from './joints.ts';
import { threadPair } from './seating.ts';

/** What decides how a joint's camera side stands turned against its sky side. */
export type Holds = 'thread' | 'lock-ring' | 'union' | 'bolts' | 'bayonet' | 'slip' | 'clamp';

/** An angle of rotation about the axis, degrees, anticlockwise seen from the camera. */
export interface Clocking {
  /** In [0, 360). */
  deg: number;
  /** A thread start, or what holds a joint, is not known and was taken as 0. */
  assumed: boolean;
}

export const fullTurn = (deg: number): number => {
  const turned = deg % 360;
  return turned < 0 ? turned + 360 : turned + 0;
};

/**
 * How far an opening unscrews the camera side: 360°·s/P, anticlockwise seen from the camera for a right-hand
 * thread, mod 360. 0.1 mm on a 0.75 mm pitch is 48°.
 *
 * @param openingMm distance of the shoulders, mm, ≥ 0
 * @param pitchMm thread pitch, mm, > 0
 * @see handbook §3, Clocking (a calculation)
 */
export const unscrewedDeg = (openingMm: number, pitchMm: number): number => fullTurn((360 * openingMm) / pitchMm);

/** What lets or keeps the camera side of a joint from turning; undefined where that is not known. */
export function holdsBy(sky: Port | undefined, camera: Port | undefined): Holds | undefined {
  const port = sky ?? camera;
  if (!port) return undefined;
  if ('bolts' in port) return 'bolts';
  if ('bayonet' in port) return 'bayonet';
  if ('slip' in port) return 'slip';
  if ('clamp' in port) return 'clamp';
  const pair = threadPair(sky, camera);
  if (pair?.male.union || pair?.female.union) return 'union';
  return pair?.male.lockRing ? 'lock-ring' : 'thread';
}

/** How far the camera side of one joint stands turned against its sky side. */
function jointClocking(joint: Joint, rotationDeg: number | undefined): Clocking {
  const { sky, camera, openingMm } = joint;
  switch (holdsBy(sky, camera)) {
    case 'thread': {
      const start = (port: Port | undefined) => (port && 'thread' in port ? port.startDeg : undefined);
      const pitch = joint.pair?.thread?.pitchMm;
      const unscrewed = pitch === undefined ? 0 : unscrewedDeg(openingMm, pitch);
      return {
        deg: fullTurn((start(sky) ?? 0) - (start(camera) ?? 0) + unscrewed),
        assumed: start(sky) === undefined || start(camera) === undefined || pitch === undefined
      };
    }
    case 'bayonet':
      return { deg: 0, assumed: false };
    case 'bolts':
    case 'slip':
    case 'clamp':
    case 'union':
    case 'lock-ring':
      return { deg: fullTurn(rotationDeg ?? 0), assumed: rotationDeg === undefined };
    case undefined:
      return { deg: 0, assumed: true };
  }
}

/**
 * How every element of a train stands turned against the host's mark: thread starts, what openings unscrew,
 * bolt positions and rotators added up from the host on. A thread start cannot be known from its drawing; until
 * the owner has set `startDeg`, the angle is relative and `assumed` says so.
 *
 * @returns by element id; shims and gaps have no entry, and what comes after a gap starts again, assumed
 */
export function clockingsOf(train: Train, joints: readonly Joint[] = jointsOf(train)): Map<string, Clocking> {
  const found = new Map<string, Clocking>();
  let deg = 0;
  let assumed = false;
  for (const joint of joints) {
    const element = train.elements[joint.cameraIndex]!;
    if (element.kind === 'gap') {
      assumed = true;
      continue;
    }
    if (!joint.open) {
      const here = jointClocking(joint, seatOf(element)?.rotationDeg);
      deg = fullTurn(deg + here.deg);
      assumed ||= here.assumed;
    }
    found.set(element.id, { deg, assumed });
    if (isBody(element) && element.rotatorDeg !== undefined) deg = fullTurn(deg + element.rotatorDeg);
  }
  return found;
}

/** Positions a bolted joint has: those of the pattern with more holes; undefined where nothing is bolted. */
export function boltPositions(sky: Port | undefined, camera: Port | undefined): number | undefined {
  const counts = [sky, camera].flatMap((port) => (port && 'bolts' in port ? [port.bolts.count] : []));
  return counts.length === 0 ? undefined : Math.max(...counts);
}

/** Angles a bolt circle allows, degrees: multiples of 360°/n. */
export const boltStepDeg = (count: number): number => 360 / count;

/** Whether an angle falls on a step of a bolt circle, to a twentieth of a degree. */
export function onBoltStep(deg: number, count: number): boolean {
  const step = boltStepDeg(count);
  const off = Math.abs(deg - Math.round(deg / step) * step);
  return off < 0.05;
}
