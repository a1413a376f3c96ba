import { radians } from '../stats/angles.ts';
import { coneAt, type Beam } from './beam.ts';

/** A hole that light passes, or a thing that stands in it, across the axis, mm. */
interface Placed {
  beam: Beam;
  /** Air-equivalent distance before the focus of its beam, mm. */
  zMm: number;
  /** Image heights in this beam over those on the sensor: 1, or 1/m ahead of a reducer. */
  fieldScale: number;
}

export interface Hole extends Placed {
  kind: 'round' | 'square';
  /** Diameter of the round, side of the square, mm. */
  clearMm: number;
  /** Its middle against the axis, mm. */
  atMm: readonly [number, number];
}

/** A bar that reaches into the beam from one side, as the stalk of a guider does. */
export interface Bar extends Placed {
  /** Distance of its end from the axis, mm. */
  innerEdgeMm: number;
  widthMm: number;
  /** Where it comes from, degrees anticlockwise from +x. */
  fromDeg: number;
}

/** All that stands between a pupil and a point of the sensor. */
export interface Optics {
  holes: readonly Hole[];
  bars: readonly Bar[];
  /** Diameter of what hides the middle of the pupil, over that of the pupil. */
  obstruction: number;
}

/** Lines the pupil is cut into; the error of a share is then below 2·10⁻⁴. */
export const FINE_LINES = 192;

/** Lines for searches, where a thousandth does not count. */
export const COARSE_LINES = 96;

type Interval = readonly [number, number];

/** Part of a line at `x` inside a disc. */
function chord(x: number, cx: number, cy: number, radius: number): Interval | undefined {
  const square = radius * radius - (x - cx) * (x - cx);
  if (square <= 0) return undefined;
  const half = Math.sqrt(square);
  return [cy - half, cy + half];
}

/** What a hole lets through, in the pupil's own measure: the pupil is the unit disc. */
interface PupilHole {
  kind: Hole['kind'];
  x: number;
  y: number;
  half: number;
}

interface PupilBar {
  /** Direction it comes from. */
  cos: number;
  sin: number;
  inner: number;
  /** Its middle line, across that direction. */
  across: number;
  half: number;
}

/** Through a cone that is only a point everything passes, or nothing. */
const POINT_MM = 1e-9;

function inPupil(
  field: readonly [number, number],
  { holes, bars }: Optics
): { holes: PupilHole[]; bars: PupilBar[] } | 'dark' {
  const seen: PupilHole[] = [];
  for (const { beam, zMm, fieldScale, kind, clearMm, atMm } of holes) {
    const cone = coneAt(beam, [field[0] * fieldScale, field[1] * fieldScale], zMm);
    const [dx, dy] = [atMm[0] - cone.x, atMm[1] - cone.y];
    const half = clearMm / 2;
    if (cone.radius < POINT_MM) {
      const inside = kind === 'round' ? Math.hypot(dx, dy) <= half : Math.max(Math.abs(dx), Math.abs(dy)) <= half;
      if (!inside) return 'dark';
      continue;
    }
    const hole = { kind, x: dx / cone.radius, y: dy / cone.radius, half: half / cone.radius };
    const reach = kind === 'round' ? Math.hypot(hole.x, hole.y) : Math.max(Math.abs(hole.x), Math.abs(hole.y));
    // Wider than the whole cone: it takes nothing.
    if (reach + 1 > hole.half) seen.push(hole);
  }
  const standing: PupilBar[] = [];
  for (const { beam, zMm, fieldScale, innerEdgeMm, widthMm, fromDeg } of bars) {
    const cone = coneAt(beam, [field[0] * fieldScale, field[1] * fieldScale], zMm);
    const angle = radians(fromDeg);
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
    const along = cone.x * cos + cone.y * sin;
    const across = -cone.x * sin + cone.y * cos;
    if (cone.radius < POINT_MM) {
      if (along >= innerEdgeMm && Math.abs(across) <= widthMm / 2) return 'dark';
      continue;
    }
    const bar = {
      cos,
      sin,
      inner: (innerEdgeMm - along) / cone.radius,
      across: -across / cone.radius,
      half: widthMm / 2 / cone.radius
    };
    if (bar.inner < 1 && Math.abs(bar.across) - bar.half < 1) standing.push(bar);
  }
  return { holes: seen, bars: standing };
}

/** Part of a vertical line at `x` that a bar hides: a strip turned by its angle, cut at its end. */
function hidden(x: number, { cos, sin, inner, across, half }: PupilBar): Interval | undefined {
  let [low, high] = [-Infinity, Infinity];
  /** Keeps y with a·x + b·y ≥ c. */
  const keep = (a: number, b: number, c: number): void => {
    const rest = c - a * x;
    if (Math.abs(b) < 1e-12) {
      if (rest > 0) high = -Infinity;
    } else if (b > 0) low = Math.max(low, rest / b);
    else high = Math.min(high, rest / b);
  };
  keep(cos, sin, inner);
  keep(-sin, cos, across - half);
  keep(sin, -cos, -across - half);
  return low < high ? [low, high] : undefined;
}

