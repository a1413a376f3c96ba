import { dice } from '../stats/random.ts';
import type { Facts } from '../check/facts.ts';
import {
  PERFECT_OPTICS,
  QUIET_NIGHT,
  simulateFrame,
  type SimulatedFrameSpec,
  type FieldOptics,
  type FrameConditions
} from '../frame/simulated.ts';
import { writeFits } from '../frame/fits/write.ts';
import { illumination, COARSE_LINES } from '../light/illumination.ts';
import { correctorOf } from '../train/model.ts';

/** What is true of a unit and a night, and what nobody at the telescope is told. */
export interface HiddenTruth {
  /** Back focus that this unit really wants, over what the document says, mm. */
  wantsMm: number;
  /** Which way this corrector stretches: 1 or −1. */
  sense: 1 | -1;
  /** How the field's curvature grows with the spacing error, μm a mm; the usual where left out. */
  curvatureUmPerMm?: number;
  tiltUm: number;
  tiltDirectionDeg: number;
  defocusUm: number;
  comaUm: number;
  comaDirectionDeg: number;
  driftPx: number;
  driftDirectionDeg: number;
  seeingPx: number;
  hotPixels: number;
  cosmicRays: number;
  pinchUm: number;
  pinchDirectionDeg: number;
  /** Turn of the field while the shutter is open, degrees. */
  rotationDeg: number;
  /** Brightest of a nebula, and a gradient from end to end of the field, ADU. */
  nebulaAdu: number;
  gradientAdu: number;
  gradientDirectionDeg: number;
  trails: number;
  badColumns: number;
  glowAdu: number;
  bandingE: number;
  /** Which of the maker's units of this corrector it is: each has a curvature, astigmatism and centre of its own. */
  unit: number;
}

export const NO_FAULTS: HiddenTruth = {
  wantsMm: 0,
  sense: 1,
  tiltUm: 0,
  tiltDirectionDeg: 0,
  defocusUm: 0,
  comaUm: 0,
  comaDirectionDeg: 0,
  driftPx: 0,
  driftDirectionDeg: 0,
  seeingPx: 3,
  hotPixels: 0,
  cosmicRays: 0,
  pinchUm: 0,
  pinchDirectionDeg: 0,
  rotationDeg: 0,
  nebulaAdu: 0,
  gradientAdu: 0,
  gradientDirectionDeg: 0,
  trails: 0,
  badColumns: 0,
  glowAdu: 0,
  bandingE: 0,
  unit: 0
};

/** Stars of every frame the simulated camera takes, so that its frames can be compared. */
const ONE_SKY = 1;

/** Half diagonal for which the usual astigmatism is said, mm; it grows with the square (third order). */
const USUAL_HALF_DIAGONAL_MM = 14.1;

/** What the glass of one unit does of its own; invented, as wide as units and designs may well differ. */
interface Glass {
  astigmatism: number;
  curvature: number;
  designCurvatureUm: number;
  centre: readonly [x: number, y: number];
}

/** Glass of a train's corrector (of its host, where there is none): the same for the same data and unit. */
function glassOf({ train, light }: Facts, unit: number): Glass {
  const corrector = train.elements.map(correctorOf).find((each) => each !== undefined);
  const data = JSON.stringify([
    corrector?.backFocusMm,
    corrector?.magnification,
    train.host.kind,
    light?.beam.fRatio.toFixed(2),
    unit
  ]);
  const { uniform } = dice([...data].reduce((hash, letter) => (Math.imul(hash, 31) + letter.charCodeAt(0)) | 0, 7));
  const between = (least: number, most: number): number => least + (most - least) * uniform();
  const [away, towards] = [between(0, 0.08), between(0, 2 * Math.PI)];
  return {
    astigmatism: between(0.65, 1.5),
    curvature: between(-1, 2.5),
    designCurvatureUm: between(-35, 45),
    centre: [away * Math.cos(towards), away * Math.sin(towards)]
  };
}

/** Cells along the longer side between whose middles the light is taken as straight. */
const LIGHT_CELLS = 24;

