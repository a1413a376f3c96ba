import { readRow, type Frame, type Pixels } from './frame.ts';

/** A frame whose pixels were averaged two by two; colours of a mosaic are one grey then, without a grid. */
export interface Halved {
  width: number;
  height: number;
  /** ADU; NaN where all four have no value. */
  pixels: Float32Array;
}

/** Sky background and noise over a frame, in cells. */
export interface BackgroundMesh {
  columns: number;
  rows: number;
  /** Side of a cell, pixels of the halved frame. */
  cell: number;
  /** Sky of each cell, row after row, ADU. */
  level: Float32Array;
  /** Noise of a pixel of the halved frame, ADU. */
  noise: Float32Array;
}

const CELL = 32;
const LEAST_CELLS = 3;

/**
 * Grey values of a part of a row, ADU: the mean of the planes.
 *
 * @param spare as long as `out`
 */
export function readGrey(
  frame: Frame,
  y: number,
  fromX: number,
  toX: number,
  out: Float32Array,
  spare: Float32Array
): void {
  readRow(frame, 0, y, fromX, toX, out);
  const { length } = frame.planes;
  if (length === 1) return;
  for (let plane = 1; plane < length; plane++) {
    readRow(frame, plane, y, fromX, toX, spare);
    for (let x = 0; x < toX - fromX; x++) out[x]! += spare[x]!;
  }
  for (let x = 0; x < toX - fromX; x++) out[x]! /= length;
}

export function halve(frame: Frame, progress: (share: number) => void = () => {}): Halved {
  const width = frame.widthPx >> 1;
  const height = frame.heightPx >> 1;
  const pixels = new Float32Array(width * height);
  if (frame.planes.length === 1 && frame.blank === undefined) {
    const share = Math.ceil(height / 16);
    for (let from = 0; from < height; from += share) {
      halveRows(frame.planes[0]!, frame.widthPx, frame.scale, frame.zero, pixels, from, Math.min(height, from + share));
      progress(from / height);
    }
    return { width, height, pixels };
  }
  const [upper, lower, spare] = [0, 0, 0].map(() => new Float32Array(frame.widthPx)) as [
    Float32Array,
    Float32Array,
    Float32Array
  ];
  for (let y = 0; y < height; y++) {
    readGrey(frame, 2 * y, 0, 2 * width, upper, spare);
    readGrey(frame, 2 * y + 1, 0, 2 * width, lower, spare);
    averageRow(upper, lower, pixels, y * width, width);
    if ((y & 255) === 0) progress(y / height);
  }
  return { width, height, pixels };
}

/** Rows of one plane, straight from its pixels. */
function halveRows(
  plane: Pixels,
  widthPx: number,
  scale: number,
  zero: number,
  out: Float32Array,
  fromRow: number,
  toRow: number
): void {
  const width = widthPx >> 1;
  const quarter = scale / 4;
  for (let y = fromRow; y < toRow; y++) {
    let upper = 2 * y * widthPx;
    let lower = upper + widthPx;
    for (let to = y * width, end = to + width; to < end; to++, upper += 2, lower += 2) {
      out[to] = (plane[upper]! + plane[upper + 1]! + plane[lower]! + plane[lower + 1]!) * quarter + zero;
    }
  }
}

function averageRow(upper: Float32Array, lower: Float32Array, out: Float32Array, at: number, width: number): void {
  for (let x = 0, from = 0; x < width; x++, from += 2) {
    out[at + x] = (upper[from]! + upper[from + 1]! + lower[from]! + lower[from + 1]!) * 0.25;
  }
}

const medianOf = (sorted: Float32Array, count: number): number =>
  count === 0 ? NaN : (sorted[count >> 1]! + sorted[(count - 1) >> 1]!) / 2;

/** Clipping is at so many σ; what a normal distribution loses by it is given back. */
const CLIP = 2.6;
/** σ of a normal distribution over that of its part within ±2.6 σ. */
const CLIPPED_WIDER = 1.0381;
const ROUNDS = 3;
/** Lines of a cell that are looked at: every second one, or of very many cells every fourth, tells as much as is needed. */
const EVERY_LINE = 2;
const EVERY_LINE_OF_MANY = 4;
const MANY_CELLS = 2000;

