import type { FocusAnswer, FocusBudget, FocusPoint } from '@lodestone/core/focus';

/** What stands on the axis of the focus picture. */
export interface OnAxis {
  points: readonly FocusPoint[];
  answer: FocusAnswer;
  /** Position of the next frame, where one is asked for. */
  next: number | undefined;
  budget: FocusBudget | undefined;
  /** What a step moves, µm, where it is known. */
  umPerStep: number | undefined;
  /** Last position of the focuser, where it is known. */
  maxPosition: number | undefined;
}

/**
 * The one axis of curve and tube: positions of the focuser in its steps; in mm as long as no step was made and nobody
 * has said what one moves.
 */
export interface FocusAxis {
  unit: 'steps' | 'mm';
  /** The place of so much of the tube, mm; undefined where what a step moves is not known. */
  ofMm: (mm: number) => number | undefined;
  /** mm of the tube at a place; undefined where that is not known. */
  mmAt: (place: number) => number | undefined;
  /** The stop at the far end; the near one is 0. */
  farStop: number | undefined;
  /** Where focus has to fall by what is known of the train, the uncertainty of its length in it; open ends are infinite. */
  falls: readonly [number, number] | undefined;
  whole: readonly [number, number];
  /** The part of it around the best; undefined where the whole is no wider. */
  near: readonly [number, number] | undefined;
}

/** Stars larger than so many times the smallest are far away: the best is looked at from nearby. */
const NEARBY = 7;
/** Frames that have to be near before it is worth looking from nearby. */
const ENOUGH_NEAR = 3;
/** Room left beside what is shown, as a share of it; at least so many steps. */
const ROOM = 0.06;
const LEAST_ROOM_STEPS = 10;
/** What is shown where nothing is known: mm, or steps. */
const USUAL = { mm: 60, steps: 1000 } as const;

const isPlace = (place: number | null | undefined): place is number =>
  place !== null && place !== undefined && Number.isFinite(place);

function withRoom(places: readonly number[], least: number): readonly [number, number] {
  const [low, high] = [Math.min(...places), Math.max(...places)];
  const room = Math.max((high - low) * ROOM, least);
  return [low - room, high + room];
}

export function focusAxis({ points, answer, next, budget, umPerStep, maxPosition }: OnAxis): FocusAxis {
  const unit = umPerStep === undefined && points.length === 0 ? 'mm' : 'steps';
  const perMm = unit === 'mm' ? 1 : umPerStep === undefined ? undefined : 1000 / umPerStep;
  const ofMm = (mm: number): number | undefined => (perMm === undefined ? undefined : mm * perMm);
  const mmAt = (place: number): number | undefined => (perMm === undefined ? undefined : place / perMm);
  const travelMm = budget?.report.travelMm ?? undefined;
  const farStop = unit === 'steps' ? maxPosition : travelMm;
  const [from, to] = budget?.extensionMm ?? [-Infinity, Infinity];
  const isBounded = budget !== undefined && (Number.isFinite(from) || Number.isFinite(to));
  const falls =
    perMm === undefined || !isBounded
      ? undefined
      : ([(from - budget.uncertaintyMm) * perMm, (to + budget.uncertaintyMm) * perMm] as const);

  const stands = unit === 'steps' ? [...points.map(({ position }) => position), next, answer.bestPosition] : [];
  const all = [0, farStop, ...(falls ?? []), ...stands].filter(isPlace);
  const least = unit === 'mm' ? 1 : LEAST_ROOM_STEPS;
  const whole = all.length === 1 ? withRoom([0, USUAL[unit]], least) : withRoom(all, least);
  return { unit, ofMm, mmAt, farStop, falls, whole, near: nearOf(points, answer, next) };
}

function nearOf(
  points: readonly FocusPoint[],
  { curve, bestPosition }: FocusAnswer,
  next: number | undefined
): readonly [number, number] | undefined {
  if (!curve) return undefined;
  const inside = points.filter(({ hfrPx }) => hfrPx !== undefined && hfrPx <= NEARBY * curve.aPx);
  if (inside.length < ENOUGH_NEAR) return undefined;
  return withRoom([...inside.map(({ position }) => position), next, bestPosition].filter(isPlace), LEAST_ROOM_STEPS);
}