/** Light over the sensor by places in mm, from a coarse map. */
function lightOver(facts: Facts): ((xMm: number, yMm: number) => number) | undefined {
  const { light } = facts;
  if (!light || light.openings.length === 0) return undefined;
  const { widthMm, heightMm } = light.sensor;
  const { optics } = light;
  const size = LIGHT_CELLS + 1;
  const map = Float64Array.from({ length: size * size }, (_, at) =>
    illumination(
      [((at % size) / LIGHT_CELLS - 0.5) * widthMm, (Math.floor(at / size) / LIGHT_CELLS - 0.5) * heightMm],
      optics,
      COARSE_LINES
    )
  );
  const most = map.reduce((a, b) => Math.max(a, b), 0);
  if (most <= 0) return undefined;
  return (xMm, yMm) => {
    const u = Math.max(0, Math.min(LIGHT_CELLS, (xMm / widthMm + 0.5) * LIGHT_CELLS));
    const v = Math.max(0, Math.min(LIGHT_CELLS, (yMm / heightMm + 0.5) * LIGHT_CELLS));
    const [column, row] = [Math.min(LIGHT_CELLS - 1, Math.floor(u)), Math.min(LIGHT_CELLS - 1, Math.floor(v))];
    const [across, up] = [u - column, v - row];
    const at = row * size + column;
    const low = map[at]! * (1 - across) + map[at + 1]! * across;
    const high = map[at + size]! * (1 - across) + map[at + size + 1]! * across;
    return (low * (1 - up) + high * up) / most;
  };
}

/**
 * The simulated camera on a train: its sensor, its light and its distance are the train's, what is hidden comes on top.
 *
 * @param binning pixels that are read as one, each way
 * @param focuserAt what its header says of the focuser, steps
 * @returns undefined where the train does not say what its sensor is
 */
export function cameraOf(
  facts: Facts,
  truth: HiddenTruth,
  seed: number,
  binning = 1,
  focuserAt?: number
): SimulatedFrameSpec | undefined {
  const { light, ledger, train } = facts;
  if (!light) return undefined;
  const { widthMm, heightMm, pixelUm: ownUm, colour } = light.sensor;
  if (ownUm === undefined) return undefined;
  const pixelUm = ownUm * binning;
  const isOpen = train.elements.some(({ kind }) => kind === 'gap');
  const glass = glassOf(facts, truth.unit);
  const larger = (Math.hypot(widthMm, heightMm) / 2 / USUAL_HALF_DIAGONAL_MM) ** 2;
  const optics: FieldOptics = {
    fRatio: light.beam.fRatio,
    obstruction: light.obstruction,
    // A place that is still open says nothing of how far the sensor will stand.
    spacingErrorMm: (isOpen || ledger.residualMm === null ? 0 : ledger.residualMm) - truth.wantsMm,
    astigmatismUmPerMm: PERFECT_OPTICS.astigmatismUmPerMm * larger * truth.sense * glass.astigmatism,
    curvatureUmPerMm: truth.curvatureUmPerMm ?? PERFECT_OPTICS.curvatureUmPerMm * larger * glass.curvature,
    designCurvatureUm: glass.designCurvatureUm,
    centre: glass.centre,
    pinchUm: truth.pinchUm,
    pinchDirectionDeg: truth.pinchDirectionDeg,
    tiltUm: truth.tiltUm,
    tiltDirectionDeg: truth.tiltDirectionDeg,
    defocusUm: truth.defocusUm,
    comaUm: truth.comaUm,
    comaDirectionDeg: truth.comaDirectionDeg
  };
  const conditions: FrameConditions = {
    ...QUIET_NIGHT,
    seeingPx: truth.seeingPx / binning,
    driftPx: truth.driftPx / binning,
    driftDirectionDeg: truth.driftDirectionDeg,
    illumination: lightOver(facts),
    hotPixels: truth.hotPixels,
    cosmicRays: truth.cosmicRays,
    rotationDeg: truth.rotationDeg,
    nebulaAdu: truth.nebulaAdu,
    gradientAdu: truth.gradientAdu,
    gradientDirectionDeg: truth.gradientDirectionDeg,
    trails: truth.trails,
    badColumns: truth.badColumns,
    glowAdu: truth.glowAdu,
    bandingE: truth.bandingE
  };
  const [widthPx, heightPx] = [Math.round((widthMm * 1000) / pixelUm), Math.round((heightMm * 1000) / pixelUm)];
  return {
    widthPx,
    heightPx,
    pixelUm,
    mosaic: colour && binning === 1 ? 'RGGB' : undefined,
    seed,
    optics,
    conditions,
    // About as many as a field of the Milky Way shows, and never so few that the corners are empty.
    field: {
      count: Math.min(3000, Math.max(300, Math.round((widthPx * heightPx) / 6000))),
      faintestAdu: 2000,
      brightestAdu: 400_000,
      power: 0.8
    },
    keywords: {
      // Letters outside ASCII have no place in a FITS header.
      TELESCOP: train.host.name.slice(0, 60),
      INSTRUME: 'Simulated camera',
      FOCALLEN: Number(light.focalLengthMm.toFixed(2)),
      XPIXSZ: Number(pixelUm.toFixed(3)),
      YPIXSZ: Number(pixelUm.toFixed(3)),
      XBINNING: binning,
      YBINNING: binning,
      EXPTIME: 60,
      ...(focuserAt === undefined ? {} : { FOCUSPOS: focuserAt }),
      ...(colour && binning === 1 ? { BAYERPAT: 'RGGB', XBAYROFF: 0, YBAYROFF: 0 } : {})
    }
  };
}