/** Length of [low, high] that no interval hides. */
function seenLength(low: number, high: number, hiding: Interval[]): number {
  if (hiding.length === 0) return high - low;
  hiding.sort((a, b) => a[0] - b[0]);
  let length = 0;
  let at = low;
  for (const [from, to] of hiding) {
    if (from > at) length += Math.min(from, high) - at;
    at = Math.max(at, to);
    if (at >= high) return length;
  }
  return length + high - at;
}

/** Ends and corners between which what is integrated has no jump, ascending. */
function breaks(holes: readonly PupilHole[], bars: readonly PupilBar[]): number[] {
  let from = -1;
  let to = 1;
  for (const { x, half } of holes) {
    if (x - half > from) from = x - half;
    if (x + half < to) to = x + half;
  }
  if (from >= to) return [];
  if (bars.length === 0) return [from, to];
  const corners = bars.flatMap(({ cos, sin, inner, across, half }) =>
    [across - half, across + half].map((side) => inner * cos - side * sin)
  );
  return [from, ...corners.filter((x) => x > from && x < to).sort((a, b) => a - b), to];
}

/** Length of the vertical line at `x` that light passes; `edge` is half of what the pupil has of it. */
function lit(
  x: number,
  edge: number,
  holes: readonly PupilHole[],
  bars: readonly PupilBar[],
  obstruction: number
): number {
  let low = -edge;
  let high = edge;
  // Asked for every line of every point of a map: no pairs are made here.
  for (const { kind, x: middle, y, half } of holes) {
    const off = x - middle;
    const square = half * half - off * off;
    if (square <= 0) return 0;
    const reach = kind === 'round' ? Math.sqrt(square) : half;
    if (y - reach > low) low = y - reach;
    if (y + reach < high) high = y + reach;
  }
  if (high <= low) return 0;
  if (obstruction === 0 && bars.length === 0) return high - low;
  const hiding: Interval[] = [];
  const obstructed = obstruction > 0 ? chord(x, 0, 0, obstruction) : undefined;
  if (obstructed) hiding.push(obstructed);
  for (const bar of bars) {
    const interval = hidden(x, bar);
    if (interval) hiding.push(interval);
  }
  return seenLength(low, high, hiding);
}

/**
 * Share of the light of the unobstructed pupil that reaches a point of the sensor (handbook §5): the part of the
 * pupil that every hole leaves, integrated line by line, x = sin θ, so that the edge of the pupil costs no accuracy.
 *
 * @param field point of the sensor, mm from the axis
 * @param lines how finely, see {@link FINE_LINES}
 */
export function illumination(field: readonly [number, number], optics: Optics, lines = FINE_LINES): number {
  const seen = inPupil(field, optics);
  if (seen === 'dark') return 0;
  const { holes, bars } = seen;
  if (holes.length === 0 && bars.length === 0) return 1;
  const middle = optics.obstruction;
  const at = breaks(holes, bars);
  let area = 0;
  for (let piece = 0; piece + 1 < at.length; piece++) {
    const [from, to] = [Math.asin(at[piece]!), Math.asin(at[piece + 1]!)];
    const count = Math.max(4, Math.ceil((lines * (to - from)) / Math.PI));
    const step = (to - from) / count;
    for (let line = 0; line < count; line++) {
      const angle = from + (line + 0.5) * step;
      const edge = Math.cos(angle);
      // dx = cos θ dθ.
      area += lit(Math.sin(angle), edge, holes, bars, middle) * edge * step;
    }
  }
  return Math.max(0, Math.min(1, area / (Math.PI * (1 - middle * middle))));
}

/** Lines for a map, where a thousandth is not seen. */
const MAP_LINES = 32;

/**
 * Illumination over the sensor, row by row from its lower left: `columns` × `rows` shares, at the middles of equal
 * cells.
 */
export function illuminationMap(
  [widthMm, heightMm]: readonly [number, number],
  [columns, rows]: readonly [number, number],
  optics: Optics
): Float64Array {
  const map = new Float64Array(columns * rows);
  for (let row = 0; row < rows; row++) {
    for (let column = 0; column < columns; column++) {
      const x = ((column + 0.5) / columns - 0.5) * widthMm;
      const y = ((row + 0.5) / rows - 0.5) * heightMm;
      map[row * columns + column] = illumination([x, y], optics, MAP_LINES);
    }
  }
  return map;
}
