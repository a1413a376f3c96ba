import { filterKey } from '../sky/channels.ts';
import type { Night } from '../train/model.ts';
import { hoursOf, seasonOf, type Season } from './season.ts';

/** The nights of one train among several. */
export interface TrainNights {
  id: string;
  name: string;
  nights: readonly Night[];
}

/** What the nights of several trains come to. */
export interface SeasonOfTrains extends Season {
  /** Each train that had a night, the one with most hours first. */
  trains: { id: string; name: string; season: Season }[];
}

/**
 * Adds up the nights of several trains, each evening once however many of them were out.
 *
 * @param from first day that counts, `YYYY-MM-DD`; all from the first night where left out
 * @param to last day that counts
 */
export function seasonOfTrains(trains: readonly TrainNights[], from = '', to = '9999-99-99'): SeasonOfTrains {
  const counted = trains
    .map(({ id, name, nights }) => ({ id, name, nights: nights.filter(({ on }) => on >= from && on <= to) }))
    .filter(({ nights }) => nights.length > 0);
  const all = counted.flatMap(({ nights }) => nights);
  const { byFilter, ...whole } = seasonOf(all);
  // One train calls a filter so, another so: under the name that most of its hours have.
  const merged = new Map<string, [filter: string, hours: number]>();
  for (const [filter, hours] of byFilter) {
    const key = filterKey(filter);
    merged.set(key, [merged.get(key)?.[0] ?? filter, (merged.get(key)?.[1] ?? 0) + hours]);
  }
  return {
    ...whole,
    nights: new Set(all.map(({ on }) => on)).size,
    byFilter: [...merged.values()].sort((a, b) => b[1] - a[1] || a[0].localeCompare(b[0])),
    trains: counted
      .map(({ id, name, nights }) => ({ id, name, season: seasonOf(nights) }))
      .sort((a, b) => b.season.hours - a.season.hours || a.name.localeCompare(b.name))
  };
}

/** Exposure of one evening with one train, hours; two entries of one evening count together. */
export function hoursByEvening(nights: readonly Night[]): [on: string, hours: number][] {
  const byEvening = new Map<string, number>();
  for (const night of nights) byEvening.set(night.on, (byEvening.get(night.on) ?? 0) + hoursOf(night));
  return [...byEvening].sort(([a], [b]) => a.localeCompare(b));
}
