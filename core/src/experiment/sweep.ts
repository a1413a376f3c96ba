import { RAD } from '../stats/angles.ts';
import type { FrameSummary } from '../frame/summary.ts';
import type { Star } from '../frame/stars/index.ts';
import { medianOf } from '../stats/median.ts';
import { fieldPlace, type FieldPlace } from '../frame/place.ts';
import { robustFit } from '../frame/robust.ts';
import { FWHM_OVER_SIGMA } from '../frame/measure.ts';

/** A frame of a focus sweep: its stars, and where the focuser stood. */
export interface SweepFrame {
  /** How far the sensor stood from the telescope, counted from anywhere, μm at the sensor. */
  positionUm: number;
  summary: Pick<FrameSummary, 'widthPx' | 'heightPx' | 'bottomUp' | 'flatness' | 'stars'>;
}

/** Best focus of a part of the field. Places over the half diagonal from the middle, y upward. */
export interface SweepRegion {
  x: number;
  y: number;
  /** Where radial and tangential lines are sharp, against the middle of the field, μm: + farther from the telescope. */
  radialUm: number;
  tangentialUm: number;
  standardUm: number;
  stars: number;
}

/** Where the sensor stands farther than its middle, μm; standard uncertainty of each corner. */
export interface SensorTilt {
  /** Rise along +x and +y, μm over half the diagonal: + farther from the telescope. */
  slopeUm: [x: number, y: number];
  /** Covariance of the two, μm². */
  covariance: [xx: number, xy: number, yy: number];
  /** Toward what stands farthest, degrees anticlockwise from +x. */
  directionDeg: number;
  /** From one end of the sensor to the other, where they differ most. */
  acrossUm: number;
  acrossStandardUm: number;
  /** Top left, top right, bottom left, bottom right. */
  cornersUm: [number, number, number, number];
  cornerStandardUm: number;
}

/** The focal surface by a focus sweep. Lengths in μm at the sensor, + farther from the telescope. */
export interface SweepReading {
  frames: number;
  stars: number;
  /** Best focus in the middle, as positions are counted, and for the whole field at once. */
  middleUm: number;
  middleStandardUm: number;
  bestUm: number;
  tilt: SensorTilt;
  /** Best focus in the corners against the middle, tilt taken out. */
  curvatureUm: number;
  curvatureStandardUm: number;
  /** Radial less tangential best focus in the corners. */
  astigmatismUm: number;
  astigmatismStandardUm: number;
  regions: SweepRegion[];
  /** Second moment of a star by its distance from focus: coefficients of the even powers, from px² a μm⁰. */
  curve: number[];
  /** Standard uncertainty of how fast stars grow, of itself. */
  growthDoubt: number;
}

export type SweepAnswer = { ok: true; sweep: SweepReading } | { ok: false; message: string };

const COLUMNS = 5;
/** Stars that are used of a region in one frame, the brightest. */
const MOST_IN_REGION = 24;
const LEAST_SNR = 20;
/** Positions of the focuser that a sweep takes. */
export const LEAST_POSITIONS = 5;
const LEAST_STARS = 20;
const MOST_FRAMES = 60;
/** Scatter of a second moment that pixels and seeing leave, of itself. */
const SCATTER = 0.05;
/** How much seeing and drift may differ from frame to frame, of the sharpest moment. */
const FRAME_DIFFERS = 0.15;
/** Of the growth, from rays through even discs and rings (own calculation). */
const USUAL_CROSS = 0.15;
const CROSS_DIFFERS = 0.05;
const ROUNDS = 8;

interface Sample extends FieldPlace {
  frame: number;
  cell: number;
  /** Of twice the polar angle. */
  cos: number;
  sin: number;
  radial: number;
  tangential: number;
  /** Relative standard deviation of both. */
  scatter: number;
}

