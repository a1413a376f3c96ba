import { jointsOf } from '../joint/joints.ts';
import type { Flats, Train } from '../train/model.ts';
import { TRAIN, type Operation } from '../train/operations.ts';
import { flatsSealOf } from './seal.ts';

/** Owners who set no age mostly take new flats after three to six months (common practice, no source). */
const USUAL_MONTHS = 6;

/** Whether flats still hold. */
export interface FlatsState {
  state: 'none' | 'valid' | 'ended' | 'old';
  /** Day they were taken, `YYYY-MM-DD`. */
  since: string | undefined;
  say: string;
}

/** A day some months later; the last of the month where that has no such day. */
function monthsAfter(day: string, months: number): string {
  const from = new Date(`${day}T00:00:00Z`);
  const to = new Date(from);
  to.setUTCMonth(to.getUTCMonth() + Math.floor(months));
  if (to.getUTCDate() !== from.getUTCDate()) to.setUTCDate(0);
  return to.toISOString().slice(0, 10);
}

/**
 * Since when flats are valid, and what ended them: opening the space between filter and sensor does, turning the camera
 * with its wheel does not; after an age the owner sets they are old in any case (handbook §8).
 *
 * @param today `YYYY-MM-DD`
 */
export function flatsOf(train: Train, today: string): FlatsState {
  const { flats } = train;
  if (!flats) return { state: 'none', since: undefined, say: 'No flats are written down for this train.' };
  const { on, ended, as, monthsValid = USUAL_MONTHS } = flats;
  if (ended !== undefined) {
    return { state: 'ended', since: on, say: `The flats of ${on} do not hold any more: ${ended}.` };
  }
  if (as !== flatsSealOf(train, jointsOf(train))) {
    return {
      state: 'ended',
      since: on,
      say: `The flats of ${on} are no longer valid: the parts between the filters and the sensor have changed since.`
    };
  }
  const until = monthsAfter(on, monthsValid);
  if (today > until) {
    return { state: 'old', since: on, say: `The flats of ${on} are older than ${monthsValid} months: take new ones.` };
  }
  return { state: 'valid', since: on, say: `Flats are valid since ${on}, until ${until} at the latest.` };
}

const put = (flats: Flats): Operation => ({ op: 'set', at: TRAIN, path: ['flats'], to: flats });

/** Writes down that flats were taken, of the train as it stands. */
export const takeFlats = (train: Train, on: string): Operation =>
  put({
    ...(train.flats?.monthsValid === undefined ? {} : { monthsValid: train.flats.monthsValid }),
    on,
    as: flatsSealOf(train, jointsOf(train))
  });

/** Whether opening a joint opens the space between filter and sensor. @param joint by its camera-side element */
export function endsFlats(train: Train, joint: string): boolean {
  const at = train.elements.findIndex(({ id }) => id === joint);
  const seal = flatsSealOf(train, jointsOf(train));
  // What changes the fingerprint when it is not there is inside.
  return (
    at >= 0 &&
    train.flats !== undefined &&
    train.flats.ended === undefined &&
    train.flats.as === seal &&
    seal !==
      flatsSealOf(
        train,
        jointsOf(train).filter(({ cameraId }) => cameraId !== joint)
      )
  );
}

/** Writes down that the flats ended, and by what. */
export const endFlats = (flats: Flats, by: string): Operation => put({ ...flats, ended: by.slice(0, 200) });
