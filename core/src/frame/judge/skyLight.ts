import type { BackgroundMesh } from '../background.ts';
import { robustFit, varianceOf } from '../robust.ts';

/** How dark corners and edges are, from the sky of the frame alone. */
export interface SkyLight {
  /**
   * Share of the light that the corners have lost against the middle: from the sky's noise, whose square is the light
   * itself, whatever the bias is. Read noise makes it too small.
   */
  cornerLoss: number;
  standard: number;
  /** The one side whose edge is darker than what lies next to it, and by how much; undefined where there is none. */
  darkEdge: { side: 'left' | 'right' | 'top' | 'bottom'; loss: number; standard: number } | undefined;
}

const EDGE_SHARE = 0.06;
const NEXT_FROM = 0.15;
const NEXT_TO = 0.3;

interface Cell {
  x: number;
  y: number;
  square: number;
  light: number;
}

const MOST_PLACES = 500;

/** Means of blocks of cells. */
function averaged(cells: readonly Cell[], columns: number, rows: number, every: number): Cell[] {
  const means: Cell[] = [];
  for (let row = 0; row < rows; row += every) {
    for (let column = 0; column < columns; column += every) {
      const sum = { x: 0, y: 0, square: 0, light: 0 };
      let count = 0;
      for (let y = row; y < Math.min(rows, row + every); y++) {
        for (let x = column; x < Math.min(columns, column + every); x++) {
          const cell = cells[y * columns + x]!;
          for (const key of ['x', 'y', 'square', 'light'] as const) sum[key] += cell[key];
          count++;
        }
      }
      for (const key of ['x', 'y', 'square', 'light'] as const) sum[key] /= count;
      means.push(sum);
    }
  }
  return means;
}

/** Where stars are counted for their light: within the first, and beyond the second, of the square of the half diagonal. */
const INNER = 0.25;
const OUTER = 0.6;
/** Fewer stars than this in either part tell nothing. */
const LEAST_COUNTED = 12;
const GRID = 60;

/**
 * Whether stars grow fainter toward the corners as the sky does. Vignetting takes from both; a nebula or a galaxy adds to
 * the sky of the middle alone. Stars brighter than a limit are counted in both parts: of those that lose light fewer are left.
 *
 * @param cornerLoss share of its light that the sky has lost in the corners
 * @returns standard deviations by which the count speaks for vignetting (+) or against it (−); undefined where it says nothing
 */
export function starsSayVignetting(
  stars: readonly { square: number; flux: number }[],
  { widthPx, heightPx }: { widthPx: number; heightPx: number },
  cornerLoss: number
): number | undefined {
  const limit = stars.map(({ flux }) => flux).toSorted((a, b) => a - b)[Math.floor(0.3 * stars.length)] ?? 0;
  const inner = stars.filter(({ square, flux }) => square < INNER && flux > limit);
  const outer = stars.filter(({ square, flux }) => square > OUTER && flux > limit);
  if (Math.min(inner.length, outer.length) < LEAST_COUNTED) return undefined;
  // How much of the frame either part is.
  const diagonal = widthPx ** 2 + heightPx ** 2;
  let [within, beyond] = [0, 0];
  for (let line = 0; line < GRID; line++) {
    for (let column = 0; column < GRID; column++) {
      const [x, y] = [(2 * (column + 0.5)) / GRID - 1, (2 * (line + 0.5)) / GRID - 1];
      const square = ((x * widthPx) ** 2 + (y * heightPx) ** 2) / diagonal;
      if (square < INNER) within++;
      else if (square > OUTER) beyond++;
    }
  }
  const left = 1 - Math.min(0.95, cornerLoss * ((1 + OUTER) / 2));
  const dimmed = inner.filter(({ flux }) => flux * left > limit).length / inner.length;
  if (dimmed > 0.9) return undefined;
  const ratio = Math.log(outer.length / beyond / (inner.length / within));
  const standard = Math.sqrt(1 / inner.length + 1 / outer.length);
  // Half way between what vignetting leaves and nothing lost.
  return (Math.log(Math.max(0.02, dimmed)) / 2 - ratio) / standard;
}

/** Light over a frame from the noise of its sky; undefined where there is too little sky to tell. */
export function skyLightOf(mesh: BackgroundMesh, bottomUp: boolean): SkyLight | undefined {
  const { columns, rows, noise } = mesh;
  if (columns < 5 || rows < 5) return undefined;
  const corner = Math.hypot(columns, rows) / 2;
  const cells = Array.from(noise, (value, at): Cell => {
    const x = ((at % columns) + 0.5 - columns / 2) / corner;
    const y = (Math.floor(at / columns) + 0.5 - rows / 2) / corner;
    return { x, y, square: x * x + y * y, light: value * value };
  });
  const middle = cells.filter(({ square }) => square < 0.1);
  const mean = middle.reduce((sum, { light }) => sum + light, 0) / middle.length;
  if (!(mean > 0)) return undefined;
  // Some hundred places tell a smooth fall-off as well as thousands do.
  const every = Math.max(1, Math.round(Math.sqrt(cells.length / MOST_PLACES)));
  const fit = robustFit(
    averaged(cells, columns, rows, every).map(({ x, y, square, light }) => ({
      factors: [1, x, y, square, square * square],
      value: light / mean,
      sigma: 0.05
    }))
  );
  if (!fit) return undefined;
  const [atMiddle = 1] = fit.coefficients;
  const cornerLoss = -(fit.coefficients[3]! + fit.coefficients[4]!) / atMiddle;
  const standard = Math.sqrt(varianceOf([0, 0, 0, 1, 1], fit.covariance)) / atMiddle;

  const sides = (['left', 'right', 'bottom', 'top'] as const).map((side) => {
    const depth = ({ x, y }: { x: number; y: number }): number => {
      const [u, v] = [(x * corner) / columns + 0.5, (y * corner) / rows + 0.5];
      if (side === 'left') return u;
      if (side === 'right') return 1 - u;
      return (side === 'bottom') === bottomUp ? v : 1 - v;
    };
    const part = (from: number, to: number) => {
      const values = cells.filter((cell) => depth(cell) >= from && depth(cell) < to).map(({ light }) => light);
      const sum = values.reduce((total, value) => total + value, 0) / Math.max(1, values.length);
      const squares = values.reduce((total, value) => total + (value - sum) ** 2, 0) / Math.max(1, values.length - 1);
      return { mean: sum, standard: Math.sqrt(squares / Math.max(1, values.length)) };
    };
    const [edge, next] = [part(0, EDGE_SHARE + 0.5 / Math.min(columns, rows)), part(NEXT_FROM, NEXT_TO)];
    return {
      side,
      loss: 1 - edge.mean / next.mean,
      standard: Math.hypot(edge.standard, next.standard) / next.mean
    };
  });
  sides.sort((a, b) => b.loss - a.loss);
  const [worst, second] = sides;
  const stands = worst!.loss > 0.1 && worst!.loss > 5 * worst!.standard && worst!.loss > 2 * second!.loss + 0.05;
  return { cornerLoss, standard, darkEdge: stands ? worst : undefined };
}