const regionsOf = ({ widthPx, heightPx }: SweepFrame['summary']): { columns: number; rows: number } => ({
  columns: COLUMNS,
  rows: Math.max(3, Math.round((COLUMNS * heightPx) / widthPx))
});

/** Moments of a star along the radius and across it, px². */
function sampleOf(star: Star, frame: number, { summary }: SweepFrame): Sample {
  const { widthPx, heightPx } = summary;
  const half = Math.hypot(widthPx, heightPx) / 2;
  const place = fieldPlace(star, summary);
  const { x, y } = place;
  const { columns, rows } = regionsOf(summary);
  const column = Math.min(columns - 1, Math.max(0, Math.floor(((x * half) / widthPx + 0.5) * columns)));
  const row = Math.min(rows - 1, Math.max(0, Math.floor(((y * half) / heightPx + 0.5) * rows)));
  const ratio = Math.max(0.02, 1 - star.ellipticity);
  // Widths are told at half maximum: of flat and hollow stars the moments are others.
  const product = (star.fwhmPx / (summary.flatness ?? 1) / FWHM_OVER_SIGMA) ** 2;
  const [long, short] = [product / ratio, product * ratio];
  const polar = Math.atan2(y, x);
  const along = Math.cos(star.angleDeg * RAD - polar) ** 2;
  return {
    frame,
    cell: row * columns + column,
    ...place,
    cos: Math.cos(2 * polar),
    sin: Math.sin(2 * polar),
    radial: long * along + short * (1 - along),
    tangential: short * along + long * (1 - along),
    scatter: Math.hypot(SCATTER, 3 / star.snr)
  };
}

/** The brightest stars of each region of a frame. */
function samplesOf(frame: SweepFrame, index: number): Sample[] {
  const inCell = new Map<number, number>();
  return frame.summary.stars
    .filter(({ saturated, snr }) => !saturated && snr >= LEAST_SNR)
    .toSorted((a, b) => b.snr - a.snr)
    .flatMap((star) => {
      const sample = sampleOf(star, index, frame);
      const there = inCell.get(sample.cell) ?? 0;
      inCell.set(sample.cell, there + 1);
      return there < MOST_IN_REGION ? [sample] : [];
    });
}

/**
 * What is common to all stars, in units of half the walk and of the sharpest moment: coefficients of the even powers of
 * the distance from focus (the moments of blurred discs under a window are no parabola), and the surface.
 */
const POWERS = 5;
const SHARPEST = 0;
const GROWTH = 1;
const MIDDLE = POWERS;
const SLOPE_X = MIDDLE + 1;
const SLOPE_Y = MIDDLE + 2;
const CURVATURE = MIDDLE + 3;
/** Half the distance of radial and tangential focus in the corners. */
const ASTIGMATISM = MIDDLE + 4;
/** How much of the blur across a direction shows along it. */
const CROSS = MIDDLE + 5;
const COMMON = MIDDLE + 6;
/** Of each frame: what its seeing adds, and what its drift adds along x and along the diagonal. */
const OF_FRAME = 3;

/** Best focus along the radius (+1) or across it (−1) at a place. */
const focusAt = (p: readonly number[], { x, y, square }: FieldPlace, axis: 1 | -1): number =>
  p[MIDDLE]! + p[SLOPE_X]! * x + p[SLOPE_Y]! * y + (p[CURVATURE]! + axis * p[ASTIGMATISM]!) * square;

function momentAt(p: readonly number[], u: number): number {
  let sum = 0;
  for (let power = POWERS - 1; power >= 0; power--) sum = sum * u * u + p[power]!;
  return sum;
}
function slopeAt(p: readonly number[], u: number): number {
  let sum = 0;
  for (let power = POWERS - 1; power > 0; power--) sum = sum * u * u + 2 * power * p[power]!;
  return sum * u;
}

/**
 * What differs between a line and a disc: light that lies on a line along the radius is gathered from the whole width of
 * the pupil, that of a disc only from its middle, since the window takes the star's shape.
 */
