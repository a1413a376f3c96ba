import { dice } from '../stats/random.ts';
import { RAD } from '../stats/angles.ts';
import { FrameError, LARGEST_ADU, checkSize, type Frame, type MosaicPattern } from './frame.ts';
import { addBadColumns, addTrails, addWideLight, type FrameExtras } from './simulatedExtras.ts';

export type { FrameExtras } from './simulatedExtras.ts';

/** How the light falls on a sensor: what a train does to a star, right or wrong. Lengths in μm at the sensor. */
export interface FieldOptics {
  fRatio: number;
  /** Diameter of what hides the middle of the pupil, over that of the pupil. */
  obstruction: number;
  /** Distance from the spacing this unit wants, mm: + too far. */
  spacingErrorMm: number;
  /**
   * Half the distance of radial and tangential focus in the corners for each mm of spacing error. It may have either
   * sign: which way stars are stretched is a matter of the corrector.
   */
  astigmatismUmPerMm: number;
  /** Medial focus in the corners against the middle: for each mm of spacing error, and what the design leaves. */
  curvatureUmPerMm: number;
  designCurvatureUm: number;
  /** Sensor’s tilt: how much farther one end of its diagonal length lies than its middle, in this direction. */
  tiltUm: number;
  tiltDirectionDeg: number;
  /** Sensor against where focus over the whole field is best: + farther from the telescope. */
  defocusUm: number;
  /** Length of the comatic tail that misaligned optics give to every star, and where it points. */
  comaUm: number;
  comaDirectionDeg: number;
  /** Length of the three points that a pinched element gives to every star, and where one of them lies. */
  pinchUm?: number;
  pinchDirectionDeg?: number;
  /** Where the optics have their middle, over the half diagonal of the sensor, y as pixel rows run. */
  centre?: readonly [x: number, y: number];
}

/** What sky, mount and camera add. */
export interface FrameConditions extends FrameExtras {
  seeingPx: number;
  /** Length and direction of the drift while the shutter is open, px. */
  driftPx: number;
  driftDirectionDeg: number;
  /** Share of the light at a place of the sensor, mm from its middle; all of it where left out. */
  illumination?: ((xMm: number, yMm: number) => number) | undefined;
  skyAdu: number;
  biasAdu: number;
  readNoiseE: number;
  electronsPerAdu: number;
  hotPixels: number;
  cosmicRays: number;
}

export interface StarField {
  count: number;
  /** Light of the faintest and the brightest star, ADU; between them there are so many times more faint ones (power). */
  faintestAdu: number;
  brightestAdu: number;
  power: number;
}

export interface SimulatedFrameSpec {
  widthPx: number;
  heightPx: number;
  pixelUm: number;
  mosaic?: MosaicPattern | undefined;
  seed: number;
  /** Of the stars alone: frames of one sky have the same. */
  skySeed?: number | undefined;
  optics: FieldOptics;
  conditions: FrameConditions;
  field: StarField;
  keywords?: Readonly<Record<string, string | number | boolean>> | undefined;
}

/** A star that was put into a frame, in FITS pixel coordinates. */
export interface TrueStar {
  x: number;
  y: number;
  /** Light that reached the sensor, ADU. */
  flux: number;
}

export const PERFECT_OPTICS: FieldOptics = {
  fRatio: 5.5,
  obstruction: 0,
  spacingErrorMm: 0,
  astigmatismUmPerMm: 60,
  curvatureUmPerMm: 8,
  designCurvatureUm: 35,
  tiltUm: 0,
  tiltDirectionDeg: 0,
  defocusUm: 0,
  comaUm: 0,
  comaDirectionDeg: 0
};

export const QUIET_NIGHT: FrameConditions = {
  seeingPx: 3,
  driftPx: 0,
  driftDirectionDeg: 0,
  skyAdu: 400,
  biasAdu: 500,
  readNoiseE: 3,
  electronsPerAdu: 1,
  hotPixels: 0,
  cosmicRays: 0
};

/** Mean of ρ² over a rectangle, ρ being 1 in its corners: a third, whatever its sides are. */
const MEAN_SQUARE = 1 / 3;

