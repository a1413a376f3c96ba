import { DISC_ARCMIN, type SkyPlace } from '@lodestone/core/sky';

/** Something to photograph, out of the catalogue that ships. */
export interface SkyObject extends SkyPlace {
  id: string;
  name?: string;
  kind: string;
  majorArcmin: number;
  minorArcmin: number;
  /** As small as it gets, where its size changes. */
  leastArcmin?: number;
  magnitude?: number;
  /** Position angle of its long axis, north through east, degrees; absent where the catalogue has none. */
  positionDeg?: number;
}

export interface Sky {
  objects: readonly SkyObject[];
  /** Right ascension, declination, degrees, and magnitude; brightest first. */
  stars: readonly (readonly [raDeg: number, decDeg: number, magnitude: number])[];
}

/** Moon and Sun: their places change, and their sizes with their distance; framed as large as they get. */
const wandering = (id: string, [leastArcmin, mostArcmin]: readonly [number, number]): SkyObject => ({
  id,
  kind: id,
  raDeg: NaN,
  decDeg: NaN,
  leastArcmin,
  majorArcmin: mostArcmin,
  minorArcmin: mostArcmin
});

export const MOON = wandering('Moon', DISC_ARCMIN.moon);
export const SUN = wandering('Sun', DISC_ARCMIN.sun);

let loading: Promise<Sky> | undefined;

/** The catalogue, fetched when somebody frames something. */
export const loadSky = (): Promise<Sky> =>
  (loading ??= import('./generated/sky.json').then(({ default: { objects, stars } }) => ({
    objects: [MOON, SUN, ...objects],
    stars: stars as unknown as Sky['stars']
  })));

/** How large an object is: `31.5 to 32.5′`, `190′ × 60′`. */
export const sizeInWords = ({ leastArcmin, majorArcmin, minorArcmin }: SkyObject): string =>
  leastArcmin !== undefined
    ? `${leastArcmin} to ${majorArcmin}′`
    : `${majorArcmin}′${minorArcmin === majorArcmin ? '' : ` × ${minorArcmin}′`}`;

/** What an object is called. */
export const objectInWords = ({ id, name }: SkyObject): string => (name ? `${id} · ${name}` : id);

/** Objects by what is typed of their designation or name; those whose beginning it is first. */
export function findObjects(objects: readonly SkyObject[], typed: string, most: number): SkyObject[] {
  const plain = (text: string): string => text.toLowerCase().replaceAll(/[\s·]+/g, '');
  const wanted = plain(typed);
  if (wanted === '') return objects.slice(0, most);
  const ranked = objects.flatMap((object) => {
    const words = [object.id, object.name ?? '', ...(object.name ?? '').split(' ')].map(plain);
    const rank = words.some((word) => word === wanted) ? 0 : words.some((word) => word.startsWith(wanted)) ? 1 : 2;
    return rank < 2 || words.some((word) => word.includes(wanted)) ? [{ object, rank }] : [];
  });
  return ranked
    .sort((a, b) => a.rank - b.rank)
    .slice(0, most)
    .map(({ object }) => object);
}