function crossOf(p: readonly number[], u: number, across: number): number {
  const sharp = p[SHARPEST]! / Math.max(1e-6, p[GROWTH]!);
  return u * u * ((across * across) / (sharp + across * across) - (u * u) / (sharp + u * u));
}

const STEP = 1e-4;

/** Moment that a star is expected to have along the radius (+1) or across it (−1), and how it changes with either focus. */
function expected(p: readonly number[], sample: Sample, axis: 1 | -1, position: number) {
  const u = position - focusAt(p, sample, axis);
  const across = position - focusAt(p, sample, axis === 1 ? -1 : 1);
  const cross = crossOf(p, u, across);
  return {
    u,
    cross,
    moment: momentAt(p, u) + p[CROSS]! * cross + addedBy(p, sample, axis),
    byOwn: -(slopeAt(p, u) + (p[CROSS]! * (crossOf(p, u + STEP, across) - cross)) / STEP),
    byOther: (-p[CROSS]! * (crossOf(p, u, across + STEP) - cross)) / STEP
  };
}

/** What the frame adds to a star's moment along the radius or across it. */
function addedBy(p: readonly number[], { frame, cos, sin }: Sample, axis: 1 | -1): number {
  const at = COMMON + OF_FRAME * frame;
  return p[at]! + axis * (p[at + 1]! * cos + p[at + 2]! * sin);
}

interface Scaled {
  samples: readonly Sample[];
  /** Positions in units of half the walk, from its middle. */
  positions: readonly number[];
}

/** Moments of all stars on one curve whose middle lies on one surface: Gauss and Newton, each step a robust fit. */
function fitSurface({ samples, positions }: Scaled, start: readonly number[]) {
  const size = start.length;
  let p = [...start];
  let covariance: number[][] | undefined;
  for (let round = 0; round < ROUNDS; round++) {
    const equations = samples.flatMap((sample) =>
      ([1, -1] as const).map((axis) => {
        const factors = new Array<number>(size).fill(0);
        const { u, cross, moment, byOwn, byOther } = expected(p, sample, axis, positions[sample.frame]!);
        const slope = byOwn + byOther;
        for (let power = 0; power < POWERS; power++) factors[power] = u ** (2 * power);
        factors[MIDDLE] = slope;
        factors[SLOPE_X] = slope * sample.x;
        factors[SLOPE_Y] = slope * sample.y;
        factors[CURVATURE] = slope * sample.square;
        factors[ASTIGMATISM] = axis * (byOwn - byOther) * sample.square;
        factors[CROSS] = cross;
        const at = COMMON + OF_FRAME * sample.frame;
        factors[at] = 1;
        factors[at + 1] = axis * sample.cos;
        factors[at + 2] = axis * sample.sin;
        const seen = axis === 1 ? sample.radial : sample.tangential;
        return { factors, value: seen - moment, sigma: sample.scatter * seen };
      })
    );
    // What differs from frame to frame is small, and few positions say little of the higher powers.
    const held = (index: number, sigma: number, at = 0) => ({
      factors: Array.from({ length: size }, (_, each) => Number(each === index)),
      value: at - p[index]!,
      sigma
    });
    for (let at = COMMON; at < size; at++) equations.push(held(at, FRAME_DIFFERS * Math.max(0.2, p[SHARPEST]!)));
    equations.push(held(CROSS, CROSS_DIFFERS * p[GROWTH]!, USUAL_CROSS * p[GROWTH]!));
    for (let power = GROWTH + 1; power < POWERS; power++)
      equations.push(held(power, 0.5 * Math.abs(p[GROWTH]!) + 1e-3));
    const fit = robustFit(equations);
    if (!fit) return undefined;
    covariance = fit.covariance;
    // The middle of a curve may not run off in one step.
    const largest = Math.max(
      ...[MIDDLE, SLOPE_X, SLOPE_Y, CURVATURE, ASTIGMATISM].map((i) => Math.abs(fit.coefficients[i]!))
    );
    const share = Math.min(1, 0.7 / Math.max(1e-9, largest));
    p = p.map((each, at) => each + share * fit.coefficients[at]!);
    if (largest < 1e-5) break;
  }
  return covariance && p.every(Number.isFinite) ? { p, covariance } : undefined;
}

