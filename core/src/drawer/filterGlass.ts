import { glassOf, type Glass } from '../train/model.ts';
import type { Part } from './part.ts';

/**
 * A filter of the drawer as the glass of a holder: one plate, with the filter's own number, format, mass and name.
 *
 * @param slot it stands in; undefined where the holder has none
 * @returns undefined where the part is no filter, or its thickness is not stated
 */
export function filterGlass(part: Part, slot?: number): Glass | undefined {
  const { element, partId } = part;
  if (element.kind !== 'filter') return undefined;
  const [plate] = glassOf(element) ?? [];
  if (!plate) return undefined;
  const { fromSkyMm: _from, slot: _slot, counted: _counted, ...own } = plate;
  const { massG, clearMm } = element;
  return {
    ...(massG === undefined ? {} : { massG }),
    ...(clearMm === undefined ? {} : { clearMm }),
    ...own,
    name: own.name ?? element.name,
    partId,
    ...(slot === undefined ? {} : { slot })
  };
}