/** Blur of a place of the sensor: half-lengths along and across the radius, μm, with signs. */
export function blurAt(optics: FieldOptics, rho: number, phiDeg: number): { radialUm: number; tangentialUm: number } {
  const square = rho * rho;
  const astigmatism = optics.astigmatismUmPerMm * optics.spacingErrorMm;
  const curvature = optics.designCurvatureUm + optics.curvatureUmPerMm * optics.spacingErrorMm;
  const tilt = optics.tiltUm * rho * Math.cos((phiDeg - optics.tiltDirectionDeg) * RAD);
  // Focused for the whole field, as one does by the median star, then off by the defocus.
  const fromMedial = optics.defocusUm + tilt + curvature * (MEAN_SQUARE - square);
  const cone = 1 / (2 * optics.fRatio);
  return {
    radialUm: (fromMedial - astigmatism * square) * cone,
    tangentialUm: (fromMedial + astigmatism * square) * cone
  };
}

const RAYS = 160;
const GOLDEN = (Math.sqrt(5) - 1) / 2;
/** Share of the light in the wide part of the seeing, and how much wider it is. */
const HALO_EVERY = 10;
const HALO_WIDER = 2;

/** The error function (Abramowitz & Stegun 7.1.26, error below 1.5·10⁻⁷). */
function erf(x: number): number {
  const t = 1 / (1 + 0.3275911 * Math.abs(x));
  const y =
    1 -
    ((((1.061405429 * t - 1.453152027) * t + 1.421413741) * t - 0.284496736) * t + 0.254829592) * t * Math.exp(-x * x);
  return x < 0 ? -y : y;
}

/**
 * Light of one star, added to an image that has no noise yet. Rays through the pupil land where astigmatism, defocus,
 * curvature, tilt and coma send them (third order: Welford, Aberrations of Optical Systems, from memory); each is
 * blurred by the seeing.
 *
 * @param image light, row after row
 * @param x place, px from the middle of the first pixel
 * @param light of the star, by the place of the pixel where colours differ
 */
function addStar(
  image: Float32Array,
  spec: SimulatedFrameSpec,
  x: number,
  y: number,
  light: (x: number, y: number) => number
): void {
  const { widthPx, heightPx, pixelUm, optics, conditions } = spec;
  const half = Math.hypot(widthPx / 2, heightPx / 2);
  const [middleX, middleY] = [x - (widthPx - 1) / 2, y - (heightPx - 1) / 2];
  const [centreX, centreY] = optics.centre ?? [0, 0];
  const [fromX, fromY] = [middleX - centreX * half, middleY - centreY * half];
  const rho = Math.hypot(fromX, fromY) / half;
  const phi = Math.atan2(fromY, fromX);
  const { radialUm, tangentialUm } = blurAt(optics, rho, phi / RAD);
  const [radial, tangential] = [radialUm / pixelUm, tangentialUm / pixelUm];
  const [cos, sin] = [Math.cos(phi), Math.sin(phi)];
  const coma = optics.comaUm / pixelUm / 3;
  const comaAngle = optics.comaDirectionDeg * RAD;
  const [driftX, driftY] = [
    conditions.driftPx * Math.cos(conditions.driftDirectionDeg * RAD),
    conditions.driftPx * Math.sin(conditions.driftDirectionDeg * RAD)
  ];
  const pinch = (optics.pinchUm ?? 0) / pixelUm;
  const pinchAngle = (optics.pinchDirectionDeg ?? 0) * RAD;
  // A turn moves a place at a right angle to where it lies from the middle.
  const turned = (conditions.rotationDeg ?? 0) * RAD;
  const inner = optics.obstruction ** 2;
  const [rayX, rayY] = [new Float64Array(RAYS), new Float64Array(RAYS)];
  for (let ray = 0; ray < RAYS; ray++) {
    // Equal areas of the pupil, turned by the golden angle (Vogel 1979).
    const r = Math.sqrt(inner + ((1 - inner) * (ray + 0.5)) / RAYS);
    const theta = 2 * Math.PI * GOLDEN * ray;
    const [u, v] = [r * Math.cos(theta - phi), r * Math.sin(theta - phi)];
    // Of all such orders this one goes least with the place in the pupil: a drift must not look like defocus.
    const along = (((ray * 109) % RAYS) + 0.5) / RAYS - 0.5;
    const twice = 2 * (theta - comaAngle);
    const [cx, cy] = [coma * r * r * (2 + Math.cos(twice)), coma * r * r * Math.sin(twice)];
    // Where it is held the edge sends its light outward.
    const held = pinch === 0 ? 0 : pinch * r ** 3 * Math.max(0, Math.cos(3 * (theta - pinchAngle))) ** 2;
    const [pinchX, pinchY] = [held * Math.cos(theta), held * Math.sin(theta)];
    rayX[ray] =
      x +
      u * radial * cos -
      v * tangential * sin +
      cx * Math.cos(comaAngle) -
      cy * Math.sin(comaAngle) +
      pinchX +
      along * (driftX - turned * middleY);
    rayY[ray] =
      y +
      u * radial * sin +
      v * tangential * cos +
      cx * Math.sin(comaAngle) +
      cy * Math.cos(comaAngle) +
      pinchY +
      along * (driftY + turned * middleX);
  }
  addBlurred(image, spec, rayX, rayY, light);
}

