import type { PublishedBy } from '../why/explanation.ts';
import { HOST, findElement, type Element, type Host, type Source, type Train } from './model.ts';

export type SourceOf = Source['of'];

/** What a source is of, in words. */
export const SOURCE_OF_WORDS: Readonly<Record<SourceOf, string>> = {
  length: 'length',
  'back-focus': 'back focus',
  tolerance: 'tolerance',
  glass: 'glass',
  threads: 'threads and faces',
  clear: 'clear aperture',
  mass: 'mass',
  travel: 'travel',
  other: 'something else'
};

/** Sources of one kind of figure of a part or of the host; none of what has no body. */
const sourcesOf = (element: Element | Host | undefined, of: SourceOf): readonly Source[] =>
  element && 'sources' in element ? (element.sources ?? []).filter((source) => source.of === of) : [];

/** `the maker, leaflet of 2024, page 3`; undefined where only the day or the scan is kept. */
export function sourceInWords({ by, where }: Source): string | undefined {
  const words = [by, where].filter((each) => each !== undefined);
  return words.length === 0 ? undefined : words.join(', ');
}

/** Where a figure of the host or of an element is published. @param id of the element, or `host` */
export const publishedBy = (train: Train, id: string, of: SourceOf): { published?: readonly PublishedBy[] } => {
  const found = sourcesOf(id === HOST ? train.host : findElement(train, id), of);
  if (found.length === 0) return {};
  return {
    published: found.map((source) => ({
      words: sourceInWords(source),
      on: source.on,
      scan: source.scan,
      scanName: source.scanName
    }))
  };
};
