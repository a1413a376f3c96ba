import type { Item, Packer } from './packer.svelte.ts';

/** A place, and what of each train is fetched from it. */
export interface Place {
  /** Null: where it lies is not known. */
  location: string | null;
  items: { packer: Packer; item: Item }[];
}

/** The lists of several trains place by place, as hands go; joints are no things, and stay out. */
export function byPlace(packers: readonly Packer[]): Place[] {
  const places = new Map<string | null, Place['items']>();
  for (const packer of packers) {
    for (const item of packer.items) {
      if (item.group === 'joints') continue;
      places.set(item.location, [...(places.get(item.location) ?? []), { packer, item }]);
    }
  }
  return [...places]
    .map(([location, items]) => ({ location, items }))
    .sort((a, b) => (a.location === null ? 1 : b.location === null ? -1 : a.location.localeCompare(b.location)));
}