/** What of a line of pixels from a whole pixel `low` to `high` falls on each, of light blurred by `sigma` around `at`. */
function shares(out: Float64Array, low: number, high: number, at: number, sigma: number): void {
  const scale = 1 / (sigma * Math.SQRT2);
  let before = erf((low - 0.5 - at) * scale);
  for (let pixel = low; pixel <= high; pixel++) {
    const after = erf((pixel + 0.5 - at) * scale);
    out[pixel - low] = (after - before) / 2;
    before = after;
  }
}

/** Light of rays of equal strength that land at these places, each blurred by the seeing. */
function addBlurred(
  image: Float32Array,
  { widthPx, heightPx, conditions }: SimulatedFrameSpec,
  rayX: Float64Array,
  rayY: Float64Array,
  light: (x: number, y: number) => number
): void {
  const sharp = Math.max(0.25, conditions.seeingPx / 2.3548);
  const widest = Math.ceil(4.5 * sharp * HALO_WIDER);
  const from = (places: Float64Array): number => Math.max(0, Math.round(Math.min(...places)) - widest);
  const to = (places: Float64Array, size: number): number =>
    Math.min(size - 1, Math.round(Math.max(...places)) + widest);
  const [left, right, top, bottom] = [from(rayX), to(rayX, widthPx), from(rayY), to(rayY, heightPx)];
  if (right < left || bottom < top) return;
  const columns = right - left + 1;
  // All rays are summed before any pixel of the image is touched.
  const patch = new Float64Array(columns * (bottom - top + 1));
  const [across, down] = [new Float64Array(2 * widest + 1), new Float64Array(2 * widest + 1)];
  for (let ray = 0; ray < RAYS; ray++) {
    const [px, py] = [rayX[ray]!, rayY[ray]!];
    const sigma = ray % HALO_EVERY === 3 ? sharp * HALO_WIDER : sharp;
    const reach = Math.ceil(4.5 * sigma);
    const [x0, x1] = [Math.max(0, Math.round(px) - reach), Math.min(widthPx - 1, Math.round(px) + reach)];
    const [y0, y1] = [Math.max(0, Math.round(py) - reach), Math.min(heightPx - 1, Math.round(py) + reach)];
    shares(across, x0, x1, px, sigma);
    shares(down, y0, y1, py, sigma);
    for (let row = y0; row <= y1; row++) {
      const share = down[row - y0]! / RAYS;
      const start = (row - top) * columns + x0 - left;
      for (let column = 0; column <= x1 - x0; column++) patch[start + column]! += share * across[column]!;
    }
  }
  for (let row = top; row <= bottom; row++) {
    const start = (row - top) * columns - left;
    for (let column = left; column <= right; column++) {
      const share = patch[start + column]!;
      if (share !== 0) image[row * widthPx + column]! += share * light(column, row);
    }
  }
}

/** @throws FrameError where a number makes no frame */
function checkSpec({ widthPx, heightPx, field, conditions, pixelUm, optics }: SimulatedFrameSpec): void {
  checkSize(widthPx, heightPx, 'Simulated camera');
  const blurUm =
    (Math.abs(optics.defocusUm) +
      Math.abs(optics.tiltUm) +
      3 * Math.abs(optics.spacingErrorMm * optics.astigmatismUmPerMm)) /
      optics.fRatio +
    Math.abs(optics.comaUm) +
    Math.abs(optics.pinchUm ?? 0);
  const bounded: [string, number, number, number][] = [
    ['pixel size', pixelUm, 0.5, 100],
    ['number of stars', field.count, 0, 300_000],
    ['seeing', conditions.seeingPx, 0.2, 100],
    ['drift', conditions.driftPx, 0, 500],
    ['turn', conditions.rotationDeg ?? 0, -10, 10],
    ['brightness of a nebula', conditions.nebulaAdu ?? 0, 0, LARGEST_ADU],
    ['gradient', conditions.gradientAdu ?? 0, 0, LARGEST_ADU],
    ['glow', conditions.glowAdu ?? 0, 0, LARGEST_ADU],
    ['banding', conditions.bandingE ?? 0, 0, 1000],
    ['number of trails', conditions.trails ?? 0, 0, 100],
    ['number of bad columns', conditions.badColumns ?? 0, 0, 1000],
    ['size of a star', blurUm / pixelUm, 0, 500]
  ];
  for (const [name, value, least, most] of bounded) {
    if (!(value >= least && value <= most)) {
      throw new FrameError(`Simulated camera: the ${name} is ${value}; it must be between ${least} and ${most}.`);
    }
  }
}

