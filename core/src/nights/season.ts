import { glassOf, type Night, type Train } from '../train/model.ts';

/** A night with its id. */
export interface NightOf extends Night {
  id: string;
}

/** The nights of a train, the newest first. */
export const nightsOf = ({ nights = {} }: Pick<Train, 'nights'>): NightOf[] =>
  Object.entries(nights)
    .map(([id, night]) => ({ ...night, id }))
    .sort((a, b) => b.on.localeCompare(a.on) || b.id.localeCompare(a.id));

/** Filters a train has, by name, each once. */
export function filterNames({ elements }: Pick<Train, 'elements'>): string[] {
  const names = elements.flatMap((element) =>
    (glassOf(element) ?? [])
      .filter(({ slot, role, thicknessMm }) => thicknessMm > 0 && (slot !== undefined || role === 'filter'))
      .map(({ name, passband, slot }) => passband ?? name ?? `slot ${slot}`)
  );
  return [...new Set(names)];
}

/** Exposure of a night over all its filters, hours. */
export const hoursOf = ({ hours = {} }: Pick<Night, 'hours'>): number =>
  Object.values(hours).reduce((sum, each) => sum + each, 0);

/** What nights come to together. */
export interface Season {
  nights: number;
  /** First and last day; undefined of no night. */
  days: readonly [string, string] | undefined;
  hours: number;
  /** Hours by filter, the most first. */
  byFilter: [filter: string, hours: number][];
}

/** Adds nights up. */
export function seasonOf(nights: readonly Night[]): Season {
  const byFilter = new Map<string, number>();
  for (const { hours = {} } of nights) {
    for (const [filter, each] of Object.entries(hours)) byFilter.set(filter, (byFilter.get(filter) ?? 0) + each);
  }
  const days = nights.map(({ on }) => on).sort();
  return {
    nights: nights.length,
    days: days.length === 0 ? undefined : [days[0]!, days.at(-1)!],
    hours: nights.reduce((sum, night) => sum + hoursOf(night), 0),
    byFilter: [...byFilter].sort((a, b) => b[1] - a[1] || a[0].localeCompare(b[0]))
  };
}
