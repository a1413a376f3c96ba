// Light: the beam, what stands in it, and what reaches the sensor.
export * from './beam.ts';
export { FINE_LINES, illumination, illuminationMap, type Bar, type Hole, type Optics } from './illumination.ts';
export { FILTER_FORMATS, formatFor, type FilterFormat } from './formats.ts';
export { pupilInWords } from './pupilWords.ts';
export {
  Light,
  SAME_SHARE,
  lightOf,
  type Comparison,
  type DustSurface,
  type LightReport,
  type ReportedOpening,
  type SlotLight
} from './light.ts';
export { openingsOf, shiftBehind, stalksOf, type Opening, type OpeningOf, type Stalk } from './openings.ts';
export { spacingFromScale, type MeasuredSpacing } from './measuredSpacing.ts';
