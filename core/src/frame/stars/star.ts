import type { BackgroundMesh } from '../background.ts';
import type { Moments } from '../measure.ts';

/** A star below this over its noise tells nothing by its size and shape. */
export const LEAST_SNR = 15;

/** A star of a frame. Places in FITS pixel coordinates (the middle of the first pixel is 1, 1), y in the file’s order. */
export interface Star {
  x: number;
  y: number;
  /** Light within three half-flux radii, ADU. */
  flux: number;
  /** Over the noise of the sky under a window of its own shape. */
  snr: number;
  hfrPx: number;
  fwhmPx: number;
  /** 1 − b/a, of the ellipse of second moments. */
  ellipticity: number;
  /** Of the long axis, degrees anticlockwise from +x with y upward, in (−90, 90]. */
  angleDeg: number;
  /** Third moments along x and y over the size cubed. */
  lopsided: readonly [x: number, y: number];
  /** Third moments that repeat after a third of a turn: cosine and sine of three times the angle of a corner. */
  threefold?: readonly [cosine: number, sine: number] | undefined;
  /** Its top is cut off: neither size nor shape of it counts. */
  saturated: boolean;
}

/** What a frame shows, before anything is judged. */
export interface StarReading {
  widthPx: number;
  heightPx: number;
  stars: Star[];
  /** Median of the sky and noise of a pixel, ADU. */
  background: number;
  noise: number;
  mesh: BackgroundMesh;
  /** Full width at half maximum of the mean star over that of a normal one with the same moments: above 1, flat or hollow. */
  flatness: number;
  /** The same of the stars around the middle. */
  centreFlatness: number;
  /** Pixel rows run up, as in FITS, or down, as in pictures. */
  bottomUp: boolean;
  /** Something wide stands in the frame: a galaxy, a nebula, the halo of a bright star. */
  structured: boolean;
  /** Things that were found and are no stars. */
  rejected: { hot: number; sharp: number; wide: number; edge: number };
}

/** Sky around a star. */
export interface Sky {
  level: number;
  /** Of a pixel, ADU. */
  noise: number;
  /** It is not the same a few star's widths on: only what surrounds a star closely tells it. */
  isUneven: boolean;
}

/** A star with what further measuring needs of it. */
export interface Measured extends Star {
  moments: Moments;
  /** Highest value and the second highest, ADU. */
  top: readonly [number, number];
  sky: Sky;
  /** Rough radius, px, and whether others stand in its stamp. */
  size: number;
  isCrowded: boolean;
}
