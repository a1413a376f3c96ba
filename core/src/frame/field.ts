import { skyLightOf, starsSayVignetting, type SkyLight } from './light.ts';
import { medianOf } from './median.ts';
import { LEAST_IN_CORNER, byCorner, fieldPlace, isTelling, stretchVector, type FieldPlace } from './place.ts';
import { robustFit, varianceOf } from './robust.ts';
import { LEAST_SNR, type Star, type StarReading } from './stars.ts';

/** What a frame may have wrong with it. */
export type Cause = 'spacing' | 'tilt' | 'tracking' | 'focus' | 'collimation' | 'light' | 'unclear';

export interface FrameFinding {
  cause: Cause;
  /** How sure it is, from 0 to 1. */
  confidence: number;
  message: string;
  /** Size of the fault over what is just worth mending: what the findings are ordered by. */
  strength: number;
}

/** Stars of a frame, judged together. Directions are told with y upward, degrees anticlockwise from +x. */
export interface FieldReading {
  count: number;
  /** Stars that were used: not cut off, well above the noise. */
  used: number;
  /** Medians. */
  hfrPx: number | null;
  fwhmPx: number | null;
  ellipticity: number | null;
  /** Stretch along the radius (+) or round the middle (−) that remains when what is common to all stars is taken away. */
  radial: {
    corner: number;
    standard: number;
    /** Of each corner: top left, top right, bottom left, bottom right. */
    corners: [number | null, number | null, number | null, number | null];
    /** Mean signed stretch in rings from the middle to the corners. */
    profile: { radius: number; stretch: number; standard: number; count: number }[];
  } | null;
  /** What all stars have in common. */
  tracking: { ellipticity: number; angleDeg: number; standard: number } | null;
  tilt: { sizePct: number; directionDeg: number; significant: boolean } | null;
  /** How much larger stars in the corners are than those of the middle, %, and how well that is known. */
  cornerSizePct: number | null;
  cornerSizeStandardPct: number | null;
  /** Where the stretch has its middle, as a share of the half diagonal; null where it has none to speak of. */
  opticalCentre: { x: number; y: number; standard: number } | null;
  /** Lopsidedness that all stars share, and where their tails point. */
  coma: { size: number; directionDeg: number; standard: number } | null;
  /** Above 1: the stars of the middle are flat or hollow, as they are out of focus. */
  flatness: number;
  light: SkyLight | null;
  findings: FrameFinding[];
}

const RAD = Math.PI / 180;

/** A star in the field's own measure: its place over the half diagonal, y upward. */
interface Placed extends FieldPlace {
  star: Star;
}

const LEAST_STARS = 25;

/** Of narrower stars the pixels make a shape of their own: three corners, tails, flat tops (by the simulated camera). */
const LEAST_FWHM_PX = 1.3;
const isUndersampled = (fwhmPx: number | null): boolean => fwhmPx !== null && fwhmPx < LEAST_FWHM_PX;
const typicalWidth = (placed: readonly Placed[]): number | null => median(placed.map(({ star }) => star.fwhmPx));

/** Of two causes that look alike neither is surer than this. */
const AN_OR = 0.5;

/** Sizes of faults that are just worth mending. */
const WORTH = {
  stretch: 0.07,
  cornerSizePct: 18,
  tracking: 0.06,
  tiltPct: 10,
  coma: 0.07,
  threefold: 0.05,
  flatness: 0.1,
  cornerLoss: 0.22,
  edgeLoss: 0.15
};
/** A tilt beside a spacing that is worse is no surer than this. */
const BESIDE_SPACING = 0.8;
/** Of what stars grow along the circle, the share that goes as a turn does, and how much they may grow across beside it. */
const TURNED_SHARE = 0.3;
const TURNED_ACROSS = 0.5;
/** Stars that are longer than this say by their shape that something moved: flat they are along it, not by defocus. */
const TRAILED = 0.4;
/** Square of how far out the middle goes. */
const IN_MIDDLE = 0.15;
/** How many standard deviations a finding must stand above nothing. */
const SURE = 4.5;

const median = (values: readonly number[]): number | null => (values.length === 0 ? null : medianOf(values));