/** A first guess: the stars around the middle on a parabola. */
function guess({ samples, positions }: Scaled): number[] | string {
  const near = samples.filter(({ square }) => square < 0.16);
  const used = near.length >= LEAST_STARS ? near : samples;
  const fit = robustFit(
    used.map((sample) => {
      const moment = (sample.radial + sample.tangential) / 2;
      const z = positions[sample.frame]!;
      return { factors: [1, z, z * z], value: moment, sigma: sample.scatter * moment };
    })
  );
  if (!fit) return 'The stars of these frames make no curve.';
  const [c0, c1, c2] = fit.coefficients as [number, number, number];
  if (!(c2 > 2 * Math.sqrt(fit.covariance[2]![2]!))) {
    return 'Stars do not grow toward both ends of this sweep: it has no minimum. Walk farther, to both sides of focus.';
  }
  const middle = -c1 / (2 * c2);
  if (Math.abs(middle) > 1) {
    const end = middle > 0 ? 'largest' : 'smallest';
    return `Best focus is beyond the ${end} position of this sweep: it has no minimum. Continue that way until stars grow again.`;
  }
  return [Math.max(0.05, c0 - (c1 * c1) / (4 * c2)), c2, 0, 0, 0, middle, 0, 0, 0, 0, 0];
}

/** Best focus of each region by itself, all else as it is over the whole field. */
function regionsBy({ samples, positions }: Scaled, p: readonly number[]): (SweepRegion & { cell: number })[] {
  const byCell = new Map<number, Sample[]>();
  for (const sample of samples) byCell.set(sample.cell, [...(byCell.get(sample.cell) ?? []), sample]);
  return [...byCell].flatMap(([cell, there]) => {
    if (new Set(there.map(({ frame }) => frame)).size < LEAST_POSITIONS - 1) return [];
    const mean = (of: (sample: Sample) => number): number =>
      there.reduce((sum, each) => sum + of(each), 0) / there.length;
    const place = { x: mean(({ x }) => x), y: mean(({ y }) => y), square: mean(({ square }) => square) };
    const foci = ([1, -1] as const).map((axis) => {
      let [focus, standard] = [focusAt(p, place, axis), Infinity];
      for (let round = 0; round < 5; round++) {
        const fit = robustFit(
          there.map((sample) => {
            const u = positions[sample.frame]! - focus - (focusAt(p, sample, axis) - focusAt(p, place, axis));
            const seen = axis === 1 ? sample.radial : sample.tangential;
            return {
              factors: [-slopeAt(p, u)],
              value: seen - momentAt(p, u) - addedBy(p, sample, axis),
              sigma: sample.scatter * seen
            };
          })
        );
        if (!fit) return undefined;
        focus += Math.max(-0.5, Math.min(0.5, fit.coefficients[0]!));
        standard = Math.sqrt(fit.covariance[0]![0]!);
      }
      return Number.isFinite(focus) ? { focus, standard } : undefined;
    });
    const [radial, tangential] = foci;
    if (!radial || !tangential) return [];
    return [
      {
        cell,
        x: place.x,
        y: place.y,
        radialUm: radial.focus - p[MIDDLE]!,
        tangentialUm: tangential.focus - p[MIDDLE]!,
        standardUm: Math.hypot(radial.standard, tangential.standard) / Math.SQRT2,
        stars: there.length
      }
    ];
  });
}

