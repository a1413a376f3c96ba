import { judgeField, type FieldReading } from './field.ts';
import type { Star, StarReading } from './stars.ts';

/** All that is kept of a frame without its pixels. */
export interface FrameSummary {
  widthPx: number;
  heightPx: number;
  /** Pixel rows run up, as in FITS, or down, as in pictures. */
  bottomUp: boolean;
  /** Sky and noise of a pixel, ADU. */
  background: number;
  noise: number;
  field: FieldReading;
  /** The brightest ones. */
  stars: Star[];
}

/** Stars that are kept of a frame: more are not drawn either. */
export const MOST_STARS_KEPT = 4000;

/** What a frame says, with the brightest of its stars. */
export function summaryOf(reading: StarReading): FrameSummary {
  const { widthPx, heightPx, bottomUp, background, noise, stars } = reading;
  const brightest =
    stars.length <= MOST_STARS_KEPT ? stars : [...stars].sort((p, q) => q.flux - p.flux).slice(0, MOST_STARS_KEPT);
  return { widthPx, heightPx, bottomUp, background, noise, field: judgeField(reading), stars: brightest };
}
