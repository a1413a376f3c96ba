import { byCorner, fieldPlace, isTelling } from '../place.ts';
import type { StarReading } from '../stars/index.ts';
import type { Coma } from './coma.ts';
import { median, type Placed } from './placed.ts';
import type { Size } from './size.ts';
import { skyLightOf, type SkyLight } from './skyLight.ts';
import type { Stretch } from './stretch.ts';

/** What any frame shows, be its stars few or none. */
export interface Field {
  reading: StarReading;
  /** Stars whose size and shape say something. */
  placed: readonly Placed[];
  /** Those of each corner: top left, top right, bottom left, bottom right. */
  corners: readonly [Placed[], Placed[], Placed[], Placed[]];
  /** Median. */
  fwhmPx: number | null;
  light: SkyLight | undefined;
}

/** A field whose stars tell their shapes. */
export interface ShapedField extends Field {
  stretch: Stretch;
  size: Size;
  coma: Coma;
}

export function fieldOf(reading: StarReading): Field {
  const { bottomUp } = reading;
  const placed = reading.stars.filter(isTelling).map((star): Placed => ({
    star: bottomUp ? star : { ...star, lopsided: [star.lopsided[0], -star.lopsided[1]] },
    ...fieldPlace(star, reading)
  }));
  return {
    reading,
    placed,
    corners: byCorner(placed, reading),
    fwhmPx: median(placed.map(({ star }) => star.fwhmPx)),
    light: skyLightOf(reading.mesh, bottomUp)
  };
}

/** Of narrower stars the pixels make a shape of their own: three corners, tails, flat tops (by the simulated camera). */
const LEAST_FWHM_PX = 1.3;

export const isUndersampled = ({ fwhmPx }: Field): boolean => fwhmPx !== null && fwhmPx < LEAST_FWHM_PX;
