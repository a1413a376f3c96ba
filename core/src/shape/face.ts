import type { Facts } from '../check/facts.ts';
import { cablesOf, findElement, isSolid, nameOf, type Neighbour } from '../train/model.ts';
import { partShape } from './layout.ts';
import type { OpeningOf } from '../light/openings.ts';

/** An opening of the train as it is seen end-on from the camera, mm. */
export interface FaceOpening {
  /** Element id, or `host`. */
  at: string;
  what: OpeningOf;
  words: string;
  shape: 'round' | 'square';
  clearMm: number;
  atMm: readonly [number, number];
  zMm: number;
  /** It keeps light from some corner. */
  cuts: boolean;
}

/** A guide prism and its stalk, seen end-on, mm. */
export interface FacePrism {
  at: string;
  innerEdgeMm: number;
  sideMm: number;
  stalkMm: number;
  atDeg: number;
  /** Guide field on the image: its middle from the axis, its two sides; undefined where its sensor is not known. */
  field: { heightMm: number; widthMm: number; tallMm: number } | undefined;
  shades: boolean;
}

/** A cable where it is plugged in, seen end-on, mm. */
export interface FaceCable {
  at: string;
  name: string;
  atDeg: number;
  /** From the axis. */
  fromMm: number;
  /** How far the part may be turned either way before it pulls, degrees; undefined where not stated. */
  slackDeg: number | undefined;
  /** It does not reach where the telescope points worst. */
  isShort: boolean;
}

/** A train seen end-on from the camera: x to the right, y up, the axis in the middle. Lengths in mm. */
export interface Face {
  /** Camera's element. */
  camera: string;
  sensor: { widthMm: number; heightMm: number };
  /** Farthest from the sensor first, so that what is near is drawn over it. */
  openings: FaceOpening[];
  prism: FacePrism | undefined;
  /** What stands beside the train and does not turn with it. */
  neighbours: readonly Neighbour[];
  cables: readonly FaceCable[];
  /** Everything lies within. */
  radiusMm: number;
}

/** Room beyond the widest thing, mm. */
const MARGIN_MM = 4;

/** Where cables of the host leave it, from the axis, mm (common practice, no source). */
const HOST_RADIUS_MM = 40;

/** What stands farther from the axis is shown at the edge, mm. */
const FARTHEST_MM = 120;

/** Less than this is no cut, share. */
const LEAST_LOSS = 0.0005;

/** @returns undefined where the sensor is not known */
export function faceOf({ train, light, guide }: Facts): Face | undefined {
  if (!light) return undefined;
  const lossOf = (at: string, what: OpeningOf): number =>
    Math.max(
      0,
      ...light.reportedOpenings
        .filter((each) => each.at === at && each.what === what)
        .map(({ cornerLoss }) => cornerLoss)
    );
  const openings = light.openings
    .filter(({ from, isAhead }) => from !== 'guess' && !isAhead)
    .map((opening): FaceOpening => {
      const { at, what, name, shape, clearMm, decentreMm } = opening;
      const { zMm } = light.holeOf(opening);
      return {
        at,
        what,
        words: name ?? nameOf(train, at),
        shape,
        clearMm,
        atMm: decentreMm,
        zMm,
        cuts: lossOf(at, what) > LEAST_LOSS
      };
    })
    .sort((a, b) => b.zMm - a.zMm);
  const { innerEdgeMm, stalkMm, guideCamera } = guide?.stalk.pickoff ?? {};
  const shadow = guide?.report.shadow;
  const prism: FacePrism | undefined =
    guide && innerEdgeMm !== undefined
      ? {
          at: guide.stalk.at,
          innerEdgeMm,
          sideMm: guide.sideMm,
          stalkMm: stalkMm ?? 0,
          atDeg: guide.atDeg,
          field:
            guideCamera?.sensor && guide.heightMm !== undefined
              ? {
                  heightMm: guide.heightMm,
                  widthMm: Math.min(guideCamera.sensor.widthMm, guide.sideMm),
                  tallMm: Math.min(guideCamera.sensor.heightMm, guide.sideMm)
                }
              : undefined,
          shades: shadow !== null && shadow !== undefined && Math.max(shadow.edge, shadow.corner) > LEAST_LOSS
        }
      : undefined;
  const cables = cablesOf(train).map(({ at, cable: { name, atDeg, slackDeg, reachMm, neededMm } }): FaceCable => {
    const element = findElement(train, at);
    return {
      at,
      name,
      atDeg,
      fromMm: Math.min(element && isSolid(element) ? partShape(element).outerRadiusMm : HOST_RADIUS_MM, FARTHEST_MM),
      slackDeg,
      isShort: reachMm !== undefined && neededMm !== undefined && reachMm < neededMm
    };
  });
  const widest = Math.max(
    light.halfDiagonalMm,
    ...openings.map(({ clearMm, shape }) => (shape === 'round' ? clearMm / 2 : clearMm / Math.SQRT2)),
    prism ? prism.innerEdgeMm + prism.sideMm : 0,
    // What stands beside the train is shown where it begins.
    ...(prism
      ? (train.host.neighbours ?? []).map(({ fromAxisMm }) => Math.min(fromAxisMm, FARTHEST_MM) + MARGIN_MM)
      : []),
    ...cables.map(({ fromMm }) => fromMm + MARGIN_MM)
  );
  return {
    camera: train.elements.at(-1)!.id,
    sensor: light.sensor,
    openings,
    prism,
    neighbours: train.host.neighbours ?? [],
    cables,
    radiusMm: widest + MARGIN_MM
  };
}
