import { hostPort } from '../train/detachable.ts';
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
import { seatedInBore } from './bore.ts';
import { facesJoin, mate, type Mating } from './mate.ts';
import { bottoming, jointOpening, sunkDepth, threadPair, type Bodies, type ThreadPair } from './seating.ts';
import { minorDiameter, parseThread } from './thread.ts';

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
  /** How far the shoulders of the two threads stand apart, mm: the opening, less what lies between ring and rim. */
  apartMm: number;
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
  /** The bore that a ring beside it has sunk into, where that has left some of it. */
  bore: Bore | undefined;
  /** What is left of the bore beside the part on the joint's camera side, for what comes next. */
  leaves: { port: ThreadPort; leftMm: number } | undefined;
  /** Of the opening, what lies between that ring and the rim the part stands on, mm. */
  rimMm: number;
  /** A thread that bottoms decides how far the shoulders stand apart: neither shims nor a rim do. */
  byThread: boolean;
}

/** What is left of a bore beside the rings that have sunk into it. */
export interface Bore {
  port: ThreadPort;
  /** From the last ring to the rim, mm. */
  leftMm: number;
  /** Joints of the rings that stand in it, the one on its bottom first. */
  rings: readonly Joint[];
}

const threadWidth = (port: Port | undefined): number =>
  port && 'thread' in port ? (parseThread(port.thread)?.diameterMm ?? 0) : 0;

/**
 * How wide a part's body is, mm: its outer diameter where that is stated, and never less than the larger of its own
 * threads (handbook §3); undefined where neither is known.
 */
export function bodyWidth(element: Element): number | undefined {
  const outerMm = isSolid(element) ? element.outerMm : undefined;
  const widthMm = Math.max(outerMm ?? 0, threadWidth(skyPort(element)), threadWidth(cameraPort(element)));
  return widthMm > 0 ? widthMm : undefined;
}

/** A part screwed into the inner thread of its neighbour's face: it adds no length. */
export interface Nested {
  /** Index in `elements`. */
  index: number;
  holderIndex: number;
  /** The face of the holder it is screwed into. */
  face: 'sky' | 'camera';
}

/** Whether a joint closes over a filter in an inner thread: from then on nobody reaches it. */
export const closesOver = (
  { skyIndex, cameraIndex }: Pick<Joint, 'skyIndex' | 'cameraIndex'>,
  { holderIndex, face }: Nested
): boolean => (face === 'camera' ? skyIndex : cameraIndex) === holderIndex;

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

/** Two neighbours and the shims between them. */
interface Place {
  sky: SeatedElement | undefined;
  skyIndex: number;
  element: SeatedElement;
  cameraIndex: number;
  shimElements: ShimElement[];
}

/** How a joint stands in a bore that rings have sunk into. */
interface InBore {
  /** The bore in place of the face of the ring beside it: what is joined goes into the bore. */
  above?: ThreadPort;
  below?: ThreadPort;
  /** From the ring to the rim, mm: a part too wide for the bore stands on the rim. */
  rimMm: number;
  bore: Bore;
}

/** Every two neighbours that are joined; filters in inner threads and shims are none. */
function placesOf({ elements }: Train, nested: ReadonlySet<number>): Place[] {
  const places: Place[] = [];
  let sky: SeatedElement | undefined;
  let skyIndex = -1;
  let shimElements: ShimElement[] = [];
  for (let cameraIndex = 0; cameraIndex < elements.length; cameraIndex++) {
    const element = elements[cameraIndex]!;
    if (!isSeated(element)) {
      shimElements.push(element);
      continue;
    }
    if (nested.has(cameraIndex)) continue;
    places.push({ sky, skyIndex, element, cameraIndex, shimElements });
    sky = element;
    skyIndex = cameraIndex;
    shimElements = [];
  }
  return places;
}

/** Whether a face has a thread without a flange, which sinks into a bore that lets it. */
export const isShoulderless = (port: Port | undefined): boolean =>
  port !== undefined && 'thread' in port && port.shoulder === false;

function joined({ host }: Train, place: Place, into?: InBore): Joint {
  const { sky, skyIndex, element, cameraIndex, shimElements } = place;
  const open = element.kind === 'gap' || sky?.kind === 'gap';
  const above: Port | undefined = into?.above ?? (sky === undefined ? hostPort(host) : cameraPort(sky));
  const below: Port | undefined = into?.below ?? skyPort(element);
  const seat = seatOf(element);
  let shimsMm = 0;
  for (const shim of shimElements) shimsMm += lengthOf(shim);
  for (const thickness of seat?.shimsMm ?? []) shimsMm += thickness;
  const sinks = isShoulderless(above) || isShoulderless(below);
  const bodies = sinks ? (): Bodies => ({ skyMm: sky && bodyWidth(sky), cameraMm: bodyWidth(element) }) : undefined;
  const pair = open ? undefined : threadPair(above, below, bodies);
  const rimMm = into?.rimMm ?? 0;
  const bottomingMm = bottoming(pair);
  // A thread that goes into the bore starts at its rim; one that goes into the ring, at the ring.
  const isInBore = into?.above !== undefined || into?.below !== undefined;
  const apartMm = isInBore ? jointOpening(shimsMm, bottomingMm) : Math.max(rimMm + shimsMm, bottomingMm);
  const openingMm = seat?.gapMm ?? (isInBore ? rimMm + apartMm : apartMm);
  // What goes into the bore beside a ring sits on the ring.
  const sunkMm = open || isInBore ? 0 : sunkDepth(pair);
  return {
    skyId: sky?.id ?? HOST,
    skyIndex,
    cameraId: element.id,
    cameraIndex,
    sky: above,
    camera: below,
    pair,
    mating: open || !above || !below ? undefined : mate(above, below),
    shimElements,
    shimsMm,
    open,
    bottomingMm,
    openingMm,
    apartMm: isInBore ? Math.max(0, openingMm - rimMm) : openingMm,
    stated: seat?.gapMm !== undefined,
    recessMm: seat?.recessMm ?? sunkMm ?? 0,
    sunkMm,
    recessTyped: seat?.recessMm !== undefined,
    emerges: undefined,
    bore: into?.bore,
    leaves: undefined,
    rimMm,
    byThread: seat?.gapMm === undefined && bottomingMm > shimsMm + (isInBore ? 0 : rimMm) + HAIR_MM
  };
}

