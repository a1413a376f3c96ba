import { jointAperture, jointsOf } from '../joint/joints.ts';
import { GOOD_TURNS } from '../joint/engagement.ts';
import { counterpart, facesJoin, portInWords } from '../joint/mate.ts';
import { minorDiameter, parseThread } from '../joint/thread.ts';
import { formatLength } from '../why/wording.ts';
import type { Part } from '../drawer/part.ts';
import { isBody, type BodyElement, type Port, type Train } from '../train/model.ts';
import { beamLimitOf } from './beam.ts';
import { findStacks, type FindOptions } from './find.ts';
import { Facts } from '../check/facts.ts';
import { RING_PART_ID, type Solution } from './solution.ts';

/** Holes of a bolted face: where the screws go into this part, through it, or through it with their heads sunk in. */
export interface ScrewHoles {
  /** Metric coarse thread, `M2`. */
  thread: string;
  hole: 'tapped' | 'through' | 'countersunk';
}

/** A bayonet bought, or taken off an old part, and bolted to what is turned. */
export interface BoltedFlange {
  /** Name of the bayonet, and its gender. */
  bayonet: string;
  gender: 'male' | 'female';
  /** From the face that meets the other bayonet to the one that is bolted on, mm. */
  thicknessMm: number;
}

/** A ring to have made: what a workshop has to know. */
export interface RingSpec {
  /** Of what is turned, shoulder to shoulder, mm: a flange that is bolted on is no part of it. */
  lengthMm: number;
  /** Half-width a workshop keeps, mm. */
  toleranceMm: number;
  sky: Port;
  camera: Port;
  /** Clear aperture, mm. */
  clearMm: number;
  /** Clear aperture that takes no light from the corners there, mm; undefined where the sensor is not known. */
  neededMm?: number;
  outerMm: number;
  /** Holes of the faces that are bolted, where they are known. */
  screws?: { sky?: ScrewHoles; camera?: ScrewHoles };
  /** Bayonets that are bolted to the faces; each such face is a bolt circle. */
  flanges?: { sky?: BoltedFlange; camera?: BoltedFlange };
}

/** What an ordinary lathe keeps without being asked twice, mm (common practice, no source). */
export const WORKSHOP_MM = 0.02;

/** Wall that is left between a hole and what is next to it, mm (common practice, no source). */
export const WEB_MM = 1;

/** Room at the bottom of a hole that a male does not reach, mm (common practice, no source). */
const CLEARANCE_MM = 0.5;

/** Length of thread a face of the ring gets where its neighbour has plenty, turns (common practice, no source). */
const USUAL_TURNS = 6;

/** Longest part that is made to measure, mm (common practice, no source). */
export const LONGEST_MM = 200;

export const WALL_MM = 3;

/** How wide a face is at its thread or bolt circle, mm; a slip fit or clamp has no figure and counts as 50. */
export const diameterOf = (port: Port): number => {
  if ('thread' in port) return parseThread(port.thread)?.diameterMm ?? 48;
  return 'bolts' in port ? port.bolts.circleMm : 50;
};

/** Opening that a face of the ring leaves, mm: inside the root of its own male, or the hole of its female. */
export function boreOf(port: Port): number {
  if (!('thread' in port)) return diameterOf(port) - 2 * WALL_MM;
  const thread = parseThread(port.thread);
  if (!thread) return diameterOf(port) - 2 * WALL_MM;
  return port.gender === 'male' ? minorDiameter(thread) - 2.5 : minorDiameter(thread);
}

/** A face as a workshop makes it to join a neighbour: a hole deeper than the male, a male that does not bottom. */
export function madeFor(neighbour: Port): Port | undefined {
  const face = counterpart(neighbour);
  if ('bayonet' in face) return undefined;
  if (!('thread' in face) || !('thread' in neighbour)) return face;
  const pitchMm = parseThread(face.thread)?.pitchMm;
  if (pitchMm === undefined) return undefined;
  const usualMm = Number((USUAL_TURNS * pitchMm).toFixed(1));
  const { lengthMm } = neighbour;
  if (face.gender === 'female') {
    // A long thread with a lock ring need not go in all the way.
    const intoMm = neighbour.lockRing || lengthMm === undefined ? usualMm : lengthMm;
    return { thread: face.thread, gender: 'female', lengthMm: intoMm + CLEARANCE_MM };
  }
  const deepMm = lengthMm === undefined || neighbour.through ? usualMm : lengthMm - CLEARANCE_MM;
  const leastMm = GOOD_TURNS * pitchMm + (neighbour.reliefMm ?? 0);
  const longMm = Math.max(Math.min(deepMm, Math.max(usualMm, leastMm)), Math.min(leastMm, lengthMm ?? leastMm));
  return { thread: face.thread, gender: 'male', lengthMm: Number(longMm.toFixed(2)) };
}

