import type { SkyPlace } from '@lodestone/core';

/** Something to photograph, out of the catalogue that ships. */
export interface SkyObject extends SkyPlace {
  id: string;
  name?: string;
  kind: string;
  majorArcmin: number;
  minorArcmin: number;
  magnitude?: number;
  /** Position angle of its long axis, north through east, degrees; absent where the catalogue has none. */
  positionDeg?: number;
}

export interface Sky {
  objects: readonly SkyObject[];
  /** Right ascension, declination, degrees, and magnitude; brightest first. */
  stars: readonly (readonly [raDeg: number, decDeg: number, magnitude: number])[];
}

/** The Moon, whose place changes: only its size is known (mean, 31′). */
export const MOON: SkyObject = {
  id: 'Moon',
  kind: 'Moon',
  raDeg: NaN,
  decDeg: NaN,
  majorArcmin: 31,
  minorArcmin: 31
};

let loading: Promise<Sky> | undefined;

/** The catalogue, fetched when somebody frames something. */
export const loadSky = (): Promise<Sky> =>
  (loading ??= import('./generated/sky.json').then(({ default: { objects, stars } }) => ({
    objects: [MOON, ...objects],
    stars: stars as unknown as Sky['stars']
  })));

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
