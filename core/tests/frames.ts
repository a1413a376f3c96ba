import {
  PERFECT_OPTICS,
  QUIET_NIGHT,
  simulateFrame,
  type FieldOptics,
  type Frame,
  type FrameConditions,
  type SimulatedFrameSpec,
  type StarField
} from '../src/frame/index.ts';

export interface Sketch {
  widthPx?: number;
  heightPx?: number;
  seed?: number;
  mosaic?: SimulatedFrameSpec['mosaic'];
  optics?: Partial<FieldOptics>;
  conditions?: Partial<FrameConditions>;
  field?: Partial<StarField>;
}

export const PIXEL_UM = 3.76;

/** A small frame of the simulated camera; invented, as all it shows is. */
export function sketched({ widthPx = 1200, heightPx = 800, seed = 1, mosaic, optics, conditions, field }: Sketch = {}) {
  return simulateFrame({
    widthPx,
    heightPx,
    pixelUm: PIXEL_UM,
    mosaic,
    seed,
    optics: { ...PERFECT_OPTICS, ...optics },
    conditions: { ...QUIET_NIGHT, ...conditions },
    field: { count: 260, faintestAdu: 2500, brightestAdu: 300_000, power: 0.8, ...field }
  });
}

/** A frame of given values. */
export function plainFrame(widthPx: number, heightPx: number, value: (x: number, y: number) => number): Frame {
  return {
    widthPx,
    heightPx,
    planes: [
      Uint16Array.from({ length: widthPx * heightPx }, (_, at) => value(at % widthPx, Math.floor(at / widthPx)))
    ],
    scale: 1,
    zero: 0,
    blank: undefined,
    mosaic: undefined,
    bottomUp: true,
    keywords: new Map()
  };
}

/** Light that falls off toward the corners of a sketched frame, by so much there. */
export const shaded =
  (loss: number, widthPx = 1200, heightPx = 800) =>
  (xMm: number, yMm: number): number =>
    1 - (loss * (xMm * xMm + yMm * yMm)) / (((widthPx / 2) ** 2 + (heightPx / 2) ** 2) * (PIXEL_UM / 1000) ** 2);
