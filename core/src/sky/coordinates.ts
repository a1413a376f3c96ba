import { RAD } from '../stats/angles.ts';

/** A place on the sky, degrees, J2000. */
export interface SkyPlace {
  raDeg: number;
  decDeg: number;
}

/** North galactic pole, J2000, degrees (IAU 1958 system in J2000, from memory). */
const GALACTIC_POLE: SkyPlace = { raDeg: 192.85948, decDeg: 27.12825 };

/** Galactic latitude, degrees. */
export function galacticLatitude({ raDeg, decDeg }: SkyPlace): number {
  const [dec, pole] = [decDeg * RAD, GALACTIC_POLE.decDeg * RAD];
  const sine =
    Math.sin(dec) * Math.sin(pole) + Math.cos(dec) * Math.cos(pole) * Math.cos((raDeg - GALACTIC_POLE.raDeg) * RAD);
  return Math.asin(Math.max(-1, Math.min(1, sine))) / RAD;
}

/**
 * Where a place falls on a plane that touches the sky at another (gnomonic projection), degrees: east, north.
 *
 * @returns undefined for places on the other half of the sky
 */
export function onTangentPlane(place: SkyPlace, centre: SkyPlace): readonly [east: number, north: number] | undefined {
  const [dec, dec0] = [place.decDeg * RAD, centre.decDeg * RAD];
  const ra = (place.raDeg - centre.raDeg) * RAD;
  const down = Math.sin(dec0) * Math.sin(dec) + Math.cos(dec0) * Math.cos(dec) * Math.cos(ra);
  if (down <= 1e-6) return undefined;
  const east = (Math.cos(dec) * Math.sin(ra)) / down;
  const north = (Math.cos(dec0) * Math.sin(dec) - Math.sin(dec0) * Math.cos(dec) * Math.cos(ra)) / down;
  return [east / RAD, north / RAD];
}

/**
 * Apparent diameters of Moon and Sun, smallest and largest, minutes of arc: at 406 700 and 356 400 km, and at aphelion
 * and perihelion (from memory).
 */
export const DISC_ARCMIN = { moon: [29.4, 33.5], sun: [31.5, 32.5] } as const;