/** Noise of a star's ellipticity: what the sky leaves, and what pixels and seeing do to it anyway. */
const ellipticityNoise = ({ snr }: Star): number => Math.hypot(0.015, 1.6 / snr);

/**
 * Ellipticity over the field: a part all stars share, one that grows along one direction (a middle that lies elsewhere),
 * and the radial stretch, which grows with the square of the radius or faster, more on one side than on the other where the sensor is tilted.
 * z = x + iy; stretch along the radius is z², along the circle −z².
 */
function fitStretch(stars: readonly Placed[]) {
  return robustFit(
    stars.flatMap(({ star, x, y, square }) => {
      const [e1, e2] = stretchVector(star);
      const [real, imaginary] = [x * x - y * y, 2 * x * y];
      const sigma = ellipticityNoise(star);
      return [
        { factors: [1, 0, x, -y, real, real * square, real * x, real * y], value: e1, sigma },
        { factors: [0, 1, y, x, imaginary, imaginary * square, imaginary * x, imaginary * y], value: e2, sigma }
      ];
    })
  );
}

/** Second moment of a star, px²: blurs of different origin add up in it. */
const momentOf = ({ fwhmPx, ellipticity }: Star): number => {
  const ratio = 1 - ellipticity;
  // fwhm is that of √(a b); (a² + b²)/2 is what adds up.
  return (fwhmPx * fwhmPx * (1 + ratio * ratio)) / (2 * ratio);
};

/** Second moments over the field: even parts (curvature) and parts that differ by direction (tilt). */
function fitSize(stars: readonly Placed[]) {
  const typical = median(stars.map(({ star }) => momentOf(star))) ?? 1;
  const fit = robustFit(
    stars.map(({ star, x, y, square }) => ({
      factors: [1, x, y, x * square, y * square, x * x - y * y, 2 * x * y, square, square * square],
      value: momentOf(star) / typical,
      sigma: Math.hypot(0.03, 3 / star.snr)
    }))
  );
  return fit && { ...fit, typical };
}

/** Third moments over the field: a part all share, and tails that point away from the middle or to it. */
function fitComa(stars: readonly Placed[]) {
  return robustFit(
    stars.flatMap(({ star, x, y }) => {
      const sigma = Math.hypot(0.04, 6 / star.snr);
      return [
        { factors: [1, 0, x], value: star.lopsided[0], sigma },
        { factors: [0, 1, y], value: star.lopsided[1], sigma }
      ];
    })
  );
}

/** Threefold shape that all stars share, and its standard deviation: mean of what single stars show. */
function commonThreefold(stars: readonly Placed[]): { size: number; standard: number } | undefined {
  const fit = robustFit(
    stars.flatMap(({ star }) => {
      const sigma = Math.hypot(0.03, 6 / star.snr);
      return (star.threefold ?? []).map((value, axis) => ({ factors: axis === 0 ? [1, 0] : [0, 1], value, sigma }));
    })
  );
  if (!fit || !stars.some(({ star }) => star.threefold)) return undefined;
  const [cosine = 0, sine = 0] = fit.coefficients;
  return {
    size: Math.hypot(cosine, sine),
    standard: Math.sqrt((fit.covariance[0]![0]! + fit.covariance[1]![1]!) / 2)
  };
}

/**
 * Whether stars circle the middle as they do in a field that turned while it was exposed: as long as they lie far out (in
 * second moments the square of it; what astigmatism does goes as the fourth power), and hardly wider across.
 */
