import type { Port, ThreadPort } from '../train/model.ts';
import { GOOD_TURNS } from './engagement.ts';
import { parseThread, sameDiameter, samePitch, type Thread } from './thread.ts';

/** The male and the female of a threaded joint. */
export interface ThreadPair {
  male: ThreadPort;
  female: ThreadPort;
  /** What the male's designation says; undefined where it says no thread. */
  thread: Thread | undefined;
  /** Both are known, and differ: one never enters the other. */
  neverMeet: boolean;
  /** The male has no flange, and its body is narrow enough to go into the bore: it sinks until it stops. */
  sinks: boolean;
}

/** How wide the bodies on both sides of a joint are, mm; undefined where that is not known. */
export interface Bodies {
  skyMm: number | undefined;
  cameraMm: number | undefined;
}

/** Diameters that differ by less are one, mm: a body turned to a thread's nominal diameter goes into its bore. */
const HAIR_MM = 1e-6;

/** Whether a body so wide goes into a bore of a thread; true where either is not known. */
export const enters = (bodyMm: number | undefined, bore: Thread | undefined): boolean =>
  bodyMm === undefined || bore === undefined || bodyMm <= bore.diameterMm + HAIR_MM;

/**
 * The male and the female of a threaded joint; undefined where the faces are not one of each.
 *
 * @param bodies how wide the two parts are: what is wider than the bore does not sink into it, whatever its thread says
 */
export function threadPair(
  sky: Port | undefined,
  camera: Port | undefined,
  bodies?: () => Bodies
): ThreadPair | undefined {
  if (!sky || !camera || !('thread' in sky) || !('thread' in camera) || sky.gender === camera.gender) return undefined;
  const [male, female] = sky.gender === 'male' ? [sky, camera] : [camera, sky];
  const thread = parseThread(male.thread);
  const hole = parseThread(female.thread);
  const neverMeet =
    thread !== undefined && hole !== undefined && !(sameDiameter(thread, hole) && samePitch(thread, hole));
  const sinks = male.shoulder === false && enters(male === sky ? bodies?.().skyMm : bodies?.().cameraMm, hole);
  return { male, female, thread, neverMeet, sinks };
}

/**
 * By how much a male thread is longer than the female is deep, max(L − D, 0), mm.
 * 0 where either length is not known, where the female is a through bore, which has no bottom, where a captive nut
 * draws the shoulders together, where there is no shoulder, and where the two do not screw together at all: the
 * difference of lengths that never meet is no length.
 */
export function bottoming(pair: ThreadPair | undefined): number {
  if (!pair || pair.female.through || pair.sinks) return 0;
  const { male, female } = pair;
  if (male.union || female.union || pair.neverMeet) return 0;
  return male.lengthMm === undefined || female.lengthMm === undefined
    ? 0
    : Math.max(male.lengthMm - female.lengthMm, 0);
}

/**
 * How far the shoulders of a joint stand apart: max(Σ shims, L − D, 0), mm. Shims and bottoming do not
 * add up: a shim at least as thick as L − D closes the gap it would leave.
 *
 * @see handbook §3, Seating (common practice, no source)
 */
export const jointOpening = (shimsMm: number, bottomingMm: number): number => Math.max(shimsMm, bottomingMm, 0);

/**
 * How deep a ring without a flange sinks into its bore: to the bottom, mm; 0 where nothing sinks.
 *
 * @returns undefined where it sinks and the depth of the bore is not known
 * @see handbook §3, Seats follow from geometry (common practice, no source)
 */
export function sunkDepth(pair: ThreadPair | undefined): number | undefined {
  if (!pair?.sinks || pair.neverMeet) return 0;
  return pair.female.through ? undefined : pair.female.lengthMm;
}

/**
 * Length of thread that is engaged, mm: the male's thread reaches from L − opening − its plain lead back to its
 * shoulder, the female's from her plain mouth down to her depth, also in a through bore; what overlaps holds.
 *
 * @param openingMm distance of the shoulders, mm
 * @returns undefined where the male's length is not known or the joint is not threaded; negative: it never reaches
 * @see handbook §3, Engagement: min(L − opening, D) (common practice, no source)
 */
export function engagement(pair: ThreadPair | undefined, openingMm: number): number | undefined {
  if (pair?.male.lengthMm === undefined) return undefined;
  const { male, female } = pair;
  const deep = female.lengthMm ?? Infinity;
  // Without a shoulder the ring goes down until it stops, whatever stands apart above it.
  const tip = pair.sinks ? Math.min(male.lengthMm!, deep) : male.lengthMm! - openingMm - (male.reliefMm ?? 0);
  return Math.min(tip, deep) - (female.reliefMm ?? 0);
}

/** How far a joint held by a lock ring may be unscrewed, mm. */
export interface LockTravel {
  minMm: number;
  maxMm: number;
}

/**
 * The openings a long thread with a lock ring can be set to: from where it closes, bottoms or meets its shims to
 * where three turns are still engaged. 12 mm of M68×1: 0 to 9.
 *
 * @returns undefined where the joint has no lock ring, or not known how long its thread is
 * @see handbook §3, Long thread with a lock ring (common practice, no source)
 */
export function lockTravel(pair: ThreadPair | undefined, shimsMm: number): LockTravel | undefined {
  if (!pair?.male.lockRing || pair.male.lengthMm === undefined || !pair.thread || pair.neverMeet) return undefined;
  const { male, female, thread } = pair;
  const held = GOOD_TURNS * thread.pitchMm;
  const relief = female.reliefMm ?? 0;
  if ((female.lengthMm ?? Infinity) - relief < held - 1e-9) return undefined;
  const minMm = jointOpening(shimsMm, bottoming(pair));
  const maxMm = pair.male.lengthMm - (male.reliefMm ?? 0) - relief - held;
  return maxMm > minMm + 1e-9 ? { minMm, maxMm } : undefined;
}
