// The sky behind the sensor: where things lie, how they are framed, how many stars there are.
export { DISC_ARCMIN, galacticLatitude, onTangentPlane, type SkyPlace } from './coordinates.ts';
export {
  angleAlong,
  boxOf,
  halfTurn,
  mosaicOf,
  panelsFor,
  turnBetween,
  type Along,
  type Field,
  type Mosaic
} from './framing.ts';
export { channelOf, colourMinutes, minutesOf, targetTime, withoutReducer, type TargetTime } from './exposures.ts';
export { LEAST_LATITUDE_DEG, starsIn, starsPerSquareDegree } from './stars.ts';