function mayHaveTurned(stars: readonly Placed[]): boolean {
  const typical = median(stars.map(({ star }) => star.fwhmPx ** 2)) ?? 1;
  const noiseOf = ({ snr }: Star): number => Math.hypot(0.05, 3 / snr);
  const circling = robustFit(
    stars.map(({ star, x, y, square }) => {
      const { fwhmPx, ellipticity } = star;
      const long = fwhmPx ** 2 / (1 - ellipticity) / typical;
      const short = (fwhmPx ** 2 * (1 - ellipticity)) / typical;
      const [e1, e2] = stretchVector({ ellipticity: 1, angleDeg: star.angleDeg });
      const alongRadius = (e1 * (x * x - y * y) + e2 * 2 * x * y) / Math.max(1e-9, square);
      return { factors: [square, square * square], value: (short - long) * alongRadius, sigma: noiseOf(star) * long };
    })
  );
  const across = robustFit(
    stars.map(({ star, square }) => {
      const short = (star.fwhmPx ** 2 * (1 - star.ellipticity)) / typical;
      return { factors: [1, square], value: short, sigma: noiseOf(star) * short };
    })
  );
  if (!circling || !across) return false;
  const [second = 0, fourth = 0] = circling.coefficients;
  const grown = second + fourth;
  if (grown <= 0) return false;
  const { covariance } = circling;
  const standard = Math.sqrt(covariance[0]![0]! + covariance[1]![1]! + 2 * covariance[0]![1]!);
  const shareStandard = Math.sqrt(covariance[0]![0]!) / grown;
  return (
    grown > 2 * standard &&
    second / grown > TURNED_SHARE - 2 * shareStandard &&
    across.coefficients[1]! - 2 * Math.sqrt(across.covariance[1]![1]!) < TURNED_ACROSS * grown
  );
}

const RINGS = 8;

/** Chance that a normal deviate lies below z (Abramowitz & Stegun 26.2.17, error below 10⁻⁷). */
function below(z: number): number {
  const t = 1 / (1 + 0.2316419 * Math.abs(z));
  const tail =
    (Math.exp((-z * z) / 2) / Math.sqrt(2 * Math.PI)) *
    t *
    (0.31938153 + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))));
  return z >= 0 ? 1 - tail : tail;
}

/** How sure one may be of a fault: of its being there, and of its being as large as is worth mending. */
const confidenceOf = (strength: number, sigmas: number): number =>
  Math.min(0.99, below(sigmas - SURE + 2) * (1 - 0.5 * Math.exp(-2 * Math.max(0, strength - 1))));

const percent = (share: number): string => `${Math.round(100 * share)} %`;

/** Directions in words, for who looks at the picture. */
function towards(directionDeg: number): string {
  const words = ['right', 'top right', 'top', 'top left', 'left', 'bottom left', 'bottom', 'bottom right'];
  return words[((Math.round(directionDeg / 45) % 8) + 8) % 8]!;
}

/** Why a frame does not tell, and what to do about it; undefined where it does. */
function whyUnclear(reading: StarReading, used: readonly Placed[], inCorners: readonly number[]): string | undefined {
  const saturated = reading.stars.filter((star) => star.saturated).length;
  const faint = reading.stars.filter((star) => !star.saturated && star.snr < LEAST_SNR).length;
  if (used.length < LEAST_STARS) {
    if (saturated > used.length) {
      return `Cannot tell: ${saturated} stars are cut off at the top and ${used.length} are not. Take shorter frames.`;
    }
    if (reading.stars.length === 0) {
      return 'Cannot tell: no stars were found. Take a longer frame of a field with stars, near focus.';
    }
    const why = faint > 0 ? `, ${faint} more are too faint` : '';
    return `Cannot tell: only ${used.length} stars can be measured${why}; ${LEAST_STARS} are needed. Take longer frames, or a field with more stars.`;
  }
  const wide = typicalWidth(used);
  if (isUndersampled(wide)) {
    return `Cannot tell: stars are ${wide!.toFixed(1)} px wide, too few pixels for their shape (undersampled). Take frames without binning, or with a longer focal length.`;
  }
  const empty = inCorners.filter((count) => count < LEAST_IN_CORNER).length;
  if (empty > 1) {
    return `Cannot tell about the corners: ${empty} of them have hardly a star. Take longer frames, or a field with more stars.`;
  }
  return undefined;
}

