/** One frame of a focus run: measured, or seen by eye against the one before. */
export interface FocusPoint {
  /** Steps, or whatever the focuser counts in. */
  position: number;
  /** Half-flux radius; a lower bound where `ceiling` is said. */
  hfrPx?: number;
  /** The star against the frame before, where it was not measured; nothing: no star was seen. */
  seen?: 'larger' | 'smaller' | 'same' | 'nothing';
  /** Standard deviation of the radius. */
  standardPx?: number;
  /** The star was larger than can be measured. */
  ceiling?: boolean;
  /** Which star; points of one star only are compared. */
  star?: string;
  /** Way the focuser came; by the order of the points where it is not said. */
  direction?: 'out' | 'in';
}

/** A point whose star was measured. */
export type Measured = FocusPoint & { hfrPx: number };

export const isMeasured = <Point extends FocusPoint>(point: Point): point is Point & { hfrPx: number } =>
  point.hfrPx !== undefined && !point.ceiling;

/** A single frame’s half-flux radius scatters by about this share where nothing is said of it (common practice, no source). */
const USUAL_SCATTER = 0.03;

/** Standard deviation of a measured radius, px. */
export const standardOf = ({ hfrPx, standardPx }: Measured): number => standardPx ?? USUAL_SCATTER * hfrPx;

/** A position with the mean radius there. */
export interface Place {
  position: number;
  hfrPx: number;
  standardPx: number;
}

/** Positions in order, each once. */
export function placesOf(points: readonly Measured[]): Place[] {
  const byPosition = new Map<number, Measured[]>();
  for (const point of points) {
    const there = byPosition.get(point.position);
    if (there) there.push(point);
    else byPosition.set(point.position, [point]);
  }
  return [...byPosition]
    .map(([position, there]) => {
      const mean = (of: (point: Measured) => number): number =>
        there.reduce((sum, each) => sum + of(each), 0) / there.length;
      return {
        position,
        hfrPx: mean(({ hfrPx }) => hfrPx),
        standardPx: mean(standardOf) / Math.sqrt(there.length)
      };
    })
    .sort((a, b) => a.position - b.position);
}

/** Places a long run is gathered in before places are compared with each other. */
const MOST_PLACES = 40;

/** Places of a run, neighbours gathered where there are many: what noise does between them is gone then. */
export function gathered(points: readonly Measured[]): Place[] {
  const there = placesOf(points);
  const each = Math.ceil(there.length / MOST_PLACES);
  if (each === 1) return there;
  return Array.from({ length: Math.ceil(there.length / each) }, (_, at) => {
    const some = there.slice(at * each, (at + 1) * each);
    const mean = (of: (place: (typeof there)[number]) => number): number =>
      some.reduce((sum, place) => sum + of(place), 0) / some.length;
    return {
      position: mean(({ position }) => position),
      hfrPx: mean(({ hfrPx }) => hfrPx),
      standardPx: mean(({ standardPx }) => standardPx) / Math.sqrt(some.length)
    };
  });
}