/**
 * A frame of a simulated camera, with the stars that are in it.
 *
 * @throws FrameError where the size or the blur is out of bounds
 */
export function simulateFrame(spec: SimulatedFrameSpec): { frame: Frame; stars: TrueStar[] } {
  checkSpec(spec);
  const { widthPx, heightPx, pixelUm, conditions, field, mosaic } = spec;
  const { uniform, normal } = dice(spec.seed);
  const sky = spec.skySeed === undefined ? uniform : dice(spec.skySeed).uniform;
  const light = new Float32Array(widthPx * heightPx);
  const share = (x: number, y: number): number =>
    conditions.illumination?.(
      ((x - (widthPx - 1) / 2) * pixelUm) / 1000,
      ((y - (heightPx - 1) / 2) * pixelUm) / 1000
    ) ?? 1;
  /** Share of white light that a pixel of a mosaic sees, and of a star that is redder or bluer. */
  const seen = (x: number, y: number, red: number): number => {
    if (!mosaic) return 1;
    const colour = mosaic[(x & 1) | ((y & 1) << 1)];
    return colour === 'G' ? 1 : colour === 'R' ? 0.6 * red : 0.7 / red;
  };

  const stars: TrueStar[] = [];
  for (let made = 0; made < field.count; made++) {
    const [x, y] = [sky() * widthPx - 0.5, sky() * heightPx - 0.5];
    // Counts that fall as a power of the light.
    const least = field.faintestAdu ** -field.power;
    const most = field.brightestAdu ** -field.power;
    const flux = (least - sky() * (least - most)) ** (-1 / field.power) * share(x, y);
    const red = 0.5 + sky();
    addStar(light, spec, x, y, (at, row) => flux * seen(at, row, red));
    stars.push({ x: x + 1, y: y + 1, flux });
  }

  for (let ray = 0; ray < conditions.cosmicRays; ray++) {
    let [x, y] = [uniform() * widthPx, uniform() * heightPx];
    const angle = uniform() * 2 * Math.PI;
    for (let step = 0; step < 2 + uniform() * 8; step++) {
      const at = Math.floor(y) * widthPx + Math.floor(x);
      if (x >= 0 && y >= 0 && x < widthPx && y < heightPx) light[at]! += 1000 + 3000 * uniform();
      x += Math.cos(angle);
      y += Math.sin(angle);
    }
  }

  // Of dice of their own: what is added moves neither the stars nor their noise.
  const extras = dice(spec.seed ^ 0x5eed).uniform;
  addWideLight(light, spec, extras);
  addTrails(light, spec, extras);

  const pixels = new Uint16Array(widthPx * heightPx);
  const { bandingE = 0 } = conditions;
  const { electronsPerAdu: gain, readNoiseE, skyAdu, biasAdu } = conditions;
  const even = conditions.illumination === undefined;
  for (let y = 0; y < heightPx; y++) {
    const band = bandingE === 0 ? 0 : bandingE * normal();
    for (let x = 0; x < widthPx; x++) {
      const at = y * widthPx + x;
      const glow = (even ? skyAdu : skyAdu * share(x, y)) * seen(x, y, 1);
      const electrons = (light[at]! + glow) * gain;
      const noisy = electrons + band + normal() * Math.sqrt(electrons + readNoiseE * readNoiseE);
      const adu = Math.round(biasAdu + noisy / gain);
      pixels[at] = adu < 0 ? 0 : adu > LARGEST_ADU ? LARGEST_ADU : adu;
    }
  }
  for (let hot = 0; hot < conditions.hotPixels; hot++) {
    pixels[Math.floor(uniform() * pixels.length)] = Math.min(LARGEST_ADU, biasAdu + 500 + 40_000 * uniform() ** 3);
  }
  addBadColumns(pixels, spec, extras);
  const keywords = new Map<string, string | number | boolean>(Object.entries(spec.keywords ?? {}));
  const frame: Frame = {
    widthPx,
    heightPx,
    planes: [pixels],
    scale: 1,
    zero: 0,
    blank: undefined,
    mosaic,
    bottomUp: true,
    keywords
  };
  return { frame, stars };
}
