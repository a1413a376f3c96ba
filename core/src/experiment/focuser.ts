import { Facts } from '../check/facts.ts';
import { SimulatedFocuser } from '../focus/simulated.ts';
import { focalRatio, type Train } from '../train/model.ts';

const UM_PER_STEP = 4.8;
const USUAL_STEPS = 12_000;
const USUAL_PIXEL_UM = 3.8;
const BACKLASH = 60;

/** What a simulated focuser may have wrong with it. */
export interface FocuserFaults {
  /** Chance that its clutch slips during a move. */
  slip?: number | undefined;
  /** Steps that are lost after a reversal. */
  backlash?: number | undefined;
}

/** A simulated focuser for a train: where it is sharp is where the train’s own budget says, as far as that is known. */
export function focuserFor(
  train: Train,
  seed: number,
  { slip = 0, backlash = BACKLASH }: FocuserFaults = {}
): SimulatedFocuser {
  const facts = new Facts(train);
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