/** Judges a field of stars. It knows no train: which spacing makes which stretch, only its owner's frames can tell. */
export function judgeField(reading: StarReading): FieldReading {
  const { widthPx, heightPx, bottomUp, centreFlatness } = reading;
  const corner = Math.hypot(widthPx, heightPx) / 2;
  const placed = reading.stars.filter(isTelling).map((star): Placed => ({
    star: bottomUp ? star : { ...star, lopsided: [star.lopsided[0], -star.lopsided[1]] },
    ...fieldPlace(star, reading)
  }));
  const [halfWidth, halfHeight] = [widthPx / 2 / corner, heightPx / 2 / corner];
  const cornerStars = byCorner(placed, reading);
  const skyLight = skyLightOf(reading.mesh, bottomUp) ?? null;
  const findings: FrameFinding[] = [];
  const tell = (cause: Cause, strength: number, sigmas: number, message: string, most = 1): void => {
    if (strength >= 1 && sigmas >= SURE) {
      findings.push({ cause, strength, confidence: Math.min(most, confidenceOf(strength, sigmas)), message });
    }
  };

  const base: FieldReading = {
    count: reading.stars.length,
    used: placed.length,
    hfrPx: median(placed.map(({ star }) => star.hfrPx)),
    fwhmPx: typicalWidth(placed),
    ellipticity: median(placed.map(({ star }) => star.ellipticity)),
    radial: null,
    tracking: null,
    tilt: null,
    cornerSizePct: null,
    cornerSizeStandardPct: null,
    opticalCentre: null,
    coma: null,
    flatness: centreFlatness,
    light: skyLight,
    findings
  };

  if (skyLight) {
    const { cornerLoss, standard, darkEdge } = skyLight;
    const lost = `The corners have lost ${percent(cornerLoss)} of the light or more, alike: a filter too small or too far away, not the spacing.`;
    const either = `The sky is ${percent(cornerLoss)} darker in the corners: either a filter is too small or too far away, or something bright stands in the middle of the field. A flat, or a frame of another field, tells which; it is not the spacing.`;
    const told = starsSayVignetting(
      placed.map(({ star: { flux }, square }) => ({ flux, square })),
      reading,
      cornerLoss
    );
    const isOpen = told === undefined || told < 1;
    tell('light', cornerLoss / WORTH.cornerLoss, cornerLoss / standard, isOpen ? either : lost, isOpen ? AN_OR : 1);
    if (darkEdge) {
      const edge = `The ${darkEdge.side} edge is ${percent(darkEdge.loss)} darker than what lies next to it: something stands in the light on that side, a filter or its carousel off the middle. It is not the spacing.`;
      tell('light', darkEdge.loss / WORTH.edgeLoss, darkEdge.loss / darkEdge.standard, edge);
    }
  }

  const middleStretch =
    median(placed.filter(({ square }) => square < IN_MIDDLE).map(({ star }) => star.ellipticity)) ?? 0;
  tell(
    'focus',
    middleStretch > TRAILED || isUndersampled(base.fwhmPx) ? 0 : (centreFlatness - 1) / WORTH.flatness,
    ((centreFlatness - 1) / 0.02) * Math.min(1, Math.sqrt(placed.length / 40)),
    'Stars in the middle are flat or hollow: the frame is out of focus. Focus first; nothing can be said about the spacing before.'
  );
  const unclear = whyUnclear(
    reading,
    placed,
    cornerStars.map(({ length }) => length)
  );
  const stretch = unclear ? undefined : fitStretch(placed);
  const size = unclear ? undefined : fitSize(placed);
  const coma = unclear ? undefined : fitComa(placed);
  if (!stretch || !size || !coma) {
    findings.push({
      cause: 'unclear',
      strength: 1,
      confidence: 1,
      message: unclear ?? 'Cannot tell: the stars do not cover the field. Take longer frames.'
    });
    return { ...base, findings };
  }

  // What all stars have in common.
  const [c1, c2] = stretch.coefficients as [number, number];
  const common = Math.hypot(c1, c2);
  const commonStandard = Math.sqrt((stretch.covariance[0]![0]! + stretch.covariance[1]![1]!) / 2);
  const tracking = { ellipticity: common, angleDeg: (Math.atan2(c2, c1) * 90) / Math.PI, standard: commonStandard };

  // Stretch of single stars along the radius without it.
  const signed = ({ star, x, y, square }: Placed): number => {
    const [e1, e2] = stretchVector(star);
    return ((e1 - c1) * (x * x - y * y) + (e2 - c2) * 2 * x * y) / Math.max(1e-9, square);
  };
  // Told where stars still are: beyond the outermost of them a curve goes anywhere, and no ellipticity goes beyond 1.
  const outermost = Math.min(
    1,
    placed.reduce((most, { square }) => Math.max(most, square), 0)
  );
  const outward = [0, 0, 0, 0, outermost, outermost * outermost, 0, 0];
  const stretchAtCorner = Math.max(
    -1,
    Math.min(
      1,
      outward.reduce((sum, factor, at) => sum + factor * stretch.coefficients[at]!, 0)
    )
  );
  const stretchStandard = Math.sqrt(varianceOf(outward, stretch.covariance));
  // How much one corner may differ from that.
  const isAlike = Math.hypot(stretch.coefficients[6]!, stretch.coefficients[7]!) < 0.6 * Math.abs(stretchAtCorner);
  const profile = Array.from({ length: RINGS }, (_, ring) => {
    const values = placed
      .filter(({ square }) => Math.min(RINGS - 1, Math.floor(Math.sqrt(square) * RINGS)) === ring)
      .map(signed);
    const mean = median(values) ?? 0;
    const off = median(values.map((value) => Math.abs(value - mean))) ?? 0;
    return {
      radius: (ring + 0.5) / RINGS,
      stretch: mean,
      standard: (1.2533 * off) / 0.6745 / Math.sqrt(Math.max(1, values.length)),
      count: values.length
    };
  }).filter(({ count }) => count > 1);
  const radial = {
    corner: stretchAtCorner,
    standard: stretchStandard,
    corners: cornerStars.map((stars) => median(stars.map(signed))) as [
      number | null,
      number | null,
      number | null,
      number | null
    ],
    profile
  };
  const centreStandard =
    Math.sqrt((stretch.covariance[2]![2]! + stretch.covariance[3]![3]!) / 2) / Math.abs(2 * stretchAtCorner);
  const opticalCentre =
    Math.abs(stretchAtCorner) > 5 * stretchStandard && centreStandard < 0.2 && isAlike
      ? {
          x: -stretch.coefficients[2]! / (2 * stretchAtCorner),
          y: -stretch.coefficients[3]! / (2 * stretchAtCorner),
          standard: centreStandard
        }
      : null;

  // Size: what differs by direction is tilt; what is left over, alike all round, is curvature.
  const s = size.coefficients as [number, number, number, number, number, number, number, number, number];
  const uneven = (x: number, y: number): number[] => {
    const square = x * x + y * y;
    return [0, x, y, x * square, y * square, x * x - y * y, 2 * x * y, 0, 0];
  };
  const at = (factors: readonly number[]): number => factors.reduce((sum, factor, i) => sum + factor * s[i]!, 0);
  const rim = Array.from({ length: 24 }, (_, step) => {
    const angle = (step * 15 * Math.PI) / 180;
    const reach = Math.min(halfWidth / Math.abs(Math.cos(angle)), halfHeight / Math.abs(Math.sin(angle)));
    const factors = uneven(reach * Math.cos(angle), reach * Math.sin(angle));
    return { angleDeg: step * 15, off: at(factors), factors };
  });
  const largest = rim.reduce((a, b) => (b.off > a.off ? b : a));
  const smallest = rim.reduce((a, b) => (b.off < a.off ? b : a));
  const mean = Math.max(0.2, s[0] + (s[7] + s[8] / 2) / 3);
  const root = (value: number): number => Math.sqrt(Math.max(0.05, value));
  const tiltPct = (100 * (root(mean + largest.off) - root(mean + smallest.off))) / root(mean);
  const between = largest.factors.map((factor, i) => factor - smallest.factors[i]!);
  const tiltSigmas = (largest.off - smallest.off) / Math.sqrt(varianceOf(between, size.covariance));
  // The largest of many differences of noise stands some σ above nothing by itself.
  const tiltSure = tiltSigmas - 1.5;
  const tilt = {
    sizePct: tiltPct,
    directionDeg: largest.angleDeg > 180 ? largest.angleDeg - 360 : largest.angleDeg,
    significant: tiltPct / WORTH.tiltPct >= 1 && tiltSure >= SURE
  };
  // A tilted sensor in focus in the middle is blurred at both ends: a square, half of which looks alike all round.
  const tilting = Math.hypot(s[5], s[6]);
  const evenFactors = [0, 0, 0, 0, 0, 0, 0, 1, 1];
  const even = s[7] + s[8] - tilting;
  const evenStandard = Math.sqrt(varianceOf(evenFactors, size.covariance));
  const inMiddle = root(Math.max(0.2, s[0]));
  const inCorners = root(Math.max(0.2, s[0]) + even);
  const cornerSizePct = 100 * (inCorners / inMiddle - 1);
  const cornerSizeStandardPct = (50 * evenStandard) / (inCorners * inMiddle);

  const [k1, k2] = coma.coefficients as [number, number, number];
  const comaSize = Math.hypot(k1, k2);
  const comaStandard = Math.sqrt((coma.covariance[0]![0]! + coma.covariance[1]![1]!) / 2);

  // Findings.
  const way = stretchAtCorner > 0 ? 'pointing away from the middle' : 'circling the middle';
  const stretchStrength = Math.abs(stretchAtCorner) / WORTH.stretch;
  const sizeStrength = cornerSizePct / WORTH.cornerSizePct;
  const turned = Math.max(stretchStrength, sizeStrength) >= 1 && mayHaveTurned(placed);
  tell(
    'spacing',
    Math.max(stretchStrength, sizeStrength),
    stretchStrength > sizeStrength ? Math.abs(stretchAtCorner) / stretchStandard : even / evenStandard,
    turned
      ? 'Stars in the corners circle the middle, the longer the farther out, and are hardly wider across. Either the field turned during the exposure, or the spacing is off. A much shorter frame tells: a field that turns is round in it.'
      : stretchStrength > sizeStrength
        ? `The corners are stretched${isAlike ? ' alike' : ', though not alike'}: ${stretchAtCorner.toFixed(2)} ± ${(2 * stretchStandard).toFixed(2)}, ${way}. The spacing is off; which way, a second frame at another spacing will tell.`
        : `Stars in the corners are ${Math.round(cornerSizePct)} % larger than in the middle, alike in all: the field is not flat. The spacing is off; which way, a second frame at another spacing will tell.`,
    turned ? AN_OR : 1
  );
  const pinched = commonThreefold(placed);
  tell(
    'collimation',
    (pinched?.size ?? 0) / WORTH.threefold,
    pinched ? pinched.size / pinched.standard : 0,
    'All stars have three corners, in the middle too: a lens or mirror is pinched in its cell, often by the cold. It is not the spacing.'
  );
  tell(
    'tilt',
    tiltPct / WORTH.tiltPct,
    tiltSure,
    `Stars differ in size by ${Math.round(tiltPct)} % across the field, largest toward the ${towards(tilt.directionDeg)}: the sensor is tilted, or the field is not centred. A focus sweep tells how far.`,
    // Corners that swell beside it are seldom quite alike: that much is no tilt.
    Math.max(stretchStrength, sizeStrength) > tiltPct / WORTH.tiltPct ? BESIDE_SPACING : 1
  );
  tell(
    'tracking',
    common / WORTH.tracking,
    common / commonStandard,
    `All stars are stretched by ${common.toFixed(2)} in one direction, ${Math.round(tracking.angleDeg)}° from horizontal, in the middle too: tracking, guiding or wind, not the spacing.`
  );
  tell(
    'collimation',
    comaSize / WORTH.coma,
    comaSize / comaStandard,
    `All stars have a tail toward the ${towards(Math.atan2(k2, k1) / RAD)}, in the middle too: the optics are out of collimation, not the spacing.`
  );
  // A tail makes a star longer along itself: that much is no tracking.
  const alongTail = Math.abs(((((tracking.angleDeg - Math.atan2(k2, k1) / RAD) % 180) + 270) % 180) - 90);
  const collimation = findings.find(({ cause }) => cause === 'collimation');
  const byTail = findings.findIndex(({ cause }) => cause === 'tracking');
  if (collimation && byTail >= 0 && alongTail < 20 && findings[byTail]!.strength < 1.5 * collimation.strength) {
    findings.splice(byTail, 1);
  }
  findings.sort((a, b) => b.strength - a.strength);
  return {
    ...base,
    radial,
    tracking,
    tilt,
    cornerSizePct,
    cornerSizeStandardPct,
    opticalCentre,
    coma: { size: comaSize, directionDeg: Math.atan2(k2, k1) / RAD, standard: comaStandard },
    findings
  };
}
