import { KINDS, type Train } from '@lodestone/core/train';

/** Orders of the list: latest change first, or by name. */
export type Order = 'recent' | 'name';

export const ORDERS: readonly (readonly [Order, string])[] = [
  ['recent', 'last changed first'],
  ['name', 'by name']
];

/** From so many on a list is searched sooner than looked through. */
export const SEARCHED_FROM = 6;

interface Shelved {
  document: Train;
  revision: { savedAt: string };
}

/** Lower case, without accents. */
const plain = (text: string): string => text.toLowerCase().normalize('NFD').replace(/\p{M}/gu, '');

/** All that a train is found by: its name, tags and note, its telescope, its parts with their kinds and numbers. */
function wordsOf({ name, note = '', tags = [], host, elements }: Train): string {
  const parts = elements.map((element) =>
    [element.name, KINDS[element.kind].words, 'partId' in element ? (element.partId ?? '') : ''].join(' ')
  );
  return plain([name, note, ...tags, host.name, ...parts].join(' '));
}

/** Tags of some trains, each with how many have it: the most used first. */
export function tagsOf(trains: readonly Shelved[]): [tag: string, count: number][] {
  const counts = new Map<string, number>();
  for (const { document } of trains) for (const tag of document.tags ?? []) counts.set(tag, (counts.get(tag) ?? 0) + 1);
  return [...counts].sort(([a, m], [b, n]) => n - m || a.localeCompare(b, 'en', { numeric: true }));
}

/**
 * Trains as a shelf shows them.
 *
 * @param query every word has to occur somewhere in a train
 * @param tag that they are to have; all of them where it is left out
 */
export function shelved<T extends Shelved>(trains: readonly T[], query: string, order: Order, tag?: string): T[] {
  const words = plain(query).split(/\s+/).filter(Boolean);
  const found = trains.filter(({ document }) => {
    if (tag !== undefined && !document.tags?.some((each) => each === tag)) return false;
    const text = words.length > 0 ? wordsOf(document) : '';
    return words.every((word) => text.includes(word));
  });
  return order === 'name'
    ? found.sort((a, b) => a.document.name.localeCompare(b.document.name, 'en', { numeric: true }))
    : found.sort((a, b) => b.revision.savedAt.localeCompare(a.revision.savedAt));
}