/** The same sweep, its positions counted in another unit: `by` of the new for one of the old, negative where they run the other way. */
export function scaledSweep(sweep: SweepReading, by: number): SweepReading {
  const { tilt } = sweep;
  const size = Math.abs(by);
  const slopeUm: SensorTilt['slopeUm'] = [tilt.slopeUm[0] * by, tilt.slopeUm[1] * by];
  return {
    ...sweep,
    middleUm: sweep.middleUm * by,
    middleStandardUm: sweep.middleStandardUm * size,
    bestUm: sweep.bestUm * by,
    tilt: {
      slopeUm,
      covariance: tilt.covariance.map((each) => each * by * by) as SensorTilt['covariance'],
      directionDeg: Math.atan2(slopeUm[1], slopeUm[0]) / RAD,
      acrossUm: tilt.acrossUm * size,
      acrossStandardUm: tilt.acrossStandardUm * size,
      cornersUm: tilt.cornersUm.map((each) => each * by) as SensorTilt['cornersUm'],
      cornerStandardUm: tilt.cornerStandardUm * size
    },
    curvatureUm: sweep.curvatureUm * by,
    curvatureStandardUm: sweep.curvatureStandardUm * size,
    astigmatismUm: sweep.astigmatismUm * by,
    astigmatismStandardUm: sweep.astigmatismStandardUm * size,
    regions: sweep.regions.map((region) => ({
      ...region,
      radialUm: region.radialUm * by,
      tangentialUm: region.tangentialUm * by,
      standardUm: region.standardUm * size
    })),
    curve: sweep.curve.map((each, power) => each / by ** (2 * power))
  };
}

/** The tilt of the sensor against the focal surface: where focus lies nearer, the sensor stands farther. */
function tiltOf(
  p: readonly number[],
  covariance: readonly (readonly number[])[],
  um: number,
  summary: SweepFrame['summary']
): SensorTilt {
  const { widthPx, heightPx } = summary;
  const half = Math.hypot(widthPx, heightPx);
  const [right, top] = [widthPx / half, heightPx / half];
  const [x, y] = [-p[SLOPE_X]! * um, -p[SLOPE_Y]! * um];
  const of = (i: number, j: number): number => covariance[i]![j]! * um * um;
  const spread: SensorTilt['covariance'] = [of(SLOPE_X, SLOPE_X), of(SLOPE_X, SLOPE_Y), of(SLOPE_Y, SLOPE_Y)];
  const standardAt = (u: number, v: number): number =>
    Math.sqrt(u * u * spread[0] + 2 * u * v * spread[1] + v * v * spread[2]);
  const at = (u: number, v: number): number => x * u + y * v;
  const reach = [Math.sign(x) * right, Math.sign(y) * top] as const;
  return {
    slopeUm: [x, y],
    covariance: spread,
    directionDeg: Math.atan2(y, x) / RAD,
    acrossUm: 2 * at(...reach),
    acrossStandardUm: 2 * standardAt(...reach),
    cornersUm: [at(-right, top), at(right, top), at(-right, -top), at(right, -top)],
    cornerStandardUm: Math.max(standardAt(right, top), standardAt(right, -top))
  };
}

/**
 * The focal surface by frames at several positions of the focuser (handbook §9): every star's second moments along the
 * radius and across it lie on one curve over the distance from its own best focus, which lies on a plane and two bowls,
 * one for each direction. Frames may differ in seeing and drift.
 *
 * @param frames of one camera and binning, come to from one side; at least five positions, on both sides of focus
 */
