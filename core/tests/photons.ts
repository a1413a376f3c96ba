import type { Frame } from '../src/frame/index.ts';
import { dice } from './dice.ts';
import { plainFrame } from './frames.ts';

/** What light meets on its way, in micrometres of wavefront at the rim of the pupil, seconds of time left out. */
export interface Optics {
  /** Of the whole field; of the corners beside it, and how it goes across the field toward a direction. */
  defocusUm?: number;
  curvatureUm?: number;
  tiltUm?: number;
  tiltDeg?: number;
  /** In the corners, along the radius. */
  astigmatismUm?: number;
  /** In the whole field. */
  comaUm?: number;
  comaDeg?: number;
  trefoilUm?: number;
  /** Diameter of what stands in the middle of the pupil, over the pupil's. */
  obstruction?: number;
}

export interface Shot {
  widthPx?: number;
  heightPx?: number;
  seed: number;
  stars?: number;
  optics?: Optics;
  seeingPx?: number;
  driftPx?: number;
  driftDeg?: number;
  /** The field turns by so much about its middle while it is exposed, degrees. */
  turnDeg?: number;
  /** Share of the light that is lost in the corners. */
  vignetting?: number;
  /** Light of a cloud in the middle of the field, over that of the sky, and its width as a share of the frame's. */
  nebula?: number;
  nebulaWidth?: number;
}

const PIXEL_UM = 3.76;
const F_RATIO = 5;
const SKY = 900;
const READ_NOISE = 3;
const FAINTEST = 1500;
const BRIGHTEST = 40_000;

/**
 * A frame of photons shot one by one: each through a place of the pupil, bent by the slope of a stated wavefront there (ray
 * optics: transverse aberration −2 N ∂W/∂ρ, Welford 1986, from memory), blurred by the air, moved while the shutter is
 * open. It shares no line with the camera that ships.
 */
export function photograph({
  widthPx = 900,
  heightPx = 640,
  seed,
  stars = 170,
  optics = {},
  seeingPx = 2.6,
  driftPx = 0,
  driftDeg = 0,
  turnDeg = 0,
  vignetting = 0,
  nebula = 0,
  nebulaWidth = 0.25
}: Shot): Frame {
  const { uniform, normal } = dice(seed);
  const half = Math.hypot(widthPx, heightPx) / 2;
  const rad = Math.PI / 180;
  const lightAt = (x: number, y: number): number =>
    1 - (vignetting * ((x - widthPx / 2) ** 2 + (y - heightPx / 2) ** 2)) / half ** 2;
  const counts = new Float64Array(widthPx * heightPx);
  const toPx = (2 * F_RATIO) / PIXEL_UM;
  const sigma = seeingPx / 2.3548;
  const {
    defocusUm = 0,
    curvatureUm = 0,
    tiltUm = 0,
    tiltDeg = 0,
    astigmatismUm = 0,
    comaUm = 0,
    comaDeg = 0,
    trefoilUm = 0,
    obstruction = 0
  } = optics;
  for (let star = 0; star < stars; star++) {
    const [x, y] = [widthPx * uniform(), heightPx * uniform()];
    const photons = Math.round(lightAt(x, y) * FAINTEST * (BRIGHTEST / FAINTEST) ** (uniform() ** 2.2));
    const [fx, fy] = [(x - widthPx / 2) / half, (y - heightPx / 2) / half];
    const square = fx * fx + fy * fy;
    const focus =
      defocusUm + curvatureUm * square + tiltUm * (fx * Math.cos(tiltDeg * rad) + fy * Math.sin(tiltDeg * rad));
    const along = Math.atan2(fy, fx);
    const astigmatism = astigmatismUm * square;
    for (let photon = 0; photon < photons; photon++) {
      let [px, py] = [2, 2];
      while (px * px + py * py > 1 || px * px + py * py < obstruction ** 2) {
        px = 2 * uniform() - 1;
        py = 2 * uniform() - 1;
      }
      // W = focus ρ² + astigmatism ρ² cos 2(θ − φ) + coma ρ³ cos(θ − c) + trefoil ρ³ cos 3θ.
      const [c2, s2] = [Math.cos(2 * along), Math.sin(2 * along)];
      let sx = 2 * focus * px + 2 * astigmatism * (c2 * px + s2 * py);
      let sy = 2 * focus * py + 2 * astigmatism * (s2 * px - c2 * py);
      const [cc, cs] = [Math.cos(comaDeg * rad), Math.sin(comaDeg * rad)];
      const line = cc * px + cs * py;
      const rho = px * px + py * py;
      sx += comaUm * (2 * px * line + rho * cc) + trefoilUm * 3 * (px * px - py * py);
      sy += comaUm * (2 * py * line + rho * cs) - trefoilUm * 6 * px * py;
      const time = uniform() - 0.5;
      const turn = turnDeg * rad * time;
      const [dx, dy] = [x - widthPx / 2, y - heightPx / 2];
      const toX = widthPx / 2 + dx * Math.cos(turn) - dy * Math.sin(turn);
      const toY = heightPx / 2 + dx * Math.sin(turn) + dy * Math.cos(turn);
      const column = Math.floor(toX + driftPx * time * Math.cos(driftDeg * rad) + sx * toPx + sigma * normal());
      const row = Math.floor(toY + driftPx * time * Math.sin(driftDeg * rad) + sy * toPx + sigma * normal());
      if (column >= 0 && row >= 0 && column < widthPx && row < heightPx) counts[row * widthPx + column]!++;
    }
  }
  return plainFrame(widthPx, heightPx, (x, y) => {
    const off = ((x - widthPx / 2) ** 2 + (y - heightPx / 2) ** 2) / (nebulaWidth * widthPx) ** 2;
    const sky = SKY * lightAt(x, y) + SKY * nebula * Math.exp(-off / 2);
    const light = counts[y * widthPx + x]!;
    return Math.max(0, Math.min(65_535, 500 + light + sky + Math.sqrt(sky + READ_NOISE ** 2) * normal()));
  });
}
