import type { Facts } from '../check/facts.ts';
import {
  PERFECT_OPTICS,
  QUIET_NIGHT,
  blurAt,
  type FieldOptics,
  type FrameConditions,
  type SimulatedFrameSpec
} from '../frame/simulated.ts';
import { stretchWords } from '../frame/place.ts';
import { NO_FAULTS, cameraOf } from './camera.ts';

/** What may be wrong with a frame of the trainer. */
export const TRAINER_FAULTS = ['nothing', 'spacing', 'tilt', 'tracking', 'collimation', 'focus', 'light'] as const;
export type TrainerFault = (typeof TRAINER_FAULTS)[number];

/** Amounts of rings that can be answered, mm. */
export const TRAINER_STEPS_MM = [0.5, 1, 2, 3] as const;

export interface TrainerAnswer {
  fault: TrainerFault;
  /** Of the spacing: rings in, or out, and how much. */
  way?: 'longer' | 'shorter';
  byMm?: number;
}

/** A frame the trainer shows, and what is true of it. */
export interface TrainerRound {
  fault: TrainerFault;
  spec: SimulatedFrameSpec;
  /** What was seen at another spacing: without it nobody could know which way to go. */
  note: { byMm: number; stretch: number };
  /** Of the spacing: what it has too much (+) or lacks (−), mm. */
  errorMm: number;
}

/** How a player does. */
export interface TrainerScore {
  /** From 1, where faults are plain, to 8, where they are just worth mending. */
  level: number;
  rounds: number;
  right: number;
  /** Right ones in a row. */
  streak: number;
  /** How often a fault (first) was taken for another. */
  taken: Partial<Record<TrainerFault, Partial<Record<TrainerFault, number>>>>;
}

export const NEW_SCORE: TrainerScore = { level: 1, rounds: 0, right: 0, streak: 0, taken: {} };

const HARDEST = 8;
/** Size of a fault over what is just worth mending, at the first level and at the last. */
const PLAIN = 4.2;
const HARD = 1.6;
const UP_AFTER = 2;
/** How far a spacing may be off, mm. */
const LEAST_ERROR_MM = 0.8;
const MOST_ERROR_MM = 3;
const MOST_COUNTED = 1_000_000;

/** A score that was kept somewhere; a new one where it is none. */
export function readScore(kept: unknown): TrainerScore {
  if (typeof kept !== 'object' || kept === null) return NEW_SCORE;
  const { level, rounds, right, streak, taken } = kept as Record<string, unknown>;
  const isCount = (value: unknown): value is number =>
    typeof value === 'number' && Number.isInteger(value) && value >= 0 && value <= MOST_COUNTED;
  if (!isCount(level) || level < 1 || level > HARDEST || !isCount(rounds) || !isCount(right) || !isCount(streak)) {
    return NEW_SCORE;
  }
  const told: TrainerScore['taken'] = {};
  for (const fault of TRAINER_FAULTS) {
    const row = (taken as Record<string, unknown> | undefined)?.[fault];
    if (typeof row !== 'object' || row === null) continue;
    for (const other of TRAINER_FAULTS) {
      const count = (row as Record<string, unknown>)[other];
      if (isCount(count) && count > 0) (told[fault] ??= {})[other] = count;
    }
  }
  return { level, rounds, right: Math.min(right, rounds), streak, taken: told };
}

const FIELD = { count: 700, faintestAdu: 2500, brightestAdu: 250_000, power: 0.75 } as const;
const MOST_PIXELS = 1.6e6;

/** Where the player has no train of which the sensor is known. */
const SOME_CAMERA: SimulatedFrameSpec = {
  widthPx: 1500,
  heightPx: 1000,
  pixelUm: 5.6,
  seed: 1,
  optics: PERFECT_OPTICS,
  conditions: { ...QUIET_NIGHT, seeingPx: 2.8 },
  field: FIELD
};