export function readSweep(frames: readonly SweepFrame[]): SweepAnswer {
  const refuse = (message: string): SweepAnswer => ({ ok: false, message });
  if (frames.length > MOST_FRAMES) return refuse(`A sweep has at most ${MOST_FRAMES} frames.`);
  const [first] = frames;
  if (!first || new Set(frames.map(({ positionUm }) => positionUm)).size < LEAST_POSITIONS) {
    return refuse(`A sweep takes frames at ${LEAST_POSITIONS} positions of the focuser at least.`);
  }
  const { widthPx, heightPx } = first.summary;
  if (frames.some(({ summary }) => summary.widthPx !== widthPx || summary.heightPx !== heightPx)) {
    return refuse('These frames are not all of one size: a sweep is taken with one camera at one binning.');
  }
  const all = frames.map((frame, index) => samplesOf(frame, index));
  const used = frames.flatMap((frame, index) =>
    all[index]!.length >= LEAST_STARS ? [{ frame, samples: all[index]! }] : []
  );
  const positionsUm = used.map(({ frame }) => frame.positionUm);
  if (new Set(positionsUm).size < LEAST_POSITIONS) {
    return refuse(
      `Only ${used.length} of these frames have ${LEAST_STARS} stars that can be measured; frames at ${LEAST_POSITIONS} positions are needed. Take longer ones, or walk less far from focus.`
    );
  }
  const [least, most] = [Math.min(...positionsUm), Math.max(...positionsUm)];
  const [centre, um] = [(least + most) / 2, (most - least) / 2];
  const raw = used.flatMap(({ samples }, frame) => samples.map((sample) => ({ ...sample, frame })));
  const px = Math.min(
    ...used.map(({ samples }) => medianOf(samples.map(({ radial, tangential }) => (radial + tangential) / 2)))
  );
  const scaled: Scaled = {
    samples: raw.map((sample) => ({ ...sample, radial: sample.radial / px, tangential: sample.tangential / px })),
    positions: positionsUm.map((each) => (each - centre) / um)
  };
  const start = guess(scaled);
  if (typeof start === 'string') return refuse(start);
  const fit = fitSurface(scaled, [...start, ...new Array<number>(OF_FRAME * used.length).fill(0)]);
  if (!fit) return refuse('The stars do not cover the field: best focus of its corners does not come out.');
  const { p, covariance } = fit;
  if (!(p[GROWTH]! > 0) || Math.abs(p[MIDDLE]!) > 1) {
    return refuse(
      'Stars do not grow toward both ends of this sweep: it has no minimum. Walk farther, to both sides of focus.'
    );
  }
  const standard = (index: number): number => Math.sqrt(covariance[index]![index]!) * um;
  return {
    ok: true,
    sweep: {
      frames: used.length,
      stars: raw.length,
      middleUm: centre + p[MIDDLE]! * um,
      middleStandardUm: standard(MIDDLE),
      // The mean of the square of the radius over a rectangle is a third of its corners'.
      bestUm: centre + (p[MIDDLE]! + p[CURVATURE]! / 3) * um,
      tilt: tiltOf(p, covariance, um, first.summary),
      curvatureUm: p[CURVATURE]! * um,
      curvatureStandardUm: standard(CURVATURE),
      astigmatismUm: 2 * p[ASTIGMATISM]! * um,
      astigmatismStandardUm: 2 * standard(ASTIGMATISM),
      regions: regionsBy(scaled, p)
        .sort((a, b) => a.cell - b.cell)
        .map(({ cell: _cell, ...region }) => ({
          ...region,
          radialUm: region.radialUm * um,
          tangentialUm: region.tangentialUm * um,
          standardUm: region.standardUm * um
        })),
      growthDoubt: Math.sqrt(covariance[GROWTH]![GROWTH]!) / p[GROWTH]!,
      curve: Array.from({ length: POWERS }, (_, power) => (p[power]! * px) / um ** (2 * power))
    }
  };
}

/**
 * What one of the positions' units moves the sensor by, μm, by how stars grow: the light of a star out of focus is an even
 * disc or ring whose size the focal ratio gives (variance along one axis (1 + ε²)/16 of the diameter's square;
 * calculation).
 *
 * @param growth px² a unit², as a sweep gives it that was read with positions in those units
 */
export function umPerUnit(growth: number, fRatio: number, obstruction: number, pixelUm: number): number {
  return (4 * fRatio * pixelUm * Math.sqrt(growth)) / Math.sqrt(1 + obstruction ** 2);
}
