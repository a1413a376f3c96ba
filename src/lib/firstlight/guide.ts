import type { FocusAnswer, FocusPoint } from '@lodestone/core/focus';

/** One instruction at a time: what to do, what to look at, and what the last frame said. */
export interface Instruction {
  /** What it is ticked by; undefined where a frame is asked for. */
  key: string | undefined;
  title: string;
  look: string;
  /** Position of the next frame, where one is asked for, and the way it is come to. */
  position?: number;
  way?: 'out' | 'in';
  cautions?: readonly string[];
}

/** Nobody has looked through it yet. */
const BEFORE: readonly Instruction[] = [
  {
    key: 'dark',
    title: 'Leave the cover on until it is dark.',
    look: 'The axis locked, cables loose, the counterweight on. About an hour is a good plan for a first time.',
    cautions: [
      'Never point it at the sun, never leave it uncapped in daylight.',
      'Lock the axis before you let go: a tube that is heavy at one end swings.'
    ]
  },
  {
    key: 'star',
    title: 'Point at a bright star, high up, no filter in the beam.',
    look: 'Far out of focus it is a large pale disc, and easily missed: expose a second or two and stretch the picture.'
  },
  {
    key: 'zero',
    title: 'Drive the draw tube fully in, and set its counter to zero.',
    look: 'From here on it only goes out: points come to from both sides are not compared.'
  }
];

const AFTER: readonly Instruction[] = [
  {
    key: 'guide',
    title: 'Now the guide camera: focus it by its own helical, not by the draw tube.',
    look: 'The draw tube belongs to the main camera. Off the axis a star is never quite round: smallest is good enough.'
  },
  {
    key: 'filters',
    title: 'Put the first filter in and look once more.',
    look: 'Filters of another thickness come to focus elsewhere: keep the run, and begin one with the filter’s name.'
  }
];

const px = (hfrPx: number): string => hfrPx.toFixed(2);

/** What the last two frames say of each other. */
export function lastFrames(points: readonly FocusPoint[]): string {
  const [before, last] = [points.at(-2), points.at(-1)];
  if (!last) return '';
  if (!before) return `The first frame: ${px(last.hfrPx)} px at ${last.position}.`;
  const scatter = Math.hypot(before.standardPx ?? 0.03 * before.hfrPx, last.standardPx ?? 0.03 * last.hfrPx);
  const change = last.hfrPx - before.hfrPx;
  if (Math.abs(change) < 2 * scatter) {
    return last.position === before.position
      ? `Again at ${last.position}: ${px(last.hfrPx)} px, as before.`
      : `${px(last.hfrPx)} px, about as before: did the tube move?`;
  }
  return `The star ${change < 0 ? 'shrank' : 'grew'} from ${px(before.hfrPx)} to ${px(last.hfrPx)} px.`;
}

/**
 * The instruction that is due.
 *
 * @param step between two frames
 * @param backlash steps that are lost after a reversal
 */
export function instructionFor(
  done: Readonly<Record<string, unknown>>,
  points: readonly FocusPoint[],
  answer: FocusAnswer,
  step: number,
  backlash: number
): Instruction | undefined {
  const before = BEFORE.find(({ key }) => key !== undefined && !Object.hasOwn(done, key));
  if (before && points.length === 0) return before;
  if (!Object.hasOwn(done, 'best')) return runInstruction(points, answer, step, backlash);
  return AFTER.find(({ key }) => key !== undefined && !Object.hasOwn(done, key));
}

function runInstruction(
  points: readonly FocusPoint[],
  { bestPosition, enough, nextPosition, why, direction, curve }: FocusAnswer,
  step: number,
  backlash: number
): Instruction {
  const last = points.at(-1);
  const out = direction !== 'in';
  const way = out ? 'out' : 'in';
  if (!last) {
    return {
      key: undefined,
      title: 'Take a frame where it stands.',
      look: 'How large is the star? Type its half-flux radius.',
      position: 0,
      way
    };
  }
  if (enough && bestPosition !== null) {
    const before = Math.round(bestPosition - (out ? 1 : -1) * (backlash + step));
    return {
      key: 'best',
      title: `Go to ${Math.round(bestPosition)}, and lock it.`,
      look: `Come to it as in the run: first ${out ? 'in' : 'out'} to ${before}, then ${out ? 'out' : 'in'} to ${Math.round(bestPosition)}.`,
      position: Math.round(bestPosition),
      way
    };
  }
  if (nextPosition === null) {
    const position = Math.round(last.position + (out ? step : -step));
    return { key: undefined, title: `Step ${out ? 'out' : 'in'} to ${position}.`, look: why ?? '', position, way };
  }
  if (!curve && nextPosition < 0 && points.every(({ position }) => position >= 0)) {
    return {
      key: undefined,
      title: 'It would have to go in farther than fully in.',
      look: 'Stars only grow on the way out: what stands ahead of the camera is too long, or this is another star. See the draw tube’s budget.',
      position: Math.round(last.position + step),
      way
    };
  }
  const isBack = out ? nextPosition < last.position : nextPosition > last.position;
  if (isBack) {
    const past = Math.round(nextPosition - (out ? 1 : -1) * (backlash + step));
    return {
      key: undefined,
      title: `Go ${out ? 'in' : 'out'} to ${past}, then ${out ? 'out' : 'in'} to ${nextPosition}, and take a frame.`,
      look: curve
        ? 'The best lies behind you. Past it first, so that the play of the gears is taken up on the same side.'
        : (why ?? ''),
      position: nextPosition,
      way
    };
  }
  return {
    key: undefined,
    title: `Step ${out ? 'out' : 'in'} to ${nextPosition}, and take a frame.`,
    look: curve ? 'There a frame tells most.' : (why ?? ''),
    position: nextPosition,
    way
  };
}
