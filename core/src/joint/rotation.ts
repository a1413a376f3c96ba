import { GOOD_TURNS } from './engagement.ts';
import { isBody, isSeated, seatOf, type Train } from '../train/model.ts';
import { boltPositions, boltStepDeg, fullTurn, holdsBy } from './clocking.ts';
import { jointsOf, type Joint } from './joints.ts';
import { engagement } from './seating.ts';

/** One way to turn part of a train, and what it costs. */
export interface RotationWay {
  by: 'rotator' | 'bolts' | 'slip' | 'clamp' | 'union' | 'lock-ring' | 'shim' | 'whole-train';
  /** Element id of the rotator, or of the joint's camera side; `host` for the whole train. */
  at: string;
  /** What comes out, degrees, anticlockwise seen from the camera, in [0, 360). */
  deg: number;
  /** deg − asked, in (−180, 180]. */
  missDeg: number;
  /** How much longer the train becomes, mm; negative: shorter. */
  lengthMm: number;
  /** Rings to lay between the shoulders, sky side first, mm: for `shim`. */
  shimsMm: number[];
  /** Turns of thread that hold afterwards: for `shim` and `lock-ring`. */
  turns: number | undefined;
}

const signedTurn = (deg: number): number => {
  const turned = fullTurn(deg);
  return turned > 180 ? turned - 360 : turned;
};

/** The sum of at most `most` of the given thicknesses that comes closest to `targetMm`. */
function closestStack(targetMm: number, thicknessesMm: readonly number[], most: number): number[] {
  let best: number[] = [];
  let bestOff = Math.abs(targetMm);
  const add = (from: number, chosen: number[], sum: number): void => {
    const off = Math.abs(targetMm - sum);
    if (off < bestOff - 1e-9) [best, bestOff] = [chosen, off];
    if (chosen.length === most) return;
    for (let next = from; next < thicknessesMm.length; next++) {
      add(next + 1, [...chosen, thicknessesMm[next]!], sum + thicknessesMm[next]!);
    }
  };
  add(0, [], 0);
  return best;
}

const MOST_SHIMS = 3;

/** Decimals kept of an opening that is written into the document, mm. */
const OPENING_DECIMALS = 6;

/** Openings that give an angle: the smallest that does, and the smallest above what stands there now. */
function shimWays(joint: Joint, askedDeg: number, shimsMm: readonly number[] | undefined): RotationWay[] {
  const thread = joint.pair?.thread;
  if (!thread || joint.stated) return [];
  const { pitchMm } = thread;
  const exact = (pitchMm * fullTurn(askedDeg)) / 360;
  // A turned joint stands on: opening now + exact, less whole turns while it stays open enough.
  const least = joint.bottomingMm;
  let openingMm = joint.openingMm + exact;
  while (openingMm - pitchMm >= least - 1e-9) openingMm -= pitchMm;
  const rings = shimsMm === undefined ? [openingMm] : closestStack(openingMm, shimsMm, MOST_SHIMS);
  const made = Math.max(
    rings.reduce((sum, ring) => sum + ring, 0),
    least
  );
  const deg = fullTurn((360 * (made - joint.openingMm)) / pitchMm);
  const held = engagement(joint.pair, made);
  return [
    {
      by: 'shim',
      at: joint.cameraId,
      deg,
      missDeg: signedTurn(deg - askedDeg),
      lengthMm: made - joint.openingMm,
      shimsMm: rings.filter((ring) => ring > 1e-9),
      turns: held === undefined ? undefined : held / pitchMm
    }
  ];
}

/** A joint that closes at any angle and does not move along. */
const freeWay = (joint: Joint, askedDeg: number, by: 'slip' | 'clamp' | 'union'): RotationWay => ({
  by,
  at: joint.cameraId,
  deg: fullTurn(askedDeg),
  missDeg: 0,
  lengthMm: 0,
  shimsMm: [],
  turns: undefined
});

/** A thread that turns freely also moves along: unscrewing lengthens, and it can be screwed in until it closes. */
function lockRingWay(joint: Joint, askedDeg: number): RotationWay[] {
  const thread = joint.pair?.thread;
  if (!thread) return [];
  const { pitchMm } = thread;
  const short = (pitchMm * signedTurn(askedDeg)) / 360;
  const lengthMm = joint.openingMm + short < -1e-9 ? short + pitchMm : short;
  const held = engagement(joint.pair, joint.openingMm + lengthMm);
  return [
    {
      ...freeWay(joint, askedDeg, 'slip'),
      by: 'lock-ring',
      lengthMm,
      turns: held === undefined ? undefined : held / pitchMm
    }
  ];
}

