import { assess, focalRatio, type Train } from '@lodestone/core';
import { SimulatedFocuser } from '@lodestone/core/focus';

/** Focusers that are kept: the one that was used longest ago goes. */
const MOST_KEPT = 200;
const UM_PER_STEP = 4.8;
const USUAL_STEPS = 12_000;
const USUAL_PIXEL_UM = 3.8;
const BACKLASH = 60;

/** What a focuser may have wrong with it. */
interface Faults {
  slip?: number | undefined;
  backlash?: number | undefined;
}

const kept = new Map<string, SimulatedFocuser>();

/** A simulated focuser for a train: where it is sharp is where the train’s own budget says, as far as that is known. */
function made(train: Train, seed: number, { slip = 0, backlash = BACKLASH }: Faults = {}): SimulatedFocuser {
  const { facts } = assess(train);
  const extensionMm = facts.focus?.report.extensionMm ?? null;
  const travelMm = facts.focus?.report.travelMm ?? null;
  const lastStep = travelMm === null ? USUAL_STEPS : Math.max(500, Math.round((travelMm * 1000) / UM_PER_STEP));
  const bestStep = extensionMm === null ? 0.45 * lastStep : (extensionMm * 1000) / UM_PER_STEP;
  const pixelUm = facts.light?.sensor.pixelUm ?? USUAL_PIXEL_UM;
  return new SimulatedFocuser({
    lastStep,
    umPerStep: UM_PER_STEP,
    backlash,
    slip,
    bestStep,
    leastHfrPx: 2.1,
    // A star out of focus is a ring of diameter Δ/N; half its light lies within about 0.35 of that.
    perStepPx: (0.35 * UM_PER_STEP) / focalRatio(train) / pixelUm,
    scatter: 0.03,
    seed
  });
}

/**
 * The simulated focuser that stands on a train of an owner; made anew after a start of the server.
 *
 * @param faults of a new one in its place
 */
export function focuserOf(owner: string, trainId: string, train: Train, faults?: Faults): SimulatedFocuser {
  const key = `${owner}/${trainId}`;
  const found = (faults ? undefined : kept.get(key)) ?? made(train, Math.floor(Math.random() * 2 ** 31), faults);
  kept.delete(key);
  kept.set(key, found);
  if (kept.size > MOST_KEPT) kept.delete(kept.keys().next().value!);
  return found;
}
