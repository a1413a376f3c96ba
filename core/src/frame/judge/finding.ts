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

/** How far a field shows a fault, before it is known whether that is worth a word. */
export interface Suspicion {
  cause: Cause;
  /** Size of the fault over what is just worth mending. */
  strength: number;
  /** How many standard deviations it stands above nothing. */
  sigmas: number;
  message: string;
  /** It is no surer than this, whatever the figures: another cause looks alike. */
  most?: number;
}

/** Of two causes that look alike neither is surer than this. */
export const AN_OR = 0.5;

/** How many standard deviations a finding must stand above nothing. */
export const SURE = 4.5;

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

/** The findings of what is suspected: what is worth mending, and surely there. */
export const findingsOf = (suspicions: readonly (Suspicion | undefined)[]): FrameFinding[] =>
  suspicions.flatMap((suspicion) => {
    if (!suspicion) return [];
    const { cause, strength, sigmas, message, most = 1 } = suspicion;
    if (!(strength >= 1 && sigmas >= SURE)) return [];
    return [{ cause, strength, confidence: Math.min(most, confidenceOf(strength, sigmas)), message }];
  });

export const percent = (share: number): string => `${Math.round(100 * share)} %`;

/** A whole angle, with a minus and no hyphen. */
export const wholeDegrees = (deg: number): string => `${String(Math.round(deg)).replace('-', '−')}°`;

/** Directions in words, for who looks at the picture. */
export function towards(directionDeg: number): string {
  const words = ['right', 'top right', 'top', 'top left', 'left', 'bottom left', 'bottom', 'bottom right'];
  return words[((Math.round(directionDeg / 45) % 8) + 8) % 8]!;
}
