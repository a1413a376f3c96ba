import { fitAt, type Fit } from '../joint/fit.ts';
import { KINDS, type Port } from '../train/model.ts';
import { CATALOGUE, type UsualThing } from './catalogue.ts';

/** A usual part for a place, and how it fits there; undefined: neither face is known to join. */
export interface UsualFit {
  thing: UsualThing;
  fit: Fit | undefined;
}

/** Lower case, decimal points, without marks: `T-Ring`, `t ring` and `tring` alike. */
const plain = (text: string): string =>
  text
    .toLowerCase()
    .replace(/(?<=\d),(?=\d)/g, '.')
    .replace(/[×*]/g, 'x')
    .replace(/[-″"]/g, '');

const squeezed = (text: string): string => text.replaceAll(' ', '');

/** What is found by: words, figures, kind. */
const FOUND_BY = new Map(
  CATALOGUE.filter(({ role }) => role === 'part').map((thing) => [
    thing,
    plain(`${thing.words} ${thing.figures} ${KINDS[thing.element.kind].words}`)
  ])
);

const RANK: readonly (Fit['closes'] | undefined)[] = ['both', 'sky', 'camera', 'unknown', undefined];

/**
 * Usual parts that are called something, those first that fit between two faces.
 *
 * @param query every word has to occur; without words only what closes the place
 * @param above camera face of what stands on the sky side; undefined where not known
 * @param below sky face of what stands on the camera side
 */
export function usualParts(query: string, above?: Port, below?: Port): UsualFit[] {
  const words = plain(query).split(/\s+/).filter(Boolean);
  const found = [...FOUND_BY]
    .filter(([, text]) => words.every((word) => text.includes(word) || squeezed(text).includes(word)))
    .map(([thing]): UsualFit => ({ thing, fit: fitAt(thing.element, above, below) }));
  const fitting = words.length > 0 ? found : found.filter(({ fit }) => fit?.closes === 'both');
  return fitting.sort((a, b) => RANK.indexOf(a.fit?.closes) - RANK.indexOf(b.fit?.closes));
}
