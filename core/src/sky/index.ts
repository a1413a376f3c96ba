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
export { channelOf, filterKey } from './channels.ts';
export { filterNights, MOST_NIGHTS, type FilterHolder, type FilterNight, type FilterNights } from './filterNights.ts';
export { colourMinutes, minutesOf, targetTime, withoutReducer, type TargetTime } from './exposures.ts';
export { LEAST_LATITUDE_DEG, starsIn, starsPerSquareDegree } from './stars.ts';
