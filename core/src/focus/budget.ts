import type { Axis } from '../length/axis.ts';
import { shiftAhead } from '../length/glassInBeam.ts';
import type { Ledger } from '../length/ledger.ts';
import { hostFRatio } from '../light/beam.ts';
import { reductionOf } from '../light/reduction.ts';
import { takenOffMm } from '../train/detachable.ts';
import { type FocusAttempt, type Host, type Train } from '../train/model.ts';

/** Hosts that focus by moving their mirror: no draw tube, but a range of focus all the same. */
const BY_MIRROR: ReadonlySet<Host['kind']> = new Set(['schmidt-cassegrain', 'two-mirror']);

/** What has to be turned out to come to focus, as `check --json` prints it. */
export interface FocusReport {
  /** Draw-tube extension at which the sensor is in focus, mm from fully in; null where it is not known. */
  extensionMm: number | null;
  /** Where it will fall, with all that is not known about it, mm; null where one end is open. */
  readonly rangeMm: readonly [number, number] | null;
  /** How far the tube can be turned out, mm. */
  travelMm: number | null;
  verdict: 'reaches' | 'no-inward' | 'no-outward' | 'unknown';
  /** Length of an extension tube that would bring focus to mid-travel, mm; null where none is needed. */
  tubeMm: number | null;
}

/** Between which values something lies, mm; infinite where one end is open. */
export type Interval = readonly [number, number];

/** A train’s focus against its host’s draw tube. */
export interface FocusBudget {
  report: FocusReport;
  /** Native focus behind the racked-in face, as far as it is known. */
  focusMm: Interval;
  /** Extension less native focus: what the train makes of it, mm. */
  trainMm: number;
  /** Extension that is needed, with what is known of the focus only. */
  extensionMm: Interval;
  /** Half-width of what is not known of the lengths, as it shows at the draw tube, mm (95 %). */
  readonly uncertaintyMm: number;
  /** It focuses by its mirror. */
  byMirror: boolean;
  /** Nothing asks for a length: any that reaches focus will do, and the shortest is the stiffest. */
  isFree: boolean;
  /** What was tried says that it lies above and below at once. */
  contradicts: boolean;
}

/** What is known of the native focus: what is stated, and what was tried. */
function focusInterval({ focuser = {} }: Host, attempts: readonly FocusAttempt[]): Interval {
  const { focusFromRackedInMm: exact, focusFrom, focusTo } = focuser;
  const above = attempts.filter(({ tube }) => tube === 'out').map(({ boundMm }) => boundMm);
  const below = attempts.filter(({ tube }) => tube === 'in').map(({ boundMm }) => boundMm);
  return [Math.max(exact ?? focusFrom ?? -Infinity, ...above), Math.min(exact ?? focusTo ?? Infinity, ...below)];
}

/**
 * Draw-tube extension needed (handbook §10): b₀ + Σ glass shift − T without a corrector; with one the intermediate focus
 * lies s = d/m behind it, so b₀ + Σ glass shift on its sky side − s − q, q its distance from the face. For a corrector
 * that does not reduce, and where there is none, both are the same.
 *
 * @param lengthMm half-width of what is not known of the train’s length, mm: a whole convolution, asked only where it is told
 * @returns undefined where nothing is stated of the host’s focus: there is nothing to say
 */
export function focusBudget(train: Train, ledger: Ledger, axis: Axis, lengthMm: () => number): FocusBudget | undefined {
  const { focuser } = train.host;
  const attempts = (train.focusing?.attempts ?? []) as readonly FocusAttempt[];
  const isStated =
    focuser?.travelMm !== undefined ||
    focuser?.focusFromRackedInMm !== undefined ||
    focuser?.focusFrom !== undefined ||
    focuser?.focusTo !== undefined ||
    attempts.length > 0;
  // A lens focuses inside itself.
  if (!isStated || train.host.kind === 'camera-lens') return undefined;
  const { distanceMm, reckoned } = reductionOf(ledger);
  // From the racked-in face to the corrector’s shoulder; 0 where the host itself is the datum.
  const shoulderMm = -axis.hostFaceMm;
  const skyGlassMm = shiftAhead(train, ledger.datum.index, ledger.rule, hostFRatio(train.host));
  // Where it is racked in is stated of the host as it came: a face nearer the sky leaves that much more before the focus.
  const trainMm = takenOffMm(train.host) + skyGlassMm - distanceMm / reckoned - shoulderMm;
  const focusMm = focusInterval(train.host, attempts);
  const contradicts = focusMm[0] > focusMm[1];
  const extensionMm: Interval = [focusMm[0] + trainMm, focusMm[1] + trainMm];
  // Behind a reducer a length moves the draw tube by 1/m² as much.
  const uncertaintyOf = (): number => lengthMm() / reckoned ** 2;
  const travelMm = focuser?.travelMm ?? null;
  const isBounded = Number.isFinite(extensionMm[0]) && Number.isFinite(extensionMm[1]) && !contradicts;
  const middleMm = isBounded ? (extensionMm[0] + extensionMm[1]) / 2 : null;
  const verdict = contradicts ? 'unknown' : verdictOf(extensionMm, travelMm);
  return {
    report: {
      extensionMm: middleMm,
      get rangeMm() {
        if (!isBounded) return null;
        const uncertaintyMm = uncertaintyOf();
        return [extensionMm[0] - uncertaintyMm, extensionMm[1] + uncertaintyMm] as const;
      },
      travelMm,
      verdict,
      tubeMm: verdict === 'no-outward' && middleMm !== null && travelMm !== null ? middleMm - travelMm / 2 : null
    },
    focusMm,
    trainMm,
    extensionMm,
    get uncertaintyMm() {
      return uncertaintyOf();
    },
    byMirror: BY_MIRROR.has(train.host.kind),
    isFree: ledger.required.totalMm === null,
    contradicts
  };
}

/** Whether every place the focus may lie at is within the travel, or outside on one side. */
export function verdictOf([low, high]: Interval, travelMm: number | null): FocusReport['verdict'] {
  // Where it was tried, the end itself was not enough.
  const hair = low < high ? -1e-9 : 1e-9;
  if (high < -hair) return 'no-inward';
  if (travelMm !== null && low > travelMm + hair) return 'no-outward';
  return travelMm !== null && low >= -1e-9 && high <= travelMm + 1e-9 ? 'reaches' : 'unknown';
}

/**
 * What a failed attempt says of the native focus behind the racked-in face: fully out and still not enough, it lies
 * beyond b₀ = travel + tube − what the train makes of it; fully in and too far already, it lies before b₀ = tube − that.
 *
 * @param tube how the draw tube stood
 * @param tubeMm extension tube between host and train then, mm
 * @returns undefined where the travel is not stated and matters
 */
export function attemptBound(
  { trainMm, report }: FocusBudget,
  tube: FocusAttempt['tube'],
  tubeMm: number
): number | undefined {
  if (tube === 'in') return tubeMm - trainMm;
  return report.travelMm === null ? undefined : report.travelMm + tubeMm - trainMm;
}