/**
 * Middle and width of what is in a cell without its stars: mean and σ, clipped until they stand.
 *
 * @param width of a row of the cell
 */
function clipped(
  values: Float32Array,
  count: number,
  width: number,
  few: Float32Array
): { level: number; noise: number } {
  // A sample tells where to begin: its median, and its lower half, which stars do not reach.
  const stride = Math.max(1, Math.floor(count / few.length));
  let taken = 0;
  for (let at = stride >> 1; at < count && taken < few.length; at += stride) few[taken++] = values[at]!;
  const sample = few.subarray(0, taken).sort();
  let level = medianOf(sample, taken);
  let noise = level - sample[Math.floor(taken * 0.1587)]! || 0;
  for (let round = 0; round < ROUNDS; round++) {
    const [least, most] = [level - CLIP * noise, level + CLIP * noise];
    let sum = 0;
    let squares = 0;
    let kept = 0;
    for (let at = 0; at < count; at++) {
      const value = values[at]!;
      if (value < least || value > most) continue;
      const off = value - level;
      sum += off;
      squares += off * off;
      kept++;
    }
    if (kept === 0) break;
    const mean = sum / kept;
    level += mean;
    noise = Math.sqrt(Math.max(0, squares / kept - mean * mean)) * CLIPPED_WIDER;
  }
  // A slope of the sky within the cell is no noise: neighbours hardly differ by it.
  const [least, most] = [level - CLIP * noise, level + CLIP * noise];
  let squares = 0;
  let pairs = 0;
  for (let at = 1; at < count; at++) {
    if (at % width === 0) continue;
    const value = values[at]!;
    const before = values[at - 1]!;
    if (value < least || value > most || before < least || before > most) continue;
    squares += (value - before) * (value - before);
    pairs++;
  }
  return { level, noise: pairs === 0 ? noise : Math.min(noise, Math.sqrt(squares / (2 * pairs)) * CLIPPED_WIDER) };
}

/** Each cell the median of itself and its neighbours: a bright star or a galaxy does not lift the sky. */
function smoothed(values: Float32Array, columns: number, rows: number): Float32Array {
  const out = new Float32Array(values.length);
  const near = new Float32Array(9);
  for (let row = 0; row < rows; row++) {
    for (let column = 0; column < columns; column++) {
      let count = 0;
      for (let y = Math.max(0, row - 1); y <= Math.min(rows - 1, row + 1); y++) {
        for (let x = Math.max(0, column - 1); x <= Math.min(columns - 1, column + 1); x++) {
          const value = values[y * columns + x]!;
          if (value === value) near[count++] = value;
        }
      }
      out[row * columns + column] = medianOf(near.subarray(0, count).sort(), count);
    }
  }
  return out;
}

/** Steps of a whole number that a frame is counted in give noise too: σ = step/√12, halved by averaging four. */
const STEP_NOISE = 1 / Math.sqrt(12) / 2;

/** What a number of 24 bits is rounded by, as a share of it. */
const ROUNDED = 2 ** -24;

/**
 * Sky and noise of a halved frame; a frame without values anywhere has zero for both.
 *
 * @param stepAdu what its pixels are counted in; 0 of floating-point ones
 * @param side of a cell, pixels: what is wider than it is sky
 */
export function measureBackground(halved: Halved, stepAdu: number, side = CELL): BackgroundMesh {
  const { width, height, pixels } = halved;
  const cell = Math.max(4, Math.min(side, Math.floor(Math.min(width, height) / LEAST_CELLS)));
  const columns = Math.max(1, Math.round(width / cell));
  const rows = Math.max(1, Math.round(height / cell));
  const level = new Float32Array(columns * rows);
  const noise = new Float32Array(columns * rows);
  const values = new Float32Array(Math.ceil(width / columns + 1) * Math.ceil(height / rows + 1));
  const few = new Float32Array(81);
  const everyLine = columns * rows > MANY_CELLS ? EVERY_LINE_OF_MANY : EVERY_LINE;
  for (let row = 0; row < rows; row++) {
    const [y0, y1] = [Math.floor((row * height) / rows), Math.floor(((row + 1) * height) / rows)];
    for (let column = 0; column < columns; column++) {
      const [x0, x1] = [Math.floor((column * width) / columns), Math.floor(((column + 1) * width) / columns)];
      let count = 0;
      for (let y = y0; y < y1; y += everyLine) {
        for (let x = x0; x < x1; x++) {
          const value = pixels[y * width + x]!;
          if (value === value) values[count++] = value;
        }
      }
      const found = count < 8 ? { level: NaN, noise: NaN } : clipped(values, count, x1 - x0, few);
      level[row * columns + column] = found.level;
      noise[row * columns + column] = found.noise;
    }
  }
  // A frame without any noise, as no camera makes one, still has that of its numbers.
  const highest = level.reduce((most, value) => (Math.abs(value) > most ? Math.abs(value) : most), 0);
  const least = Math.max(STEP_NOISE * stepAdu, ROUNDED * highest, Number.MIN_VALUE);
  return {
    columns,
    rows,
    cell,
    level: smoothed(level, columns, rows).map((value) => (value === value ? value : 0)),
    noise: smoothed(noise, columns, rows).map((value) => Math.max(least, value === value ? value : 0))
  };
}

