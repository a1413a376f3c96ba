import { filterKey } from './channels.ts';
import { minutesOf, type Exposed } from './exposures.ts';

/** What holds the filters, and which are in it. */
export interface FilterHolder {
  /** Filters it takes at once. */
  slots: number;
  /** Names of those that are in it, in the order of their slots. */
  standing: readonly string[];
}

/** Minutes through one filter in one night. */
export interface NightShare {
  filter: string;
  minutes: number;
}

export interface FilterNight {
  shares: NightShare[];
  /** Filters that have to be put in by hand before it. */
  putIn: string[];
}

export interface FilterNights {
  /** The first of them, at most {@link MOST_NIGHTS}. */
  nights: FilterNight[];
  /** How many there are. */
  count: number;
  /** How often somebody has to be at the telescope for the filters, before the first night as well. */
  visits: number;
}

/** Nights that are listed one by one. */
export const MOST_NIGHTS = 60;

const SHORT_MINUTES = 1e-6;

/**
 * Which nights need which filters: what a holder takes at once is exposed from afar, in the order of the plan; for the
 * next set somebody has to be there, and it begins on another night. What is in the holder comes first.
 *
 * @param times how many times the exposures are taken: panels, each as long as it takes
 * @param holder undefined where nothing holds filters: then they are changed by hand one by one
 * @param nightMinutes time for exposures in a night
 */
export function filterNights(
  exposures: readonly Exposed[],
  times: number,
  holder: FilterHolder | undefined,
  nightMinutes: number
): FilterNights {
  const minutes = new Map<string, NightShare>();
  for (const each of exposures) {
    const key = filterKey(each.filter);
    const known = minutes.get(key);
    const more = minutesOf([each]) * times;
    if (known) known.minutes += more;
    else minutes.set(key, { filter: each.filter, minutes: more });
  }
  const standing = new Set((holder?.standing ?? []).map(filterKey));
  const needed = [...minutes].filter(([, share]) => share.minutes > SHORT_MINUTES);
  const first = needed.filter(([key]) => standing.has(key));
  const later = needed.filter(([key]) => !standing.has(key));
  const slots = Math.max(1, holder?.slots ?? 1);
  // Where all go in together one set does, in the order of the plan.
  const ordered = needed.length <= slots ? needed : [...first, ...later];
  const found: FilterNights = { nights: [], count: 0, visits: 0 };
  for (let at = 0; at < ordered.length; at += slots) {
    const set = ordered.slice(at, at + slots);
    const putIn = set.filter(([key]) => at > 0 || !standing.has(key)).map(([, { filter }]) => filter);
    if (putIn.length > 0) found.visits++;
    spread(
      set.map(([, share]) => share),
      putIn,
      nightMinutes,
      found
    );
  }
  return found;
}

/** One set’s filters over as many nights as they take. */
function spread(set: readonly NightShare[], putIn: string[], nightMinutes: number, into: FilterNights): void {
  const wholeMinutes = set.reduce((sum, { minutes }) => sum + minutes, 0);
  const count = Math.max(1, Math.ceil(wholeMinutes / nightMinutes - SHORT_MINUTES));
  into.count += count;
  const left = set.map((share) => ({ ...share }));
  for (let night = 0; night < count && into.nights.length < MOST_NIGHTS; night++) {
    const shares: NightShare[] = [];
    let room = nightMinutes;
    for (const share of left) {
      const minutes = Math.min(share.minutes, room);
      if (minutes <= SHORT_MINUTES) continue;
      shares.push({ filter: share.filter, minutes });
      share.minutes -= minutes;
      room -= minutes;
    }
    into.nights.push({ shares, putIn: night === 0 ? putIn : [] });
  }
}