/**
 * A frame of the simulated camera as a FITS file; always of the same stars.
 *
 * @returns undefined where the train does not say what its sensor is
 * @throws FrameError where a number makes no frame
 */
export function takeFits(...shot: Parameters<typeof cameraOf>): Uint8Array<ArrayBuffer> | undefined {
  const spec = cameraOf(...shot);
  if (!spec) return undefined;
  const { frame } = simulateFrame({ ...spec, skySeed: ONE_SKY });
  return writeFits(frame, { bitpix: 16, keywords: spec.keywords ?? {} });
}

/**
 * What one step of the focuser moves the sensor by against the image, μm: a corrector that travels with the draw tube
 * makes m² of it (longitudinal magnification; calculation).
 *
 * @returns undefined where the host does not say what a step moves
 */
export function sensorUmPerStep({ train, light }: Facts): number | undefined {
  const um = train.host.focuser?.umPerStep;
  if (um === undefined) return undefined;
  const travels = train.elements.some((element) => correctorOf(element));
  return um * (travels ? (light?.magnification?.reckoned ?? 1) ** 2 : 1);
}

/** Step of a simulated focuser of which nothing is said, μm at the sensor, and where it is in focus. */
const SIMULATED_STEP_UM = 4;
const IN_FOCUS_AT = 12_000;
const SWEEP_FRAMES = 9;
/** Widest star of a sweep, of the seeing. */
const SWEEP_BLUR = 3.4;

/** Where the focuser of the simulated camera stands for the frames of a sweep, and how far the sensor is from focus then. */
export function sweepPositions(facts: Facts, seeingPx: number): { at: number; defocusUm: number }[] {
  const { light } = facts;
  if (!light) return [];
  const step = sensorUmPerStep(facts) ?? SIMULATED_STEP_UM;
  const reachUm = SWEEP_BLUR * seeingPx * (light.sensor.pixelUm ?? SIMULATED_STEP_UM) * light.beam.fRatio;
  const steps = Math.max(1, Math.round((2 * reachUm) / step / (SWEEP_FRAMES - 1)));
  return Array.from({ length: SWEEP_FRAMES }, (_, at) => {
    const off = (at - (SWEEP_FRAMES - 1) / 2) * steps;
    return { at: IN_FOCUS_AT + off, defocusUm: off * step };
  });
}
