import { degrees } from '../stats/angles.ts';

/** A filter in a slot of a carousel. */
export interface Slotted {
  slot: number;
  massG: number;
}

/** How far a carousel is out of balance, as one filter's moment: a vector across its axis. */
export interface Imbalance {
  /** Resultant over the moment of one gram in a slot, g. */
  resultantG: number;
  /** Where it points, degrees from slot 1 in the order of the slots. */
  towardDeg: number;
}

/** Slots are spread evenly round the axis. */
const angleOf = (slot: number, slots: number): number => (2 * Math.PI * (slot - 1)) / slots;

/** Sum of the moments of the filters about the axis of a carousel: each its mass times the radius of the slots. */
export function imbalance(filters: readonly Slotted[], slots: number): Imbalance {
  let [x, y] = [0, 0];
  for (const { slot, massG } of filters) {
    const angle = angleOf(slot, slots);
    x += massG * Math.cos(angle);
    y += massG * Math.sin(angle);
  }
  const resultantG = Math.hypot(x, y);
  const deg = degrees(Math.atan2(y, x));
  return { resultantG, towardDeg: resultantG < 1e-9 ? 0 : (deg + 360) % 360 };
}

/** Every choice of so many numbers out of a list, each ascending. */
function* choices(from: readonly number[], count: number): Generator<number[]> {
  if (count === 0) return yield [];
  for (let at = 0; at + count <= from.length; at++) {
    for (const rest of choices(from.slice(at + 1), count - 1)) yield [from[at]!, ...rest];
  }
}

/** Slots of a carousel with filters in an order that is remembered, spread so that it is least out of balance. */
export interface SlotPlan {
  /** Slot of each filter, in the order given. */
  slots: number[];
  resultantG: number;
}

/**
 * Filters keep their order round the carousel, and the slots that stay empty are chosen so that it is least out of
 * balance; of equals the first slots are taken.
 *
 * @param masses of the filters in their order, g
 * @param keepEmpty slots that are not to be used
 * @returns undefined where there are more filters than slots for them
 */
export function spreadSlots(
  masses: readonly number[],
  slots: number,
  keepEmpty: readonly number[] = []
): SlotPlan | undefined {
  const free = Array.from({ length: slots }, (_, at) => at + 1).filter((slot) => !keepEmpty.includes(slot));
  let best: SlotPlan | undefined;
  for (const chosen of choices(free, masses.length)) {
    const { resultantG } = imbalance(
      chosen.map((slot, index) => ({ slot, massG: masses[index]! })),
      slots
    );
    if (!best || resultantG < best.resultantG - 1e-9) best = { slots: chosen, resultantG };
  }
  return best;
}
