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

const RAD = Math.PI / 180;
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
  const { screws, radiusMm, pitchMm, kind, firstDeg = 90, mirrored = false } = plate;
  return Array.from({ length: screws }, (_, at) => {
    const seenDeg = firstDeg + (360 / screws) * at;
    const pictureDeg = ((((mirrored ? 180 - seenDeg : seenDeg) % 360) + 540) % 360) - 180;
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
