// Light: the beam, what stands in it, and what reaches the sensor.
export {
  DEPTHS,
  coneAt,
  distanceFor,
  driftPixels,
  dustDistance,
  dustShadow,
  exposureFactor,
  fieldOfView,
  fullDiameter,
  hostPupil,
  lensFocalLength,
  lensFromScales,
  magnificationAt,
  pupilBehind,
  scaleOf,
  twoMirrorPupil,
  type Beam
} from './beam.ts';
export { illumination, illuminationMap, type Bar, type Hole, type Optics } from './illumination.ts';
export { FILTER_FORMATS, formatFor } from './formats.ts';
export { pupilInWords } from './pupilWords.ts';
export { Light, type Comparison } from './light.ts';
export { spacingFromScale, type MeasuredSpacing } from './measuredSpacing.ts';
