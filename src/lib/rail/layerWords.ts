import type { Facts } from '@lodestone/core/check';
import { placeLedLabels, type Stop } from '@lodestone/core/shape';
import { LETTER_PX } from '$lib/charts/words.ts';
import type { LayerView } from './layers.svelte.ts';

/** A word of a layer: it stands above the parts, and a line leads from it to what it is about. */
export interface LayerWord {
  stop: Stop;
  /** Where the line begins: over what it is about, or at the end of the word that is nearest to it, px. */
  leadX: number;
  middle: number;
  /** The first one is nearest to the parts. */
  row: number;
}

/** More words are not read at once; what goes without one stands in the list of checks. */
const MOST_WORDS = 4;
export const WORD_ROW_PX = 15;
const EDGE_PX = 4;
const GAP_PX = 12;
/** On a phone a row holds one of them. */
const NARROW_PX = 500;

/** Rows that are kept free while a layer is on, however many words there are: what is drawn stays where it is. */
export const rowsOfWords = (widthPx: number): number => (widthPx < NARROW_PX ? 3 : 2);

/** Height of the point of the sensor that is looked at, mm. */
export const fieldOf = ({ share }: Pick<LayerView, 'share'>, { light }: Pick<Facts, 'light'>): number =>
  share * (light?.halfDiagonalMm ?? 0);

/**
 * Places the words of layers above the parts, none on another; what is wrong comes first, and what has no room is left
 * out.
 *
 * @param x place along the axis, mm to px
 */
export function layerWords(stops: readonly Stop[], x: (mm: number) => number, widthPx: number): LayerWord[] {
  const wanted = stops
    .map((stop) => ({ stop, at: x(stop.alongMm), width: stop.words.length * LETTER_PX }))
    .filter(({ at }) => at >= 0 && at <= widthPx)
    .toSorted((a, b) => Number(b.stop.bad) - Number(a.stop.bad))
    .slice(0, MOST_WORDS);
  const places = placeLedLabels(wanted, EDGE_PX, widthPx - EDGE_PX, GAP_PX, rowsOfWords(widthPx));
  return wanted.flatMap(({ stop, at, width }, index) => {
    const place = places[index];
    if (!place) return [];
    const { middle, row } = place;
    return [{ stop, middle, row, leadX: Math.max(middle - width / 2, Math.min(middle + width / 2, at)) }];
  });
}