/** How deep a face's hole goes into the ring, mm; 0 where it has none. */
const holeDepth = (port: Port): number => ('thread' in port && port.gender === 'female' ? (port.lengthMm ?? 0) : 0);

/**
 * The shortest ring with these faces that can be turned, mm: a hole ends inside the body, with a web behind it, unless
 * it is so much narrower than the male on the other face that it may go on inside that.
 */
export function shortestRing(sky: Port, camera: Port): number {
  const [deepSky, deepCamera] = [holeDepth(sky), holeDepth(camera)];
  if (deepSky > 0 && deepCamera > 0) {
    const nested = Math.abs(diameterOf(sky) - diameterOf(camera)) >= 2 * WALL_MM;
    return nested ? Math.max(deepSky, deepCamera) : deepSky + deepCamera;
  }
  const hole = deepSky > 0 ? sky : deepCamera > 0 ? camera : undefined;
  if (!hole) return WEB_MM;
  const other = hole === sky ? camera : sky;
  const maleMm = 'thread' in other && other.gender === 'male' ? (other.lengthMm ?? 0) : 0;
  const insideMale = diameterOf(hole) <= boreOf(other);
  return insideMale ? Math.max(WEB_MM, holeDepth(hole) - maleMm) : holeDepth(hole) + WEB_MM;
}

/** The ring's faces and diameters for one place; undefined where a face cannot be made. */
function blankFor(above: Port, below: Port, besideMm: readonly number[]): Blank | undefined {
  const sky = madeFor(above);
  const camera = madeFor(below);
  if (!sky || !camera) return undefined;
  return {
    toleranceMm: WORKSHOP_MM,
    sky,
    camera,
    clearMm: Number(Math.min(boreOf(sky), boreOf(camera), ...besideMm).toFixed(1)),
    outerMm: Math.ceil(Math.max(diameterOf(sky), diameterOf(camera)) + 2 * WALL_MM)
  };
}

/** Adapters of the drawer tried on the bayonet side of a ring. */
const MOST_ADAPTERS = 4;

/** Faces a ring may have to join: the neighbour's own, or behind a bayonet those of adapters that fit it. */
function facesToward(port: Port, side: 'above' | 'below', parts: readonly Part[]): Port[] {
  if (!('bayonet' in port)) return [port];
  return parts
    .flatMap(({ element, state }): Port[] => {
      if (!isBody(element) || !element.sky || !element.camera || state === 'set-aside') return [];
      const [toward, away] = side === 'above' ? [element.sky, element.camera] : [element.camera, element.sky];
      const fits = side === 'above' ? facesJoin(port, toward) : facesJoin(toward, port);
      return fits && !('bayonet' in away) ? [away] : [];
    })
    .slice(0, MOST_ADAPTERS);
}

/** Every ring that might close a gap; none where a neighbour's face is not known. */
function blanksFor(train: Train, gap: string, parts: readonly Part[]): Blank[] {
  const joints = jointsOf(train);
  const before = joints.find(({ cameraId }) => cameraId === gap);
  const after = joints.find(({ skyId }) => skyId === gap);
  if (!before?.sky || !after?.camera) return [];
  const beside = [before, after].flatMap((joint) => jointAperture(train, joint)?.clearMm ?? []);
  return facesToward(before.sky, 'above', parts).flatMap((above) =>
    facesToward(after.camera!, 'below', parts).flatMap((below) => blankFor(above, below, beside) ?? [])
  );
}

type Blank = Omit<RingSpec, 'lengthMm'>;