/** The simulated camera the trainer uses: the player’s own, binned so that a frame is quickly there, and without its faults. */
export function trainerCamera(facts: Facts | undefined): SimulatedFrameSpec {
  const sensor = facts?.light?.sensor;
  const pixels = sensor?.pixelUm === undefined ? 0 : (sensor.widthMm * sensor.heightMm * 1e6) / sensor.pixelUm ** 2;
  const binning = Math.max(1, Math.ceil(Math.sqrt(pixels / MOST_PIXELS)));
  const own = facts && cameraOf(facts, NO_FAULTS, 1, binning);
  if (!own) return SOME_CAMERA;
  const { illumination: _own, ...conditions } = own.conditions;
  return {
    ...own,
    mosaic: undefined,
    conditions: { ...conditions, seeingPx: 2.8 },
    optics: { ...own.optics, spacingErrorMm: 0 },
    field: FIELD
  };
}

/** Moment that a blur's half width makes, as stars are measured: under their own window, which sees more of a disc than of its rim (measured on the simulated camera). */
const GROWTH = 0.35;

/** Second moments of a star along the radius and across it, px². */
function momentsAt({ optics, conditions, pixelUm }: SimulatedFrameSpec, rho: number, phiDeg: number): [number, number] {
  const { radialUm, tangentialUm } = blurAt(optics, rho, phiDeg);
  const seeing = (conditions.seeingPx / 2.3548) ** 2;
  const growth = GROWTH * (1 + optics.obstruction ** 2);
  return [seeing + growth * (radialUm / pixelUm) ** 2, seeing + growth * (tangentialUm / pixelUm) ** 2];
}

/** Signed stretch in the corners, + outward, alike in all of them. */
function cornerStretch(spec: SimulatedFrameSpec): number {
  const [radial, tangential] = momentsAt(spec, 1, 0);
  return Math.sign(radial - tangential) * (1 - Math.sqrt(Math.min(radial, tangential) / Math.max(radial, tangential)));
}

const withOptics = (spec: SimulatedFrameSpec, optics: Partial<FieldOptics>): SimulatedFrameSpec => ({
  ...spec,
  optics: { ...spec.optics, ...optics }
});
const withConditions = (spec: SimulatedFrameSpec, conditions: Partial<FrameConditions>): SimulatedFrameSpec => ({
  ...spec,
  conditions: { ...spec.conditions, ...conditions }
});

/** The size of something, found by halving, that makes a measure as large as is wanted; the largest where none does. */
function sizeFor(measure: (size: number) => number, wanted: number, most: number): number {
  let [low, high] = [0, most];
  for (let step = 0; step < 40; step++) {
    const middle = (low + high) / 2;
    if (measure(middle) < wanted) low = middle;
    else high = middle;
  }
  return high;
}

/** Which fault comes next: what was missed comes more often. */
function chosenFault({ taken }: TrainerScore, random: () => number): TrainerFault {
  const weights = TRAINER_FAULTS.map((fault) => {
    const row = Object.entries(taken[fault] ?? {});
    const all = row.reduce((sum, [, count]) => sum + count, 0);
    const missed = row.filter(([other]) => other !== fault).reduce((sum, [, count]) => sum + count, 0);
    return (fault === 'spacing' ? 2 : 1) * (1 + 2 * (all > 0 ? missed / all : 0));
  });
  let left = random() * weights.reduce((a, b) => a + b, 0);
  return TRAINER_FAULTS.find((_, at) => (left -= weights[at]!) < 0) ?? 'spacing';
}

/**
 * A round for a player: one fault (or none), as large as the level asks for, over the least that is worth mending
 * (thresholds of `judgeField`).
 *
 * @param camera from `trainerCamera`
 * @param random in [0, 1)
 */
