import { indexOf } from '../length/glass.ts';
import type { Glass } from '../train/model.ts';
import { DEPTHS } from '../light/beam.ts';

/** What is known of how a focuser counts. */
export interface Stepping {
  /** Steps between two frames of a run. */
  step: number;
  /** How deep the focus is, either way, as the draw tube counts it: steps. */
  depthSteps: number;
}

/** Depths of focus, either way, between two frames: far enough apart to see a difference, near enough for a curve. */
const DEPTHS_A_STEP = 2;

/**
 * The step of a run from the depth of focus and what a step moves. The whole train is moved by it, so the depth counts at
 * the host’s own focal ratio: ±2 λ N² (quarter wave).
 *
 * @param fRatio of the host alone
 */
export function steppingFor(fRatio: number, umPerStep: number): Stepping {
  const depthSteps = (DEPTHS.quarterWave(fRatio) * 1000) / umPerStep;
  return { step: Math.max(1, Math.round(DEPTHS_A_STEP * depthSteps)), depthSteps };
}

/** Where one filter comes to focus against another. */
export interface FilterOffset {
  name: string;
  /** Farther out than the first, steps. */
  steps: number;
}

/**
 * Offsets by the thickness of the glass: t (1 − 1/n) against that of the first, as the draw tube has to follow it.
 *
 * @param magnification of a corrector ahead of the filters: behind it a shift moves the draw tube by 1/m²
 */
export function glassOffsets(
  plates: readonly (Glass & { name?: string })[],
  umPerStep: number,
  magnification = 1
): FilterOffset[] {
  const shift = (plate: Glass): number => plate.thicknessMm * (1 - 1 / indexOf(plate));
  const [first] = plates;
  if (!first) return [];
  return plates.map((plate) => ({
    name: plate.name ?? 'unnamed',
    steps: Math.round(((shift(plate) - shift(first)) * 1000) / umPerStep / magnification ** 2)
  }));
}
