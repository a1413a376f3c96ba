import { KINDS, isBody, isShim, isSolid, type CameraElement, type Element, type Train } from '../train/model.ts';

/** How a variant differs from the train it shares its trunk with. */
export interface VariantChoice {
  name: string;
  /** Elements that are left out. */
  without: readonly string[];
  /** Another camera in place of this one. */
  camera?: CameraElement;
  /** A one-shot colour sensor, or a monochrome one, in the camera that is there. */
  colour?: boolean;
}

/** A place that is filled anew has no more rings than there are; what it is called. */
const OPEN_NAME = 'Spacers for this variant';

/**
 * A variant of a train: some parts left out, another camera, with one open place where the rings that made up the length
 * stood, for the finder to fill.
 */
export function variantOf(train: Train, { name, without, camera, colour }: VariantChoice): Train {
  const left = new Set(without);
  const kept = train.elements.filter(({ id }) => !left.has(id));
  const replaced = camera !== undefined || without.length > 0;
  const elements = kept.map((element): Element => {
    if (element.kind !== 'camera') return element;
    const own = camera ? { ...camera, id: element.id } : element;
    return colour === undefined || !own.sensor ? own : { ...own, sensor: { ...own.sensor, colour } };
  });
  const { assembly: _assembly, groups: _groups, flats: _flats, packing: _packing, ...plan } = train;
  return { ...plan, name, variantOf: train.name, elements: replaced ? opened(elements) : elements };
}

/** Rings that only make up length give way to one open place, behind whatever asks for a length. */
function opened(elements: readonly Element[]): Element[] {
  const datum = elements.findIndex((element) => isBody(element) && element.corrector !== undefined);
  const isRing = (element: Element, index: number): boolean =>
    index > datum &&
    (isShim(element) || element.kind === 'gap' || (isBody(element) && KINDS[element.kind].fills && !element.adjust));
  const first = elements.findIndex(isRing);
  const at = first < 0 ? elements.findLastIndex(isSolid) : first;
  const before = elements.slice(0, at).filter((element, index) => !isRing(element, index));
  const after = elements.slice(at).filter((element, index) => !isRing(element, at + index));
  const taken = new Set(elements.map(({ id }) => id));
  let id = 'gap';
  for (let number = 2; taken.has(id); number++) id = `gap-${number}`;
  return [...before, { id, kind: 'gap', name: OPEN_NAME }, ...after];
}