const NOTHING: ReadonlySet<number> = new Set();

/** Every joint of a train, from the host to the camera. Shims lie in the joint of their nearest neighbours. */
export function jointsOf(train: Train): Joint[] {
  const inner = nestedIn(train);
  const places = placesOf(train, inner.length === 0 ? NOTHING : new Set(inner.map(({ index }) => index)));
  const joints = places.map((place) => joined(train, place));
  // Asked for every stack the finder finds: most trains have no ring that sinks, and no bore that goes through.
  if (joints.some(({ pair }) => pair?.sinks)) {
    seatInBores(train, places, joints, 'camera');
    seatInBores(train, places, joints, 'sky');
  }
  if (!joints.some(({ pair }) => pair?.female.through)) return joints;
  joints.forEach((joint, at) => {
    const meetingMm = meetingInBore(joints[at - 1], joint.pair, places[at]!.sky);
    if (meetingMm > joint.bottomingMm && !joint.open) {
      joint.bottomingMm = meetingMm;
      if (!joint.stated && meetingMm > joint.openingMm) {
        joint.apartMm = joint.openingMm = meetingMm;
        joint.byThread = true;
      }
    }
    joint.emerges = emergence(train, joint);
  });
  return joints;
}

/**
 * Takes joints again where a ring has sunk into a bore and left some of it: what comes next goes in beside the ring,
 * follows it into the bore, or, too wide for that, stands on the rim (handbook §3).
 *
 * @param toward the side of the ring that is looked at: with `camera` bores are of what stands on the sky side
 */
function seatInBores(train: Train, places: readonly Place[], joints: Joint[], toward: 'camera' | 'sky'): void {
  const isDown = toward === 'camera';
  let bore: Bore | undefined;
  for (let step = 0; step < joints.length; step++) {
    const at = isDown ? step : joints.length - 1 - step;
    const place = places[at]!;
    let joint = joints[at]!;
    // Walking toward the camera the next part is the joint's camera side, walking toward the sky its sky side.
    const next = isDown ? place.element : place.sky;
    if (bore && !joint.open) {
      const into = inBore(joint, bore, next, isDown);
      joint = joints[at] = joined(train, place, into);
      const roomMm = next && isSolid(next) ? lengthOf(next) : Infinity;
      const leftMm = bore.leftMm - (joint.openingMm - joint.recessMm) - roomMm;
      bore = into.rimMm > 0 || leftMm <= HAIR_MM ? undefined : { ...bore, leftMm, rings: [...bore.rings, joint] };
    } else bore = boreLeft(joint, next, isDown);
    if (bore && isDown) joint.leaves = { port: bore.port, leftMm: bore.leftMm };
  }
}

/** A length under which nothing is left, mm. */
const HAIR_MM = 1e-9;

/** What a ring that has sunk into its neighbour's bore leaves of it. */
function boreLeft(joint: Joint, ring: SeatedElement | undefined, isDown: boolean): Bore | undefined {
  const { pair, recessMm, openingMm, sunkMm } = joint;
  const holder = isDown ? joint.sky : joint.camera;
  if (!pair?.sinks || pair.female !== holder || sunkMm === undefined || !ring || !isSolid(ring)) return undefined;
  const leftMm = recessMm - openingMm - lengthOf(ring);
  return leftMm > HAIR_MM ? { port: pair.female, leftMm, rings: [joint] } : undefined;
}

/** How the part next to a ring in a bore stands, on one side of it or the other. */
function inBore({ sky, camera }: Joint, bore: Bore, next: SeatedElement | undefined, isDown: boolean): InBore {
  const [ring, face] = isDown ? [sky, camera] : [camera, sky];
  const { port, rimMm } = seatedInBore(ring, face, bore, next === undefined ? Infinity : bodyWidth(next));
  return port ? { [isDown ? 'above' : 'below']: port, rimMm, bore } : { rimMm, bore };
}

/** A male that came through its bore, on the camera side of a joint: how far it stands in the part it crossed, mm. */
const crossing = ({ pair, apartMm }: Joint, into: Element | undefined): number =>
  pair?.female.through && pair.male.lengthMm !== undefined && into && isSolid(into) ? pair.male.lengthMm - apartMm : 0;

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
