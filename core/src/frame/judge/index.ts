import type { StarReading } from '../stars/index.ts';
import { decollimated, pinchedOptics } from './collimation.ts';
import { comaOf, type Coma } from './coma.ts';
import { fieldOf, type Field, type ShapedField } from './field.ts';
import { findingsOf, type FrameFinding, type Suspicion } from './finding.ts';
import { outOfFocus } from './focus.ts';
import { darkCorners, darkEdge } from './light.ts';
import { median } from './placed.ts';
import { sizeOf } from './size.ts';
import type { SkyLight } from './skyLight.ts';
import { wrongSpacing } from './spacing.ts';
import { stretchOf, type Stretch } from './stretch.ts';
import { isSignificant, tiltedSensor } from './tilt.ts';
import { badTracking, withoutTails } from './tracking.ts';
import { cannotTell, whyUnclear } from './unclear.ts';

export type { Cause, FrameFinding } from './finding.ts';
export type { SkyLight } from './skyLight.ts';

/** Stars of a frame, judged together. Directions are told with y upward, degrees anticlockwise from +x. */
export interface FieldReading {
  count: number;
  /** Stars that were used: not cut off, well above the noise. */
  used: number;
  /** Medians. */
  hfrPx: number | null;
  fwhmPx: number | null;
  ellipticity: number | null;
  /** Stretch along the radius (+) or round the middle (−) that remains when what is common to all stars is taken away. */
  radial: Stretch['radial'] | null;
  /** What all stars have in common. */
  tracking: Stretch['common'] | null;
  tilt: { sizePct: number; directionDeg: number; significant: boolean } | null;
  /** How much larger stars in the corners are than those of the middle, %, and how well that is known. */
  cornerSizePct: number | null;
  cornerSizeStandardPct: number | null;
  /** Where the stretch has its middle, as a share of the half diagonal; null where it has none to speak of. */
  opticalCentre: Stretch['centre'];
  coma: Coma | null;
  /** Above 1: the stars of the middle are flat or hollow, as they are out of focus. */
  flatness: number;
  light: SkyLight | null;
  findings: FrameFinding[];
}

/** What any frame may have wrong with it, one file a fault. */
const FAULTS: readonly ((field: Field) => Suspicion | undefined)[] = [darkCorners, darkEdge, outOfFocus];

/** What only the shapes of many stars tell. */
const FAULTS_OF_SHAPE: readonly ((field: ShapedField) => Suspicion | undefined)[] = [
  wrongSpacing,
  pinchedOptics,
  tiltedSensor,
  badTracking,
  decollimated
];

/** The field with the shapes of its stars; undefined where they do not determine them. */
function shapedField(field: Field): ShapedField | undefined {
  const { placed, corners, reading } = field;
  const stretch = stretchOf(placed, corners);
  const size = sizeOf(placed, reading);
  const coma = comaOf(placed);
  return stretch && size && coma && { ...field, stretch, size, coma };
}

/** What a field says as a whole, whatever the shapes of its stars. */
const measuresOf = ({ reading, placed, fwhmPx, light }: Field): FieldReading => ({
  count: reading.stars.length,
  used: placed.length,
  hfrPx: median(placed.map(({ star }) => star.hfrPx)),
  fwhmPx,
  ellipticity: median(placed.map(({ star }) => star.ellipticity)),
  radial: null,
  tracking: null,
  tilt: null,
  cornerSizePct: null,
  cornerSizeStandardPct: null,
  opticalCentre: null,
  coma: null,
  flatness: reading.centreFlatness,
  light: light ?? null,
  findings: []
});

/** Judges a field of stars. It knows no train: which spacing makes which stretch, only its owner's frames can tell. */
export function judgeField(reading: StarReading): FieldReading {
  const field = fieldOf(reading);
  const measures = measuresOf(field);
  const findings = findingsOf(FAULTS.map((fault) => fault(field)));
  const unclear = whyUnclear(field);
  const shaped = unclear === undefined ? shapedField(field) : undefined;
  if (!shaped) {
    const why = unclear ?? 'Unclear: the stars do not cover the field. Take longer frames.';
    return { ...measures, findings: [...findings, cannotTell(why)] };
  }
  const ofShape = findingsOf(FAULTS_OF_SHAPE.map((fault) => fault(shaped)));
  const all = withoutTails([...findings, ...ofShape], shaped).sort((a, b) => b.strength - a.strength);
  const { stretch, size, coma } = shaped;
  return {
    ...measures,
    radial: stretch.radial,
    tracking: stretch.common,
    tilt: {
      sizePct: size.tilt.pct,
      directionDeg: size.tilt.directionDeg,
      significant: isSignificant(size.tilt)
    },
    cornerSizePct: size.corners.pct,
    cornerSizeStandardPct: size.corners.standardPct,
    opticalCentre: stretch.centre,
    coma,
    findings: all
  };
}
