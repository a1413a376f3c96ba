import {
  HOST,
  cameraPort,
  isSeated,
  isSolid,
  lengthOf,
  nameOf,
  seatOf,
  skyPort,
  type Element,
  type Port,
  type SeatedElement,
  type ShimElement,
  type ThreadPort,
  type Train
} from '../train/model.ts';
import { facesJoin, mate, type Mating } from './mate.ts';
import { bottoming, jointOpening, sunkDepth, threadPair, type ThreadPair } from './seating.ts';
import { minorDiameter } from './thread.ts';

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
  /** Male and female of it, where it is a threaded one that is not open. */
  pair: ThreadPair | undefined;
  /** Whether its faces join; undefined where it is open or a face is not known. */
  mating: Mating | undefined;
  /** Shim elements that lie in the joint, sky side first. */
  shimElements: ShimElement[];
  /** Σ of all shims: elements and loose ones, mm. */
  shimsMm: number;
  /** A gap stands on either side: nothing is mated yet. */
  open: boolean;
  /** By how much a thread bottoms before the shoulders meet, mm; 0 when they meet or a length is not known. */
  bottomingMm: number;
  /** How far the shoulders stand apart, mm. */
  openingMm: number;
  /** The opening was measured and overrides what threads and shims give. */
  stated: boolean;
  /** How far one part sits inside the other, mm. */
  recessMm: number;
  /** What the threads say of the recess, mm; undefined where a ring sinks into a bore of unknown depth. */
  sunkMm: number | undefined;
  /** The recess is typed, and overrides what the threads say. */
  recessTyped: boolean;
  /** How far the male comes out behind a through bore, mm, and the element it comes out toward. */
  emerges: { mm: number; towardIndex: number } | undefined;
}

/** A part screwed into the inner thread of its neighbour's face: it adds no length. */
export interface Nested {
  /** Index in `elements`. */
  index: number;
  holderIndex: number;
  /** The face of the holder it is screwed into. */
  face: 'sky' | 'camera';
}

const innerThread = (port: Port | undefined): Port | undefined => (port && 'thread' in port ? port.second : undefined);

/** Filters that are screwed into a second thread of a neighbour's face: a place that adds no length (handbook §3). */
export function nestedIn({ elements }: Train): Nested[] {
  const found: Nested[] = [];
  elements.forEach((element, index) => {
    if (element.kind !== 'filter') return;
    const above = elements[index - 1];
    const below = elements[index + 1];
    if (above && facesJoin(innerThread(cameraPort(above)), element.sky) && !facesJoin(cameraPort(above), element.sky)) {
      found.push({ index, holderIndex: index - 1, face: 'camera' });
    } else if (
      below &&
      facesJoin(element.camera, innerThread(skyPort(below))) &&
      !facesJoin(element.camera, skyPort(below))
    ) {
      found.push({ index, holderIndex: index + 1, face: 'sky' });
    }
  });
  return found;
}

/** What is left of a bore behind a ring that has sunk into it. */
interface Bore {
  port: ThreadPort;
  leftMm: number;
}

/** A male that came through its bore, on the camera side of a joint: how far it stands in the part it crossed, mm. */
const crossing = ({ pair, openingMm }: Joint, into: Element | undefined): number =>
  pair?.female.through && pair.male.lengthMm !== undefined && into && isSolid(into)
    ? pair.male.lengthMm - openingMm
    : 0;

