import {
  HOST,
  cameraPort,
  isSeated,
  isSolid,
  lengthOf,
  nameOf,
  seatOf,
  skyPort,
  type Port,
  type SeatedElement,
  type ShimElement,
  type ThreadPort,
  type Train
} from '../train/model.ts';
import { minorDiameter, parseThread, sameDiameter, samePitch } from './thread.ts';

/** Where two neighbours meet, with the shims between them. */
export interface Joint {
  /** Element id on the sky side, or `host`. */
  skyId: string;
  /** Index in `elements` of the sky-side element; −1 for the host. */
  skyIndex: number;
  cameraId: string;
  cameraIndex: number;
  sky: Port | undefined;
  camera: Port | undefined;
  /** Shim elements that lie in the joint, sky side first. */
  shimElements: ShimElement[];
  /** Σ of all shims: elements and loose ones, mm. */
  shimsMm: number;
  /** A gap stands on either side: nothing is mated yet. */
  open: boolean;
  /** L − D of the threads, mm; 0 when the shoulders meet or a length is not known. */
  bottomingMm: number;
  /** How far the shoulders stand apart, mm. */
  openingMm: number;
  /** The opening was measured and overrides what threads and shims give. */
  stated: boolean;
  recessMm: number;
}

/** The male and the female of a threaded joint; undefined where the faces are not one of each. */
export function threadPair(
  sky: Port | undefined,
  camera: Port | undefined
): { male: ThreadPort; female: ThreadPort } | undefined {
  if (!sky || !camera || !('thread' in sky) || !('thread' in camera) || sky.gender === camera.gender) return undefined;
  return sky.gender === 'male' ? { male: sky, female: camera } : { male: camera, female: sky };
}

/** Whether two threads are known to differ, so that one never enters the other. */
function neverMeet(male: ThreadPort, female: ThreadPort): boolean {
  const [inner, outer] = [parseThread(male.thread), parseThread(female.thread)];
  return inner !== undefined && outer !== undefined && !(sameDiameter(inner, outer) && samePitch(inner, outer));
}

/**
 * By how much a male thread is longer than the female is deep, max(L − D, 0), mm.
 * 0 where either length is not known, where the female is a through bore, which has no bottom, and where the two do
 * not screw together at all: the difference of lengths that never meet is no length.
 */
export function bottoming(sky: Port | undefined, camera: Port | undefined): number {
  const pair = threadPair(sky, camera);
  if (!pair || pair.female.through) return 0;
  const { male, female } = pair;
  if (neverMeet(male, female)) return 0;
  return male.lengthMm === undefined || female.lengthMm === undefined
    ? 0
    : Math.max(male.lengthMm - female.lengthMm, 0);
}

/**
 * How far the shoulders of a joint stand apart: max(Σ shims, L − D, 0), mm. Shims and bottoming do not
 * add up: a shim at least as thick as L − D closes the gap it would leave.
 *
 * @see handbook §3, Seating (common practice, no source)
 */
export const jointOpening = (shimsMm: number, bottomingMm: number): number => Math.max(shimsMm, bottomingMm, 0);

/** Every joint of a train, from the host to the camera. Shims lie in the joint of their nearest neighbours. */
export function jointsOf(train: Train): Joint[] {
  const joints: Joint[] = [];
  let sky: SeatedElement | undefined;
  let skyIndex = -1;
  let shimElements: ShimElement[] = [];
  const { elements, host } = train;
  for (let index = 0; index < elements.length; index++) {
    const element = elements[index]!;
    if (!isSeated(element)) {
      shimElements.push(element);
      continue;
    }
    const open = element.kind === 'gap' || sky?.kind === 'gap';
    const above = sky === undefined ? host.camera : cameraPort(sky);
    const below = skyPort(element);
    const seat = seatOf(element);
    const shimsMm =
      shimElements.reduce((sum, shim) => sum + lengthOf(shim), 0) +
      (seat?.shimsMm ?? []).reduce((sum, thickness) => sum + thickness, 0);
    const bottomingMm = open ? 0 : bottoming(above, below);
    joints.push({
      skyId: sky?.id ?? HOST,
      skyIndex,
      cameraId: element.id,
      cameraIndex: index,
      sky: above,
      camera: below,
      shimElements,
      shimsMm,
      open,
      bottomingMm,
      openingMm: seat?.gapMm ?? jointOpening(shimsMm, bottomingMm),
      stated: seat?.gapMm !== undefined,
      recessMm: seat?.recessMm ?? 0
    });
    sky = element;
    skyIndex = index;
    shimElements = [];
  }
  return joints;
}

/**
 * Length of thread that holds: min(L − opening, D), also in a through bore, whose thread is as long as it is; less a plain mouth that the male has to cross first, mm;
 * undefined where the male's length is not known or the joint is not threaded. Negative: it never reaches.
 *
 * @see handbook §3, Engagement (common practice, no source)
 */
export function engagement({
  sky,
  camera,
  openingMm
}: Pick<Joint, 'sky' | 'camera' | 'openingMm'>): number | undefined {
  const pair = threadPair(sky, camera);
  if (pair?.male.lengthMm === undefined) return undefined;
  const { male, female } = pair;
  return Math.min(male.lengthMm! - openingMm, female.lengthMm ?? Infinity) - (female.reliefMm ?? 0);
}

/** Clear opening of a joint, and whether a part states it or the thread suggests it. */
export interface JointAperture {
  clearMm: number;
  from: 'stated' | 'thread';
  /** Element id, or `host`, that is the narrowest. */
  id: string;
}

/** Wall between a thread's root and the bore inside a male ring, mm (common practice, no source). */
const MALE_WALL_MM = 1.25;

/**
 * The narrowest opening of the parts that meet at a joint; where neither states one, what a male thread leaves
 * inside its root. Undefined where nothing is known.
 */
export function jointAperture(train: Train, joint: Joint): JointAperture | undefined {
  const around = [train.elements[joint.skyIndex], ...joint.shimElements, train.elements[joint.cameraIndex]];
  const stated = around.flatMap((element): JointAperture[] =>
    element && isSolid(element) && element.clearMm !== undefined
      ? [{ clearMm: element.clearMm, from: 'stated', id: element.id }]
      : []
  );
  const pair = threadPair(joint.sky, joint.camera);
  const thread = pair && parseThread(pair.male.thread);
  if (stated.length === 0 && thread) {
    const id = joint.sky === pair.male ? joint.skyId : joint.cameraId;
    return { clearMm: minorDiameter(thread) - 2 * MALE_WALL_MM, from: 'thread', id };
  }
  return stated.sort((a, b) => a.clearMm - b.clearMm)[0];
}

/** Words for the place a joint stands at: `Corrector → Guider`. */
export const jointName = (train: Train, { skyId, cameraId }: Pick<Joint, 'skyId' | 'cameraId'>): string =>
  `${nameOf(train, skyId)} → ${nameOf(train, cameraId)}`;
