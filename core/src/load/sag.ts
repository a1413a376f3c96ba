import { radians } from '../stats/angles.ts';
import { sampleStandardDeviation } from 'simple-statistics';
import type { SagTest } from '../train/model.ts';
import { momentOf } from './load.ts';

/** What a sag test says of one joint. */
export interface Stiffness {
  /** Deflection under the mass, gauge reading with it less the mean of those without it before and after, mm. */
  deflectionMm: number;
  /** Standard uncertainty of it, mm: scatter of the cycles (Student's t is left to the reader) and the gauge's step. */
  standardMm: number;
  /** What did not come back when the mass was taken off, mean of the cycles, mm. */
  hysteresisMm: number;
  /** Cycles of loading that were read. */
  cycles: number;
  /** N·m per rad; a least where {@link isBound}. */
  stiffnessNmPerRad: number;
  /** It moved by less than the gauge can tell: the resolution is the bound. */
  isBound: boolean;
}

/**
 * Reads a sag test by its protocol: in each orientation read, load, read, unload, read, and so on. What comes back with
 * the mass is the joint's give; what does not is hysteresis, and counts for nothing here but itself.
 *
 * k = F a b / y, with F the weight, a where it hangs, y the deflection at b (handbook §7; small angles).
 *
 * @returns undefined where no cycle was read to its end
 */
export function stiffnessOf(test: SagTest): Stiffness | undefined {
  const give: number[] = [];
  const left: number[] = [];
  for (const { readMm } of test.series) {
    for (let at = 0; at + 2 < readMm.length; at += 2) {
      const [before, loaded, after] = [readMm[at]!, readMm[at + 1]!, readMm[at + 2]!];
      give.push(loaded - (before + after) / 2);
      left.push(after - before);
    }
  }
  if (give.length === 0) return undefined;
  const mean = (list: readonly number[]): number => list.reduce((sum, each) => sum + each, 0) / list.length;
  const deflectionMm = Math.abs(mean(give));
  const isBound = deflectionMm < test.resolutionMm;
  // A single cycle tells nothing of how they scatter (JCGM 100:2008 §4.2.3).
  const scatterMm = give.length < 2 ? 0 : sampleStandardDeviation(give) / Math.sqrt(give.length);
  const countsMm = isBound ? test.resolutionMm : deflectionMm;
  return {
    deflectionMm,
    // A gauge's step is rectangular, ± half of it (JCGM 100:2008 §4.3.7).
    standardMm: Math.hypot(scatterMm, test.resolutionMm / 2 / Math.sqrt(3)),
    hysteresisMm: Math.abs(mean(left)),
    cycles: give.length,
    stiffnessNmPerRad: (momentOf(test.massG, test.atMm) * test.gaugeAtMm) / countsMm,
    isBound
  };
}

/** How far a joint of some stiffness tilts under a moment, rad; at the most, where the stiffness is a least. */
export const tiltOf = (momentNm: number, stiffnessNmPerRad: number, altitudeDeg = 0): number =>
  (momentNm * Math.cos(radians(altitudeDeg))) / stiffnessNmPerRad;

/** What sag does to the sensor from one side of the meridian to the other. */
export interface Sagging {
  /** Joint that was tested. */
  at: string;
  stiffness: Stiffness;
  /** Moment of everything behind the joint, axis level, N·m. */
  momentNm: number;
  /** Tilt under it, arc minutes. */
  tiltArcmin: number;
  /** What it changes by when the tube turns half round against gravity, arc minutes. */
  acrossArcmin: number;
  /** Focus off from the sensor's middle to its edge, the tube turned half round, µm; null where the sensor is not known. */
  edgeUm: number | null;
}

const ARCMIN_PER_RAD = (180 / Math.PI) * 60;

/** @param widthMm of the sensor along which it tilts, the longer side; null where it is not known */
export function saggingOf(
  at: string,
  stiffness: Stiffness,
  momentNm: number,
  widthMm: number | null,
  altitudeDeg = 0
): Sagging {
  const tilt = tiltOf(Math.abs(momentNm), stiffness.stiffnessNmPerRad, altitudeDeg);
  return {
    at,
    stiffness,
    momentNm,
    tiltArcmin: tilt * ARCMIN_PER_RAD,
    acrossArcmin: 2 * tilt * ARCMIN_PER_RAD,
    edgeUm: widthMm === null ? null : (widthMm / 2) * 2 * tilt * 1000
  };
}

/** What to hang on a train for a test of a heavier camera than the one it has (handbook §7): the difference, where it will be. */
export interface HangOn {
  massG: number;
  /** From the joint that is tested toward the camera, mm. */
  atMm: number;
}

/**
 * @param nowG mass of the camera that is on it
 * @param centreMm where the camera's centre of mass lies from the joint, mm
 * @returns undefined where the new camera is no heavier: nothing is to be hung
 */
export const hangFor = (nowG: number, nextG: number, centreMm: number): HangOn | undefined =>
  nextG > nowG && centreMm > 0 ? { massG: nextG - nowG, atMm: centreMm } : undefined;
