import { medianOf } from '../../stats/median.ts';
import type { FieldPlace } from '../place.ts';
import type { Star } from '../stars/index.ts';

/** A star in the field's own measure: its place over the half diagonal, y upward. */
export interface Placed extends FieldPlace {
  star: Star;
}

export const median = (values: readonly number[]): number | null => (values.length === 0 ? null : medianOf(values));
