import { RAD } from '../stats/angles.ts';
import type { TiltPlate } from '../train/model.ts';
import type { SensorTilt } from './sweep.ts';

/** What to do at one place of a tilt plate. */
export interface ScrewTurn {
  /** Counted from 1, anticlockwise as the plate is seen from the camera. */
  screw: number;
  /** In the picture, degrees anticlockwise from its right. */
  pictureDeg: number;
  /** How much too far from the telescope the sensor stands there, with its standard uncertainty, μm. */
  tooFarUm: number;
  standardUm: number;
  /** Turns of the screw that sets the height; `way` as one looks on its head. */
  turns: number;
  standardTurns: number;
  way: 'clockwise' | 'anticlockwise' | 'leave';
}

const angleOf = ([x, y]: readonly [number, number]): number => Math.atan2(y, x) / RAD;
const folded = (deg: number): number => ((((deg + 180) % 360) + 360) % 360) - 180;

/** Where screw 1 of a plate stands in the picture, degrees anticlockwise from its right. */
const pictureDegOf = ({ firstDeg = 90, mirrored = false }: TiltPlate): number => (mirrored ? 180 - firstDeg : firstDeg);

/** Turns that nobody can make by hand (common practice, no source). */
const LEAST_TURNS = 1 / 48;

/**
 * Turns that take a sensor's tilt out and leave its distance as it is. The sensor is taken to stand in the middle of the plate.
 *
 * @param halfDiagonalMm of the sensor
 */
export function screwTurns(
  tilt: Pick<SensorTilt, 'slopeUm' | 'covariance'>,
  halfDiagonalMm: number,
  plate: TiltPlate
): ScrewTurn[] {
  const { screws, radiusMm, pitchMm, kind, mirrored = false } = plate;
  return Array.from({ length: screws }, (_, at) => {
    const pictureDeg = folded(pictureDegOf(plate) + (mirrored ? -1 : 1) * (360 / screws) * at);
    const [u, v] = [Math.cos(pictureDeg * RAD), Math.sin(pictureDeg * RAD)].map(
      (each) => (each * radiusMm) / halfDiagonalMm
    ) as [number, number];
    const tooFarUm = tilt.slopeUm[0] * u + tilt.slopeUm[1] * v;
    const [xx, xy, yy] = tilt.covariance;
    const standardUm = Math.sqrt(Math.max(0, u * u * xx + 2 * u * v * xy + v * v * yy));
    const turns = Math.abs(tooFarUm) / 1000 / pitchMm;
    // Screwed in, a pushing screw takes the plates apart, one that works against springs brings them together.
    const nearer = kind === 'springs' ? 'clockwise' : 'anticlockwise';
    const farther = kind === 'springs' ? 'anticlockwise' : 'clockwise';
    const way = turns < LEAST_TURNS || Math.abs(tooFarUm) < standardUm ? 'leave' : tooFarUm > 0 ? nearer : farther;
    return { screw: at + 1, pictureDeg, tooFarUm, standardUm, turns, standardTurns: standardUm / 1000 / pitchMm, way };
  });
}

/** A tilt as a sweep that was kept tells it: rise to the right and to the top, μm over half the diagonal, and its standard deviation. */
export interface KnownTilt {
  slopeUm: readonly [x: number, y: number];
  standardUm: number;
}

/** What of a sweep's tilt is kept. */
export const knownTilt = ({ slopeUm, covariance: [xx, , yy] }: SensorTilt): KnownTilt => ({
  slopeUm,
  standardUm: Math.sqrt(Math.max(xx, yy))
});

/** What a correction that was made says of how a plate stands behind the picture. */
export type WhereTurned =
  /** It went where it should. */
  | { kind: 'as-described' }
  /** It made the tilt as much worse: the screws work the other way. */
  | { kind: 'opposite'; plate: TiltPlate }
  /** It went elsewhere: the first screw stands elsewhere, or the picture is mirrored; one more correction tells which. */
  | { kind: 'elsewhere'; plates: readonly [turned: TiltPlate, mirrored: TiltPlate] }
  /** It cannot be told. */
  | { kind: 'unclear'; why: 'small' | 'not-as-told' };

/** Of the tilt before, what a correction may move more or less than it should where it was made as told. */
const AS_TOLD = 0.4;
/** A correction that went so far beside went where it should. */
const BESIDE_DEG = 25;
/** A tilt that is known worse than this share of itself gives no direction. */
const KNOWN_SHARE = 0.3;

/** A plate whose screw 1 stands there in the picture. */
const withFirstAt = (plate: TiltPlate, pictureDeg: number, mirrored: boolean): TiltPlate => ({
  ...plate,
  firstDeg: Math.round(folded(mirrored ? 180 - pictureDeg : pictureDeg)),
  mirrored
});

