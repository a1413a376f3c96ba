import { glassNamed, type GlassName } from '../train/glassNames.ts';
import type { Glass, GlassRule } from '../train/model.ts';

/** Wavelength of the d line, µm: the one the field states an index at. */
const D_LINE_UM = 0.5875618;

/** Index taken for glass of unknown kind: that of N-BK7 at the d line. */
export const DEFAULT_INDEX = 1.5168;

/** Three-term Sellmeier coefficients; C in µm². */
export interface Sellmeier {
  b: readonly [number, number, number];
  c: readonly [number, number, number];
}

/** Glasses known by name. N-BK7: SCHOTT data sheet (from memory); fused silica: Malitson 1965 (from memory). */
export const GLASSES: Readonly<Record<GlassName, Sellmeier>> = {
  'N-BK7': {
    b: [1.03961212, 0.231792344, 1.01046945],
    c: [0.00600069867, 0.0200179144, 103.560653]
  },
  'fused-silica': {
    b: [0.6961663, 0.4079426, 0.8974794],
    c: [0.0684043 ** 2, 0.1162414 ** 2, 9.896161 ** 2]
  }
};

/** The glass meant by a name; undefined when not known. */
export function namedGlass(name: string): Sellmeier | undefined {
  const glass = glassNamed(name);
  return glass && GLASSES[glass];
}

/**
 * Refractive index by the Sellmeier equation, n² = 1 + Σ Bᵢ λ² / (λ² − Cᵢ).
 *
 * @param wavelengthUm wavelength in vacuum, µm, inside the glass's transparent range
 */
export function sellmeierIndex({ b, c }: Sellmeier, wavelengthUm: number = D_LINE_UM): number {
  const square = wavelengthUm * wavelengthUm;
  return Math.sqrt(
    1 + (b[0] * square) / (square - c[0]) + (b[1] * square) / (square - c[1]) + (b[2] * square) / (square - c[2])
  );
}

/**
 * Focus shift of a plane-parallel plate for one ray.
 *
 * Δ = t · [1 − cos θ / √(n² − sin² θ)], which tends to t·(1 − 1/n) as θ → 0.
 *
 * @param thicknessMm plate thickness, mm, ≥ 0
 * @param index refractive index at the working wavelength, ≥ 1
 * @param halfAngle angle of the ray to the axis in air, rad, in [0, π/2)
 * @returns distance the focus moves away from the lens, mm
 * @throws RangeError when an argument lies outside its range
 * @see Smith, Modern Optical Engineering, plane-parallel plates (from memory)
 */
export function plateShift(thicknessMm: number, index: number, halfAngle = 0): number {
  if (!(thicknessMm >= 0)) throw new RangeError(`Plate thickness ${thicknessMm} mm when expected 0 or more`);
  if (!(index >= 1)) throw new RangeError(`Refractive index ${index} when expected 1 or more`);
  if (!(halfAngle >= 0 && halfAngle < Math.PI / 2)) {
    throw new RangeError(`Ray angle ${halfAngle} rad when expected from 0 to below π/2`);
  }
  const sine = Math.sin(halfAngle);
  return thicknessMm * (1 - Math.cos(halfAngle) / Math.sqrt(index * index - sine * sine));
}

/** Steeper than any beam a telescope makes, and still below the quarter turn where a plate has no shift any more, rad. */
const STEEPEST = 1.5;

/** Half-angle of the marginal ray of an f/N beam, arctan(1/2N), rad; at most {@link STEEPEST}. */
export const marginalHalfAngle = (focalRatio: number): number => Math.min(Math.atan(1 / (2 * focalRatio)), STEEPEST);

/** Index of a plate: its own, its named glass's at the d line, or the usual one. */
export function indexOf(plate: Glass): number {
  if (plate.index !== undefined) return plate.index;
  const glass = plate.glass === undefined ? undefined : namedGlass(plate.glass);
  return glass ? sellmeierIndex(glass) : DEFAULT_INDEX;
}

/**
 * Focus shift of one plate by the rule the owner chose, mm.
 *
 * @param focalRatio focal ratio of the beam at the plate, used by the marginal rule
 */
export function glassShift(plate: Glass, rule: GlassRule, focalRatio: number): number {
  switch (rule) {
    case 'none':
      return 0;
    case 'third':
      return plate.thicknessMm / 3;
    case 'paraxial':
      return plateShift(plate.thicknessMm, indexOf(plate));
    case 'marginal':
      return plateShift(plate.thicknessMm, indexOf(plate), marginalHalfAngle(focalRatio));
  }
}
