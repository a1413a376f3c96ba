import { RAD } from '../stats/angles.ts';
import { LARGEST_ADU } from './frame.ts';

/** Light and defects that are no stars; all of it none where left out. */
export interface FrameExtras {
  /** Clouds of light of so much at their brightest, ADU: a few wide ones with filaments. */
  nebulaAdu?: number;
  /** Light of a moon or a town that grows across the field, ADU from one end to the other, and toward where. */
  gradientAdu?: number;
  gradientDirectionDeg?: number;
  /** Satellites that cross. */
  trails?: number;
  /** Turn of the field round its middle while the shutter is open, degrees. */
  rotationDeg?: number;
  /** Columns that read too much or nothing. */
  badColumns?: number;
  /** Glow of the read-out in one corner, ADU there. */
  glowAdu?: number;
  /** Noise that all pixels of a row share, electrons. */
  bandingE?: number;
}

/** As much of a simulated frame as its extras are drawn by. */
interface Shape {
  widthPx: number;
  heightPx: number;
  conditions: FrameExtras & { seeingPx: number; biasAdu: number };
}

/** Wide light is reckoned at every so many pixels, and is straight between them. */
const COARSE_PX = 16;

/** Light of clouds, of a sky that is brighter on one side, and of the read-out, by places over the half diagonal. */
function wideLight({ widthPx, heightPx, conditions }: Shape, uniform: () => number): (x: number, y: number) => number {
  const { nebulaAdu = 0, gradientAdu = 0, gradientDirectionDeg = 0, glowAdu = 0 } = conditions;
  const half = Math.hypot(widthPx, heightPx) / 2;
  const clouds = Array.from({ length: 5 }, () => ({
    x: (uniform() - 0.5) * 1.2,
    y: (uniform() - 0.5) * 0.8,
    width: 0.12 + 0.35 * uniform(),
    share: 0.3 + 0.7 * uniform()
  }));
  const filaments = Array.from({ length: 6 }, () => ({
    angle: Math.PI * uniform(),
    waves: 3 + 14 * uniform(),
    phase: 2 * Math.PI * uniform()
  }));
  const [cos, sin] = [Math.cos(gradientDirectionDeg * RAD), Math.sin(gradientDirectionDeg * RAD)];
  const cloudAt = (x: number, y: number): number => {
    const cloud = clouds.reduce(
      (sum, each) => sum + each.share * Math.exp(-((x - each.x) ** 2 + (y - each.y) ** 2) / (2 * each.width ** 2)),
      0
    );
    const strands = filaments.reduce(
      (sum, { angle, waves, phase }) =>
        sum + Math.sin(waves * 2 * (x * Math.cos(angle) + y * Math.sin(angle)) + phase + 3 * Math.sin(2 * x + phase)),
      0
    );
    return cloud * (0.6 + 0.4 * Math.tanh(strands / 1.5));
  };
  return (x, y) => {
    const [fromLeft, fromFirstRow] = [x * half + widthPx / 2, y * half + heightPx / 2];
    const glow = Math.exp(-((fromLeft / widthPx) ** 2 + (fromFirstRow / heightPx) ** 2) / 0.02);
    const gradient = gradientAdu * (0.5 + (x * cos + y * sin) / 2);
    return gradient + glowAdu * glow + (nebulaAdu > 0 ? nebulaAdu * cloudAt(x, y) : 0);
  };
}

/** Adds clouds, gradient and glow to an image without noise. @param light row after row, ADU */
export function addWideLight(light: Float32Array, spec: Shape, uniform: () => number): void {
  const { widthPx, heightPx, conditions } = spec;
  if (!conditions.nebulaAdu && !conditions.gradientAdu && !conditions.glowAdu) return;
  const half = Math.hypot(widthPx, heightPx) / 2;
  const at = wideLight(spec, uniform);
  const columns = Math.ceil(widthPx / COARSE_PX) + 1;
  const lineOf = (row: number): Float64Array =>
    Float64Array.from({ length: columns }, (_, column) =>
      at((column * COARSE_PX - widthPx / 2) / half, (row * COARSE_PX - heightPx / 2) / half)
    );
  let [low, high] = [lineOf(0), lineOf(1)];
  for (let y = 0; y < heightPx; y++) {
    const down = (y % COARSE_PX) / COARSE_PX;
    if (y > 0 && down === 0) [low, high] = [high, lineOf(y / COARSE_PX + 1)];
    for (let x = 0; x < widthPx; x++) {
      const column = Math.floor(x / COARSE_PX);
      const across = (x % COARSE_PX) / COARSE_PX;
      const upper = low[column]! * (1 - across) + low[column + 1]! * across;
      const lower = high[column]! * (1 - across) + high[column + 1]! * across;
      light[y * widthPx + x]! += upper * (1 - down) + lower * down;
    }
  }
}

/** Adds the trails of satellites: straight through the field, as wide as the seeing. */
export function addTrails(light: Float32Array, { widthPx, heightPx, conditions }: Shape, uniform: () => number): void {
  const sigma = Math.max(0.7, conditions.seeingPx / 2.3548);
  for (let trail = 0; trail < (conditions.trails ?? 0); trail++) {
    const angle = Math.PI * uniform();
    const [throughX, throughY] = [widthPx * (0.2 + 0.6 * uniform()), heightPx * (0.2 + 0.6 * uniform())];
    const bright = 300 + 3000 * uniform();
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
    for (let y = 0; y < heightPx; y++) {
      for (let x = 0; x < widthPx; x++) {
        const off = ((x - throughX) * sin - (y - throughY) * cos) / sigma;
        if (Math.abs(off) < 5) light[y * widthPx + x]! += bright * Math.exp((-off * off) / 2);
      }
    }
  }
}

/** Makes columns read too much, or nothing, from some row on. */
export function addBadColumns(
  pixels: Uint16Array,
  { widthPx, heightPx, conditions }: Shape,
  uniform: () => number
): void {
  for (let bad = 0; bad < (conditions.badColumns ?? 0); bad++) {
    const [x, isDead] = [Math.floor(uniform() * widthPx), uniform() < 0.4];
    for (let y = Math.floor(uniform() * heightPx * 0.7); y < heightPx; y++) {
      const at = y * widthPx + x;
      pixels[at] = isDead ? conditions.biasAdu : Math.min(LARGEST_ADU, pixels[at]! + 900);
    }
  }
}