export function newRound(score: TrainerScore, camera: SimulatedFrameSpec, random: () => number): TrainerRound {
  const share = (score.level - 1) / (HARDEST - 1);
  const times = PLAIN + (HARD - PLAIN) * share;
  const fault = chosenFault(score, random);
  const direction = Math.round(random() * 360 - 180);
  const sense = random() < 0.5 ? -1 : 1;
  const seeds = { seed: 1 + Math.floor(random() * 1e9), skySeed: 1 + Math.floor(random() * 1e6) };
  // A field that is as flat as a good one is.
  const flat = { spacingErrorMm: 0, designCurvatureUm: 0.15 * camera.conditions.seeingPx * camera.pixelUm };
  const calm = withOptics({ ...camera, ...seeds }, flat);
  const { seeingPx } = calm.conditions;
  const { pixelUm, optics } = calm;
  const blurPx = seeingPx * pixelUm;
  // What a corrector whose spacing is right would have shown elsewhere: a note that only some rounds had would give them away.
  const noteMm = (random() < 0.5 ? -1 : 1) * (0.5 + Math.round(random()) / 2);
  const idle = { byMm: noteMm, stretch: sense * 0.08 * noteMm };
  const round = (spec: SimulatedFrameSpec): TrainerRound => ({ fault, spec, note: idle, errorMm: 0 });
  switch (fault) {
    case 'nothing':
      return round(calm);
    case 'spacing': {
      // Stretch is astigmatism times defocus: corners that are a little out of focus show it, about in proportion.
      const outOfFocusUm = 1.2 * blurPx * optics.fRatio;
      const off = (astigmatismUm: number, errorMm: number) =>
        withOptics(calm, {
          designCurvatureUm: 1.5 * outOfFocusUm,
          curvatureUmPerMm: 0,
          astigmatismUmPerMm: astigmatismUm * sense,
          spacingErrorMm: errorMm
        });
      const size = Math.round((LEAST_ERROR_MM + random() * (MOST_ERROR_MM - LEAST_ERROR_MM)) * 10) / 10;
      const errorMm = size * (random() < 0.5 ? -1 : 1);
      const wanted = Math.min(0.25, 0.07 * times);
      const perMm = sizeFor((um) => Math.abs(cornerStretch(off(um, errorMm))), wanted, outOfFocusUm / size);
      // Farther away it is still in proportion where it is not much farther.
      const isAway = random() < 0.5;
      const byMm = Math.sign(errorMm) * (isAway ? (size >= 2 ? 1 : 0.5) : -(0.5 + Math.round(random()) / 2));
      return {
        fault,
        spec: off(perMm, errorMm),
        note: { byMm, stretch: cornerStretch(off(perMm, errorMm + byMm)) },
        errorMm
      };
    }
    case 'tilt': {
      const ends = (tiltUm: number): number => {
        const spec = withOptics(calm, { tiltUm, tiltDirectionDeg: 0, defocusUm: 0.5 * tiltUm });
        const [[a, b], [c, d]] = [momentsAt(spec, 0.8, 0), momentsAt(spec, 0.8, 180)];
        return Math.abs(Math.sqrt((a + b) / 2) - Math.sqrt((c + d) / 2)) / Math.sqrt((a + b + c + d) / 4);
      };
      const tiltUm = sizeFor(ends, 0.1 * times, 40 * blurPx);
      // One end in focus, as who focuses on a star there has it: both alike would look like a field that is not flat.
      return round(withOptics(calm, { tiltUm, tiltDirectionDeg: direction, defocusUm: 0.5 * tiltUm }));
    }
    case 'tracking': {
      const sharp = (seeingPx / 2.3548) ** 2;
      const stretch = (px: number): number => 1 - Math.sqrt(sharp / (sharp + (px * px) / 12));
      const driftPx = sizeFor(stretch, Math.min(0.6, 0.1 * times), 60);
      return round(withConditions(calm, { driftPx, driftDirectionDeg: direction }));
    }
    case 'collimation':
      return round(withOptics(calm, { comaUm: blurPx * (0.9 + 0.5 * times), comaDirectionDeg: direction }));
    case 'focus':
      return round(withOptics(calm, { defocusUm: blurPx * optics.fRatio * (1.2 + 0.5 * times) * sense }));
    case 'light': {
      const loss = Math.min(0.85, 0.22 * times);
      const halfMm = (Math.hypot(calm.widthPx, calm.heightPx) / 2) * (pixelUm / 1000);
      const illumination = (xMm: number, yMm: number): number =>
        1 - loss * Math.max(0, (Math.hypot(xMm, yMm) / halfMm - 0.35) / 0.65) ** 2;
      return round(withConditions(calm, { illumination }));
    }
  }
}