/** Takes the sky away and tells what is left in units of its noise, in place; what has no value becomes sky. */
export function flatten({ width, height, pixels }: Halved, mesh: BackgroundMesh): void {
  const { columns, rows } = mesh;
  const sharpness = mesh.noise.map((noise) => 1 / noise);
  const level = new Float32Array(columns);
  const inverse = new Float32Array(columns);
  for (let y = 0; y < height; y++) {
    const v = Math.max(0, Math.min(rows - 1, ((y + 0.5) * rows) / height - 0.5));
    const row = Math.floor(v);
    const [above, below, down] = [row * columns, Math.min(rows - 1, row + 1) * columns, v - row];
    for (let column = 0; column < columns; column++) {
      level[column] = mesh.level[above + column]! * (1 - down) + mesh.level[below + column]! * down;
      inverse[column] = sharpness[above + column]! * (1 - down) + sharpness[below + column]! * down;
    }
    // Between the middles of two cells both run straight; before the first and after the last they stand.
    const step = columns / width;
    for (let column = -1; column < columns; column++) {
      const [left, right] = [Math.max(0, column), Math.min(columns - 1, column + 1)];
      const from = Math.max(0, Math.ceil((column + 0.5) / step - 0.5));
      const to = Math.min(width, Math.ceil((column + 1.5) / step - 0.5));
      const into = left === right ? 0 : (from + 0.5) * step - 0.5 - column;
      const [rise, steepen] = [(level[right]! - level[left]!) * step, (inverse[right]! - inverse[left]!) * step];
      flattenRun(
        pixels,
        y * width + from,
        y * width + to,
        level[left]! + (level[right]! - level[left]!) * into,
        rise,
        inverse[left]! + (inverse[right]! - inverse[left]!) * into,
        steepen
      );
    }
  }
}

function flattenRun(
  pixels: Float32Array,
  from: number,
  to: number,
  level: number,
  rise: number,
  inverse: number,
  steepen: number
): void {
  for (let at = from, sky = level, scale = inverse; at < to; at++, sky += rise, scale += steepen) {
    const value = (pixels[at]! - sky) * scale;
    pixels[at] = value === value ? value : 0;
  }
}

/** Sky and noise (of a halved pixel) at a place of the whole frame, ADU. */
export function skyAt(
  mesh: BackgroundMesh,
  frame: { widthPx: number; heightPx: number },
  x: number,
  y: number
): { level: number; noise: number } {
  const { columns, rows } = mesh;
  const u = Math.max(0, Math.min(columns - 1, ((x + 0.5) * columns) / frame.widthPx - 0.5));
  const v = Math.max(0, Math.min(rows - 1, ((y + 0.5) * rows) / frame.heightPx - 0.5));
  const [column, row] = [Math.floor(u), Math.floor(v)];
  const [right, below] = [Math.min(columns - 1, column + 1), Math.min(rows - 1, row + 1)];
  const [across, down] = [u - column, v - row];
  const between = (values: Float32Array): number =>
    (values[row * columns + column]! * (1 - across) + values[row * columns + right]! * across) * (1 - down) +
    (values[below * columns + column]! * (1 - across) + values[below * columns + right]! * across) * down;
  return { level: between(mesh.level), noise: between(mesh.noise) };
}
