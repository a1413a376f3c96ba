import type { Host, Mount } from '../train/model.ts';
import { momentOf, type Load } from './load.ts';

/** How a tube and its train sit on their mount. */
export interface Balance {
  /** Everything that is carried, g. */
  massG: number;
  /** Centre of mass, ahead of the host's camera face toward the sky, mm. */
  aheadMm: number;
  /** About the declination axis, N·m: positive is heavy at the camera's end. */
  rearMomentNm: number;
  /** How far the tube has to slide toward the sky (+) or the camera (−) until it is balanced, mm. */
  slideMm: number;
  /** Whether the saddle allows that; null where it does not say. */
  canSlide: boolean | null;
  /** Where the counterweight balances it about the polar axis, mm from it; null where that is not stated. */
  counterweightMm: number | null;
  /** Some of what hangs on it is not weighed: all of this is as if it weighed nothing. */
  unweighed: number;
}

/**
 * Moments of the tube, of what hangs on it and of the train about both axes of the mount (statics: Σ m x = 0).
 *
 * @returns undefined where the tube is not described
 */
export function balanceOf({ mount, attached = [] }: Pick<Host, 'mount' | 'attached'>, load: Load): Balance | undefined {
  if (!mount) return undefined;
  const things = [
    { massG: mount.tubeMassG, aheadMm: mount.tubeAheadMm },
    ...attached.map(({ massG, alongMm }) => ({ massG, aheadMm: alongMm })),
    ...load.hanging.map(({ massG, behindMm }) => ({ massG, aheadMm: -behindMm }))
  ];
  const massG = things.reduce((sum, each) => sum + each.massG, 0);
  if (massG === 0) return undefined;
  const aheadMm = things.reduce((sum, each) => sum + each.massG * each.aheadMm, 0) / massG;
  const slideMm = mount.saddleAheadMm - aheadMm;
  return {
    massG,
    aheadMm,
    rearMomentNm: momentOf(massG, slideMm),
    slideMm,
    canSlide: mount.slideMm === undefined ? null : Math.abs(slideMm) <= mount.slideMm,
    counterweightMm: counterweightAt(mount, massG) ?? null,
    unweighed: load.unweighed.length
  };
}

/** Where a counterweight balances what is carried about the polar axis, mm from it. */
export function counterweightAt({ aboveAxisMm, counterweightG }: Mount, massG: number): number | undefined {
  return aboveAxisMm === undefined || !counterweightG ? undefined : (massG * aboveAxisMm) / counterweightG;
}

/**
 * Weight that balances the tube about the declination axis where it stands, hung at some place.
 *
 * @param atAheadMm where it is hung, ahead of the host's camera face, mm
 * @returns grams; undefined where no weight at that place can
 */
export function counterweightFor({ massG, slideMm }: Balance, saddleAheadMm: number, atAheadMm: number) {
  const arm = atAheadMm - saddleAheadMm;
  const weight = arm === 0 ? NaN : (massG * slideMm) / arm;
  return weight >= 0 ? weight : undefined;
}

/**
 * Place where a weight of one's own balances the tube about the declination axis where it stands.
 *
 * @returns mm ahead of the host's camera face; undefined of no weight
 */
export const placeFor = ({ massG, slideMm }: Balance, saddleAheadMm: number, weightG: number): number | undefined =>
  weightG > 0 ? saddleAheadMm + (massG * slideMm) / weightG : undefined;

/** Counterweight that balances what is carried about the polar axis from a place on its bar; grams. */
export function counterweightMass({ aboveAxisMm }: Mount, massG: number, atMm: number): number | undefined {
  return aboveAxisMm === undefined || !(atMm > 0) ? undefined : (massG * aboveAxisMm) / atMm;
}