/** Every joint of a train, from the host to the camera. Shims lie in the joint of their nearest neighbours. */
export function jointsOf(train: Train): Joint[] {
  const joints: Joint[] = [];
  let sky: SeatedElement | undefined;
  let skyIndex = -1;
  let shimElements: ShimElement[] = [];
  let bore: Bore | undefined;
  const { elements, host } = train;
  const nested = new Set(nestedIn(train).map(({ index }) => index));
  for (let index = 0; index < elements.length; index++) {
    const element = elements[index]!;
    if (!isSeated(element)) {
      shimElements.push(element);
      continue;
    }
    if (nested.has(index)) continue;
    const open = element.kind === 'gap' || sky?.kind === 'gap';
    const below = skyPort(element);
    const own = sky === undefined ? host.camera : cameraPort(sky);
    // A part that does not fit the ring may well go into what the ring has left of its bore.
    const intoBore: Bore | undefined =
      bore && !open && !facesJoin(own, below) && facesJoin(bore.port, below) ? bore : undefined;
    const above: Port | undefined = intoBore ? { ...intoBore.port, lengthMm: intoBore.leftMm } : own;
    const seat = seatOf(element);
    const shimsMm =
      shimElements.reduce((sum, shim) => sum + lengthOf(shim), 0) +
      (seat?.shimsMm ?? []).reduce((sum, thickness) => sum + thickness, 0);
    const pair = open ? undefined : threadPair(above, below);
    const last = joints.at(-1);
    const bottomingMm = open ? 0 : Math.max(bottoming(pair), meetingInBore(last, pair, sky));
    // Seen from the ring in the bore, the rim of the bore stands farther on.
    const rimMm = intoBore && pair?.male.shoulder !== false ? intoBore.leftMm : 0;
    const sunkMm = open ? 0 : intoBore && pair?.male.shoulder === false ? 0 : sunkDepth(pair);
    const joint: Joint = {
      skyId: sky?.id ?? HOST,
      skyIndex,
      cameraId: element.id,
      cameraIndex: index,
      sky: above,
      camera: below,
      pair,
      mating: open || !above || !below ? undefined : mate(above, below),
      shimElements,
      shimsMm,
      open,
      bottomingMm,
      openingMm: seat?.gapMm ?? jointOpening(shimsMm, bottomingMm) + rimMm,
      stated: seat?.gapMm !== undefined,
      recessMm: seat?.recessMm ?? sunkMm ?? 0,
      sunkMm,
      recessTyped: seat?.recessMm !== undefined,
      emerges: undefined
    };
    joint.emerges = emergence(train, joint);
    joints.push(joint);
    bore = boreLeft(pair, above, element);
    sky = element;
    skyIndex = index;
    shimElements = [];
  }
  return joints;
}

/** What a ring that has sunk into its neighbour's bore leaves of it. */
function boreLeft(pair: ThreadPair | undefined, above: Port | undefined, element: SeatedElement): Bore | undefined {
  if (pair?.male.shoulder !== false || pair.female !== above || !isSolid(element)) return undefined;
  const leftMm = (pair.female.lengthMm ?? 0) - lengthOf(element);
  return leftMm > 1e-9 ? { port: pair.female, leftMm } : undefined;
}

/** By how much two males in one through bore meet before the second is home, mm. */
function meetingInBore(last: Joint | undefined, pair: ThreadPair | undefined, ring: SeatedElement | undefined): number {
  if (!last || !pair || last.open || !ring || !isSolid(ring)) return 0;
  const before = last.pair;
  const throughRing = before?.female === last.camera && pair.female === cameraPort(ring);
  if (!throughRing || before?.female.thread !== pair.female.thread) return 0;
  const reach = crossing(last, ring);
  return reach <= 0 ? 0 : Math.max(0, reach + (pair.male.lengthMm ?? 0) - lengthOf(ring));
}

/** A male that is longer than the part whose through bore it enters comes out at its other face. */
function emergence(train: Train, joint: Joint): Joint['emerges'] {
  const { pair } = joint;
  if (!pair?.female.through) return undefined;
  const [intoIndex, towardIndex] =
    pair.female === joint.camera ? [joint.cameraIndex, joint.cameraIndex + 1] : [joint.skyIndex, joint.skyIndex - 1];
  const into = train.elements[intoIndex];
  const mm = into && isSolid(into) ? crossing(joint, into) - lengthOf(into) : 0;
  return mm > 1e-9 ? { mm, towardIndex } : undefined;
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
  const { pair } = joint;
  if (stated.length === 0 && pair?.thread) {
    const id = joint.sky === pair.male ? joint.skyId : joint.cameraId;
    return { clearMm: minorDiameter(pair.thread) - 2 * MALE_WALL_MM, from: 'thread', id };
  }
  return stated.sort((a, b) => a.clearMm - b.clearMm)[0];
}

/** Words for the place a joint stands at: `Corrector → Guider`. */
export const jointName = (train: Train, { skyId, cameraId }: Pick<Joint, 'skyId' | 'cameraId'>): string =>
  `${nameOf(train, skyId)} → ${nameOf(train, cameraId)}`;
