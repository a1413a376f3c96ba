import type { Frame } from '../frame.ts';
import { mendNeighbours, type Stamp } from '../stamp.ts';
import { cutClean, reachOf } from './clean.ts';
import { Near } from './near.ts';
import { measureStamp } from './one.ts';
import type { Measured } from './star.ts';

/** Two peaks nearer to each other than this share of a star's half-flux radius lead to one star. */
const ONE_STAR = 0.7;

/** Every star once, the brighter one of two that are the same. */
export function onceEach(stars: readonly Measured[]): Measured[] {
  const largest = stars.reduce((most, { hfrPx }) => Math.max(most, hfrPx), 1);
  const taken = new Near<Measured>(8);
  return stars
    .toSorted((p, q) => q.flux - p.flux)
    .filter((star) => {
      const isKnown = taken
        .within(ONE_STAR * largest, star)
        .some(({ x, y, hfrPx }) => Math.hypot(x - star.x, y - star.y) < ONE_STAR * Math.max(1, hfrPx));
      if (!isKnown) taken.add(star);
      return !isKnown;
    });
}

/** Takes the light of a measured star away, as far as a normal distribution tells it. */
function subtract({ x0, y0, side, pixels }: Stamp, { x, y, flux, moments }: Measured): void {
  const { xx, yy, xy } = moments;
  const determinant = xx * yy - xy * xy;
  const height = flux / (2 * Math.PI * Math.sqrt(determinant));
  for (let line = 0; line < side; line++) {
    const dy = line + y0 + 1 - y;
    for (let column = 0; column < side; column++) {
      const dx = column + x0 + 1 - x;
      const square = (yy * dx * dx - 2 * xy * dx * dy + xx * dy * dy) / determinant;
      if (square < 30) pixels[line * side + column]! -= height * Math.exp(-square / 2);
    }
  }
}

/** Measures the stars that have neighbours once more, those taken away. */
export function measureCrowded(frame: Frame, stars: readonly Measured[]): Measured[] {
  const neighbourhood = new Near(32, stars);
  return stars.map((star) => {
    if (!star.isCrowded) return star;
    const reach = reachOf(star.size);
    const near = neighbourhood.within(reach + 4, star);
    if (near.length === 0) return star;
    const { stamp } = cutClean(frame, Math.round(star.x - 1), Math.round(star.y - 1), reach, star.sky);
    for (const other of near) subtract(stamp, other);
    mendNeighbours(stamp, star.x - 1, star.y - 1, star.size, []);
    const again = measureStamp(frame, stamp, star.x - 1, star.y - 1, star.size, reach, star.sky);
    // Where it leads elsewhere the neighbours were badly known.
    return again && Math.hypot(again.x - star.x, again.y - star.y) < 1.5 ? { ...star, ...again } : star;
  });
}