/** A ring of any length, as a part of the drawer with a dial that turns through all lengths. */
function anyLength(blank: Blank): Part {
  const minMm = shortestRing(blank.sky, blank.camera);
  const element: BodyElement = {
    id: RING_PART_ID,
    kind: 'variable-spacer',
    name: 'Ring made to measure',
    lengthMm: 0,
    toleranceMm: blank.toleranceMm,
    sky: blank.sky,
    camera: blank.camera,
    clearMm: blank.clearMm,
    outerMm: blank.outerMm,
    adjust: { minMm, maxMm: LONGEST_MM, setMm: minMm }
  };
  return {
    partId: RING_PART_ID,
    element,
    quantity: 1,
    owned: false,
    location: '',
    state: 'spare',
    measurements: []
  };
}

/** The part that stands for a ring once its length is known: no dial, that length. */
const ringPart = (spec: RingSpec): Part => ({
  ...anyLength(spec),
  element: {
    id: RING_PART_ID,
    kind: 'spacer',
    name: `Ring ${Number(spec.lengthMm.toFixed(3))} made to measure`,
    lengthMm: spec.lengthMm,
    toleranceMm: spec.toleranceMm,
    sky: spec.sky,
    camera: spec.camera,
    clearMm: spec.clearMm,
    outerMm: spec.outerMm
  }
});

/** What the bore has to be for the light, in words: nothing where that is not known. */
function boreInWords({ clearMm, neededMm }: RingSpec): string {
  if (neededMm === undefined) return '';
  const needed = formatLength(neededMm, 'mm', 1);
  return clearMm >= neededMm
    ? ` (${needed} is needed for the light)`
    : ` (${needed} is needed for the light: these threads leave less)`;
}

const ringInWords = (spec: RingSpec): string =>
  `${formatLength(spec.lengthMm, 'mm', 2)} optical length (shoulder to shoulder), ${portInWords(spec.sky)} to ${portInWords(spec.camera)}, ${spec.clearMm} mm clear aperture${boreInWords(spec)}`;

/** A ring to have made, in words, with the stack it stands in. */
export interface RingToMake {
  spec: RingSpec;
  words: string;
  solution: Solution;
}

/**
 * The one ring that closes a gap exactly, other gaps filled from the drawer: its length, both ports, clear aperture.
 * At a bayonet the ring stands behind an adapter of the drawer.
 *
 * @param gap id of the gap element it is for
 * @returns undefined where no ring can: a face is not known, it would be too short to be turned, or the train is too
 *   long already
 */
export function ringFor(train: Train, gap: string, supply: FindOptions): RingToMake | undefined {
  const neededMm = beamLimitOf(new Facts(train), supply.cornerLight)?.neededIn(gap);
  for (const made of blanksFor(train, gap, supply.parts)) {
    const blank = { ...made, ...(neededMm === undefined ? {} : { neededMm: Number(neededMm.toFixed(1)) }) };
    const ring = madeToMeasure(train, blank, supply);
    if (ring) return ring;
  }
  return undefined;
}

function madeToMeasure(train: Train, blank: Blank, supply: FindOptions): RingToMake | undefined {
  const any = anyLength(blank);
  const [found] = findStacks(train, {
    ...supply,
    parts: [any, ...supply.parts],
    prefer: 'fewest',
    pinned: [RING_PART_ID],
    limit: 1,
    maxPieces: 3
  }).solutions;
  const set = found?.gaps.flatMap(({ placed }) => placed).find(({ part }) => part.partId === RING_PART_ID)?.setMm;
  if (!found || set === undefined) return undefined;
  // Made to a hundredth; the filled train is looked at with the ring as it will be.
  const spec: RingSpec = { ...blank, lengthMm: Number(set.toFixed(2)) };
  if (spec.lengthMm < shortestRing(spec.sky, spec.camera) - 1e-9) return undefined;
  const part = ringPart(spec);
  const [solution] = findStacks(train, {
    ...supply,
    parts: [
      part,
      ...supply.parts.filter((each) =>
        found.gaps.some(({ placed }) => placed.some((entry) => entry.part.partId === each.partId))
      )
    ],
    pinned: [RING_PART_ID],
    limit: 1,
    maxPieces: found.pieces
  }).solutions;
  return solution?.inTolerance ? { spec, words: ringInWords(spec), solution } : undefined;
}