/** Whether an answer is right; of a spacing also which way the rings go, and by half of it or twice. */
export function isRight(round: TrainerRound, answer: TrainerAnswer): boolean {
  if (round.fault !== answer.fault) return false;
  if (round.fault !== 'spacing') return true;
  const size = Math.abs(round.errorMm);
  const isWay = answer.way === (round.errorMm > 0 ? 'shorter' : 'longer');
  // The nearest that can be answered counts, and what is nearly as near.
  const nearest = Math.min(...TRAINER_STEPS_MM.map((mm) => Math.abs(mm - size)));
  return isWay && Math.abs((answer.byMm ?? 0) - size) <= nearest + 0.25;
}

/** The score after a round. */
export function scored(score: TrainerScore, round: TrainerRound, answer: TrainerAnswer): TrainerScore {
  const right = isRight(round, answer);
  const row = score.taken[round.fault] ?? {};
  const streak = right ? score.streak + 1 : 0;
  const up = right && streak % UP_AFTER === 0;
  return {
    level: Math.max(1, Math.min(HARDEST, score.level + (up ? 1 : right ? 0 : -1))),
    rounds: score.rounds + 1,
    right: score.right + Number(right),
    streak,
    taken: { ...score.taken, [round.fault]: { ...row, [answer.fault]: (row[answer.fault] ?? 0) + 1 } }
  };
}

/** What is confused most often: the fault, what it was taken for, and how often. */
export function mostConfused({
  taken
}: TrainerScore): { fault: TrainerFault; for: TrainerFault; times: number } | undefined {
  let most: { fault: TrainerFault; for: TrainerFault; times: number } | undefined;
  for (const fault of TRAINER_FAULTS) {
    for (const [other, times = 0] of Object.entries(taken[fault] ?? {}) as [TrainerFault, number][]) {
      if (other !== fault && (!most || times > most.times)) most = { fault, for: other, times };
    }
  }
  return most;
}

/** What is to be known before a round can be answered. */
export function noteOf({ note }: TrainerRound): string {
  const size = Math.abs(note.stretch).toFixed(2);
  return `With ${Math.abs(note.byMm).toFixed(1)} mm ${note.byMm > 0 ? 'more' : 'less'} the corners were stretched ${stretchWords(note.stretch)} by ${size}.`;
}

/** Why the answer is what it is, by what the field shows. */
export function explained({ fault, spec, note, errorMm }: TrainerRound): string {
  switch (fault) {
    case 'nothing':
      return 'Stars are round and alike from the middle to every corner, and the corners are as bright as the middle: nothing to mend.';
    case 'spacing': {
      const stretch = cornerStretch(spec);
      const there = `${stretchWords(note.stretch)} ${Math.abs(note.stretch).toFixed(2)} at ${note.byMm > 0 ? '+' : '−'}${Math.abs(note.byMm).toFixed(1)} mm`;
      return `The middle is round and all four corners are stretched alike, ${stretchWords(stretch)} by about ${Math.abs(stretch).toFixed(2)}: spacing. The note gives the slope: ${there}. It crosses zero ${Math.abs(errorMm).toFixed(1)} mm ${errorMm > 0 ? 'shorter: rings come out' : 'longer: rings go in'}.`;
    }
    case 'tilt':
      return 'Stars are small on one side and large on the opposite one: the sensor is tilted. Rings do not change that; a focus sweep shows which screw.';
    case 'tracking':
      return 'Every star is stretched in the same direction, in the middle too: tracking, guiding or wind. Spacing would leave the middle round.';
    case 'collimation':
      return 'Every star has a tail that points the same way, in the middle too: the optics are out of collimation.';
    case 'focus':
      return 'Stars in the middle are flat or hollow: out of focus. Nothing can be said of the spacing before that is mended.';
    case 'light':
      return 'Stars are round everywhere, but the corners are dark: a filter too small or too far away. It is often blamed on the spacing, and is not the spacing’s fault.';
  }
}
