import { jointAperture, jointsOf } from '../joint/joints.ts';
import { counterpart, portInWords } from '../joint/mate.ts';
import { minorDiameter, parseThread } from '../joint/thread.ts';
import { formatLength } from '../length/wording.ts';
import type { Part } from '../drawer/part.ts';
import type { BodyElement, Port, Train } from '../train/model.ts';
import { findStacks, type FindOptions } from './find.ts';
import { RING_PART_ID, type Solution } from './solution.ts';

/** A ring to have made: what a workshop has to know. */
export interface RingSpec {
  /** Shoulder to shoulder, mm. */
  lengthMm: number;
  /** Half-width a workshop keeps, mm. */
  toleranceMm: number;
  sky: Port;
  camera: Port;
  /** Clear aperture, mm. */
  clearMm: number;
  outerMm: number;
}

/** What an ordinary lathe keeps without being asked twice, mm (common practice, no source). */
const WORKSHOP_MM = 0.02;

/** Shorter than this two threads find no room beside each other, mm (common practice, no source). */
const SHORTEST_MM = 1;
const LONGEST_MM = 200;

const WALL_MM = 3;

const diameterOf = (port: Port): number => {
  if ('thread' in port) return parseThread(port.thread)?.diameterMm ?? 48;
  return 'bolts' in port ? port.bolts.circleMm : 50;
};

/** Opening that a face of the ring leaves, mm: inside the root of its own male, or the hole of its female. */
function boreOf(port: Port): number {
  if (!('thread' in port)) return diameterOf(port) - 2 * WALL_MM;
  const thread = parseThread(port.thread);
  if (!thread) return diameterOf(port) - 2 * WALL_MM;
  return port.gender === 'male' ? minorDiameter(thread) - 2.5 : minorDiameter(thread);
}

/** The ring's faces and diameters for one gap; undefined where a neighbour's face is not known. */
function blankFor(train: Train, gap: string): Omit<RingSpec, 'lengthMm'> | undefined {
  const joints = jointsOf(train);
  const before = joints.find(({ cameraId }) => cameraId === gap);
  const after = joints.find(({ skyId }) => skyId === gap);
  if (!before?.sky || !after?.camera) return undefined;
  const sky = counterpart(before.sky);
  const camera = counterpart(after.camera);
  if ('bayonet' in sky || 'bayonet' in camera) return undefined;
  const beside = [before, after].flatMap((joint) => jointAperture(train, joint)?.clearMm ?? []);
  return {
    toleranceMm: WORKSHOP_MM,
    sky,
    camera,
    clearMm: Number(Math.min(boreOf(sky), boreOf(camera), ...beside).toFixed(1)),
    outerMm: Math.ceil(Math.max(diameterOf(sky), diameterOf(camera)) + 2 * WALL_MM)
  };
}

/** A ring of any length, as a part of the drawer with a dial that turns through all lengths. */
function anyLength(blank: Omit<RingSpec, 'lengthMm'>): Part {
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
    adjust: { minMm: SHORTEST_MM, maxMm: LONGEST_MM, setMm: SHORTEST_MM }
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
export const ringPart = (spec: RingSpec): Part => ({
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

export const ringInWords = ({ lengthMm, sky, camera, clearMm }: RingSpec): string =>
  `${formatLength(lengthMm, 'mm', 2)} from shoulder to shoulder, ${portInWords(sky)} to ${portInWords(camera)}, ${clearMm} clear`;

/**
 * The one ring that closes a gap exactly, other gaps filled from the drawer: its length, both ports, clear aperture.
 *
 * @param gap id of the gap element it is for
 * @returns undefined where no ring can: a face is not known or a bayonet, or the train is too long already
 */
export function ringFor(
  train: Train,
  gap: string,
  supply: FindOptions
): { spec: RingSpec; words: string; solution: Solution } | undefined {
  const blank = blankFor(train, gap);
  if (!blank) return undefined;
  const any = anyLength(blank);
  const [found] = findStacks(train, {
    ...supply,
    parts: [any, ...supply.parts],
    prefer: 'fewest',
    pinned: [RING_PART_ID],
    limit: 1,
    maxPieces: 3
  }).solutions;
  const set = found?.dials.find(({ id }) => id === RING_PART_ID)?.setMm;
  if (!found || set === undefined) return undefined;
  // Made to a hundredth; the filled train is looked at with the ring as it will be.
  const spec: RingSpec = { ...blank, lengthMm: Number(set.toFixed(2)) };
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
  if (!solution?.inTolerance) return undefined;
  return { spec, words: ringInWords(spec), solution };
}
