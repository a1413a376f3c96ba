import { judgeField, type FieldReading } from './judge/index.ts';
import { shadeOf, type Shade } from './covered.ts';
import type { Frame } from './frame.ts';
import type { Star, StarReading } from './stars/index.ts';

/** All that is kept of a frame without its pixels. */
export interface FrameSummary {
  widthPx: number;
  heightPx: number;
  /** Pixel rows run up, as in FITS, or down, as in pictures. */
  bottomUp: boolean;
  /** The file does not say which; see {@link Frame}. */
  rowsAssumed?: true;
  /** Sky and noise of a pixel, ADU. */
  background: number;
  noise: number;
  /** Their width at half maximum over that of normal ones with the same moments; 1 where it is not known. */
  flatness?: number;
  /** Number of the picture in its file, where it was asked for by that. */
  picture?: number;
  /** What its file says of how it was taken. */
  header?: FrameHeader;
  /** Where something covers a side of its light, if anything plainly does. */
  shade?: Shade;
  field: FieldReading;
  /** The brightest ones. */
  stars: Star[];
}

/** Keywords of a frame by name. */
export type FrameHeader = Readonly<Record<string, string | number>>;

/** Those that are kept: camera, focuser, filter, and where a solved frame lies on the sky. */
const KEPT =
  /^(INSTRUME|[XY]BINNING|CCDXBIN|BINX|XBIN|XPIXSZ|FOCUSPOS|FOCPOS|FOCUSER|FILTER|EXPTIME|EXPOSURE|DATE-OBS|AMBTEMP|AMB-TEMP|FOCTEMP|CTYPE[12]|CD[12]_[12]|PC[12]_[12]|CDELT[12]|CROTA2|[AB]_ORDER)$/;
const LONGEST_WORD = 80;

function headerOf({ keywords }: Frame): FrameHeader {
  const kept: Record<string, string | number> = {};
  for (const [key, value] of keywords) {
    if (!KEPT.test(key) || typeof value === 'boolean') continue;
    kept[key] = typeof value === 'string' ? value.trim().slice(0, LONGEST_WORD) : value;
  }
  return kept;
}

/** Stars that are kept of a frame: more are not drawn either. */
const MOST_STARS_KEPT = 4000;

/** What a frame says, with the brightest of its stars. */
export function summaryOf(reading: StarReading, frame: Frame): FrameSummary {
  const { widthPx, heightPx, bottomUp, background, noise, flatness, stars } = reading;
  const brightest =
    stars.length <= MOST_STARS_KEPT ? stars : [...stars].sort((p, q) => q.flux - p.flux).slice(0, MOST_STARS_KEPT);
  const shade = shadeOf(reading.mesh, bottomUp);
  return {
    widthPx,
    heightPx,
    bottomUp,
    ...(frame.rowsAssumed ? { rowsAssumed: true } : {}),
    background,
    noise,
    flatness,
    ...(frame.picture === undefined ? {} : { picture: frame.picture }),
    header: headerOf(frame),
    ...(shade ? { shade } : {}),
    field: judgeField(reading),
    stars: brightest
  };
}