function boltWay(joint: Joint, askedDeg: number): RotationWay[] {
  const count = boltPositions(joint.sky, joint.camera);
  if (count === undefined) return [];
  const step = boltStepDeg(count);
  const deg = fullTurn(Math.round(askedDeg / step) * step);
  if (deg === 0) return [];
  return [
    {
      by: 'bolts',
      at: joint.cameraId,
      deg,
      missDeg: signedTurn(deg - askedDeg),
      lengthMm: 0,
      shimsMm: [],
      turns: undefined
    }
  ];
}

/**
 * Every way to turn an element by an angle: a rotator on its sky side, another bolt position, a slip fit, a lock
 * ring, a shim under one of the threaded joints on its sky side (which turns in the unscrewing sense only, so
 * that −35° is bought as +325°), or the whole train in its host.
 *
 * @param id element to turn: everything on its camera side turns along
 * @param askedDeg degrees, anticlockwise seen from the camera
 * @param shimsMm thicknesses at hand, one entry a ring; any thickness when left out
 * @returns the least costly first: no length, then exact, then thin; ways that leave under three turns last
 */
export function planRotation(train: Train, id: string, askedDeg: number, shimsMm?: readonly number[]): RotationWay[] {
  const index = train.elements.findIndex((element) => element.id === id);
  const joints = jointsOf(train).filter(({ cameraIndex, open }) => cameraIndex <= index && !open);
  const ways: RotationWay[] = joints.flatMap((joint): RotationWay[] => {
    const by = holdsBy(joint.sky, joint.camera);
    switch (by) {
      case 'thread':
        return shimWays(joint, askedDeg, shimsMm);
      case 'bolts':
        return boltWay(joint, askedDeg);
      case 'slip':
      case 'clamp':
      case 'union':
        return [freeWay(joint, askedDeg, by)];
      case 'lock-ring':
        return lockRingWay(joint, askedDeg);
      default:
        return [];
    }
  });
  for (const element of train.elements.slice(0, index)) {
    if (isBody(element) && (element.kind === 'rotator' || element.rotatorDeg !== undefined)) {
      ways.push({
        by: 'rotator',
        at: element.id,
        deg: fullTurn(askedDeg),
        missDeg: 0,
        lengthMm: 0,
        shimsMm: [],
        turns: undefined
      });
    }
  }
  ways.push({
    by: 'whole-train',
    at: 'host',
    deg: fullTurn(askedDeg),
    missDeg: 0,
    lengthMm: 0,
    shimsMm: [],
    turns: undefined
  });
  const loose = ({ turns }: RotationWay): number => Number(turns !== undefined && turns < GOOD_TURNS - 1e-9);
  const cost = ({ by, lengthMm }: RotationWay): number => (by === 'whole-train' ? 1e-6 : Math.abs(lengthMm));
  return ways
    .filter(({ turns }) => turns === undefined || turns > 0)
    .sort(
      (a, b) =>
        loose(a) - loose(b) || Math.round(Math.abs(a.missDeg)) - Math.round(Math.abs(b.missDeg)) || cost(a) - cost(b)
    );
}

/** The operation-ready setting of a way: which element's key takes which value. */
export function rotationSetting(
  train: Train,
  { by, at, deg, lengthMm, shimsMm }: RotationWay
): { at: string; path: [string, ...string[]]; to: unknown } | undefined {
  const element = train.elements.find((each) => each.id === at);
  if (!element || !isSeated(element)) return undefined;
  switch (by) {
    case 'rotator':
      return isBody(element) ? { at, path: ['rotatorDeg'], to: fullTurn((element.rotatorDeg ?? 0) + deg) } : undefined;
    case 'bolts':
    case 'slip':
    case 'clamp':
    case 'union':
      return { at, path: ['seat', 'rotationDeg'], to: fullTurn((seatOf(element)?.rotationDeg ?? 0) + deg) };
    case 'lock-ring': {
      const seat = seatOf(element);
      const openingMm = jointsOf(train).find(({ cameraId }) => cameraId === at)?.openingMm ?? 0;
      const gapMm = Math.max(0, Number((openingMm + lengthMm).toFixed(OPENING_DECIMALS)));
      return { at, path: ['seat'], to: { ...seat, gapMm, rotationDeg: fullTurn((seat?.rotationDeg ?? 0) + deg) } };
    }
    case 'shim':
      return { at, path: ['seat', 'shimsMm'], to: shimsMm.length === 0 ? undefined : shimsMm };
    case 'whole-train':
      return undefined;
  }
}