/** What is seen of a screw may lie so far beside it, degrees: a shadow is wide, a small tilt is not known well. */
const SEEN_DEG = 30;

/** A plate whose screw 1 was seen there in the picture: the light was covered at it, or it was turned. */
export const withFirstSeen = (plate: TiltPlate, seenDeg: number): TiltPlate => {
  const { confirmed: _before, ...said } = plate;
  return withFirstAt(said, seenDeg, plate.mirrored ?? false);
};

/**
 * A plate by what was seen of screw 2: it lies one place on from screw 1, anticlockwise in the picture or, where that is
 * mirrored, clockwise.
 *
 * @returns undefined where it lies at neither
 */
export function withSecondSeen(plate: TiltPlate, seenDeg: number): TiltPlate | undefined {
  const first = pictureDegOf(plate);
  const onward = folded(seenDeg - first);
  const step = 360 / plate.screws;
  if (Math.abs(Math.abs(onward) - step) > SEEN_DEG) return undefined;
  return { ...withFirstAt(plate, first, onward < 0), confirmed: true };
}

/**
 * Where a plate's screws stand, from two tilts with all of its screws turned between them as {@link screwTurns} told.
 * Told, they take out the tilt that was; what they did take out lies as far round from it as the screws do from where
 * they were said to be (calculation).
 */
export function whereTurned(before: KnownTilt, after: KnownTilt, plate: TiltPlate): WhereTurned {
  const size = Math.hypot(...before.slopeUm);
  const standard = Math.hypot(before.standardUm, after.standardUm);
  if (size === 0 || standard > KNOWN_SHARE * size) return { kind: 'unclear', why: 'small' };
  const taken: [number, number] = [before.slopeUm[0] - after.slopeUm[0], before.slopeUm[1] - after.slopeUm[1]];
  if (Math.abs(Math.hypot(...taken) / size - 1) > AS_TOLD + (2 * standard) / size) {
    return { kind: 'unclear', why: 'not-as-told' };
  }
  const [was, went] = [angleOf(before.slopeUm), angleOf(taken)];
  const beside = folded(went - was);
  const near = Math.max(BESIDE_DEG, (2 * standard) / size / RAD);
  if (Math.abs(beside) <= near) return { kind: 'as-described' };
  if (Math.abs(beside) >= 180 - near) {
    return { kind: 'opposite', plate: { ...plate, kind: plate.kind === 'springs' ? 'push-pull' : 'springs' } };
  }
  const { firstDeg = 90, mirrored = false } = plate;
  const turned = Math.round(folded(firstDeg + (mirrored ? -beside : beside)));
  const other = Math.round(folded(mirrored ? firstDeg + went - 180 + was : firstDeg + 180 - was - went));
  return {
    kind: 'elsewhere',
    plates: [
      { ...plate, firstDeg: turned },
      { ...plate, firstDeg: other, mirrored: !mirrored }
    ]
  };
}

/** One screw that was turned by itself. */
export interface OneTurn {
  turns: number;
  way: 'clockwise' | 'anticlockwise';
}

/** A screw alone moves a plate by this many times less, or more, than it should, and another thing was moved too. */
const ONE_AS_TOLD = 2;

/**
 * Where a screw stands in the picture, from the tilts before and after it alone was turned: the sensor rises or sinks
 * toward it. A plate on three screws turns about the line through the two others, 1.5 radii from it; on four about the one
 * through its neighbours (calculation).
 *
 * @param halfDiagonalMm of the sensor
 * @returns degrees anticlockwise from the picture's right; why that cannot be told
 */
export function turnedScrewDeg(
  before: KnownTilt,
  after: KnownTilt,
  plate: TiltPlate,
  { turns, way }: OneTurn,
  halfDiagonalMm: number
): number | 'small' | 'not-as-told' {
  const farther = (way === 'clockwise') === (plate.kind === 'push-pull');
  const change = before.slopeUm.map((was, axis) => (after.slopeUm[axis]! - was) * (farther ? 1 : -1)) as [
    number,
    number
  ];
  const size = Math.hypot(...change);
  if (!(size > 0) || Math.hypot(before.standardUm, after.standardUm) > KNOWN_SHARE * size) return 'small';
  const arm = (plate.screws === 3 ? 1.5 : 1) * plate.radiusMm;
  const wanted = (turns * plate.pitchMm * 1000 * halfDiagonalMm) / arm;
  return size > ONE_AS_TOLD * wanted || size * ONE_AS_TOLD < wanted ? 'not-as-told' : angleOf(change);
}
