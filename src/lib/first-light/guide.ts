import type { Host } from '@lodestone/core/train';
import { isMeasured, standardOf, type FocusAnswer, type FocusPoint } from '@lodestone/core/focus';

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
  /** The search has ended without a best position: `look` says what to check. */
  isEnd?: true;
}

/** What is moved to focus: words for it, and how it is brought to its stop. */
export interface Mover {
  name: string;
  toStop: string;
}

const MOVERS: Readonly<Record<'tube' | 'mirror' | 'ring', Mover>> = {
  tube: { name: 'draw tube', toStop: 'Drive the draw tube fully in, and set its counter to zero.' },
  mirror: {
    name: 'mirror',
    toStop: 'Turn the focus knob to the stop where focus is nearest to the telescope, and count from there.'
  },
  ring: { name: 'focus ring', toStop: 'Turn the focus ring to its stop, and count from there.' }
};

/** What a host is focused by. */
export const moverOf = (kind: Host['kind'], byMirror: boolean): Mover =>
  kind === 'camera-lens' ? MOVERS.ring : byMirror ? MOVERS.mirror : MOVERS.tube;

/** Nobody has looked through it yet. */
const before = ({ toStop }: Mover): readonly Instruction[] => [
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
    title: toStop,
    look: 'From here on it only moves one way: frames reached from both sides cannot be compared.'
  }
];

const after = ({ name }: Mover, hasGuide: boolean): readonly Instruction[] => [
  ...(hasGuide
    ? [
        {
          key: 'guide',
          title: `Now the guide camera: focus it by its own helical, not by the ${name}.`,
          look: `The ${name} belongs to the main camera, which stays in focus while the helical turns. Off the axis a star is never quite round: smallest is good enough. Frame by frame below, or by eye: then it is done.`
        }
      ]
    : []),
  {
    key: 'filters',
    title: 'Put the first filter in and look once more.',
    look: 'Filters of another thickness focus elsewhere: keep the run, and start one with the filter’s name.'
  }
];

const px = (hfrPx: number): string => (hfrPx >= 20 ? hfrPx.toFixed(0) : hfrPx.toFixed(2));

/** A frame’s star, in words. */
export const starOf = ({ hfrPx, ceiling, seen }: FocusPoint): string =>
  hfrPx !== undefined
    ? ceiling
      ? `more than ${px(hfrPx)} px`
      : `${px(hfrPx)} px`
    : { larger: 'larger', smaller: 'smaller', same: 'the same', nothing: 'no star' }[seen ?? 'nothing'];

/** What the last two frames say of each other. */
export function lastFrames(points: readonly FocusPoint[]): string {
  const [before, last] = [points.at(-2), points.at(-1)];
  if (!last) return '';
  if (!before) return `The first frame: ${starOf(last)} at ${last.position}.`;
  if (!isMeasured(before) || !isMeasured(last)) return `At ${last.position}: ${starOf(last)}.`;
  const scatter = Math.hypot(standardOf(before), standardOf(last));
  const change = last.hfrPx - before.hfrPx;
  if (Math.abs(change) < 2 * scatter) {
    return last.position === before.position
      ? `Again at ${last.position}: ${px(last.hfrPx)} px, as before.`
      : `${px(last.hfrPx)} px at ${last.position}, about as before.`;
  }
  return `The star ${change < 0 ? 'shrank' : 'grew'} from ${px(before.hfrPx)} to ${px(last.hfrPx)} px.`;
}

/**
 * The instruction that is due.
 *
 * @param step between two frames
 * @param mover what is moved, and whether there is a guide camera to focus afterwards
 * @param backlash steps that are lost after a reversal
 */
export function instructionFor(
  done: Readonly<Record<string, unknown>>,
  points: readonly FocusPoint[],
  answer: FocusAnswer,
  step: number,
  backlash: number,
  { mover, hasGuide }: { mover: Mover; hasGuide: boolean }
): Instruction | undefined {
  const due = (list: readonly Instruction[]): Instruction | undefined =>
    list.find(({ key }) => key !== undefined && !Object.hasOwn(done, key));
  const first = due(before(mover));
  if (first && points.length === 0) return first;
  if (!Object.hasOwn(done, 'best')) return runInstruction(points, answer, step, backlash);
  return due(after(mover, hasGuide));
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
      title: 'Take a frame here.',
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
      look: `Approach as in the run: first ${out ? 'in' : 'out'} to ${before}, then ${out ? 'out' : 'in'} to ${Math.round(bestPosition)}.`,
      position: Math.round(bestPosition),
      way
    };
  }
  if (nextPosition === null) {
    const isOneFrame = points.every(({ position }) => position === last.position);
    const position = Math.round(last.position + (out ? step : -step));
    // Where the search has ended nothing is asked for, but another frame may be added all the same.
    return isOneFrame
      ? { key: undefined, title: `Step ${out ? 'out' : 'in'} to ${position}.`, look: why ?? '', position, way }
      : { key: undefined, title: 'It goes no farther this way.', look: why ?? '', isEnd: true };
  }
  const isBack = out ? nextPosition < last.position : nextPosition > last.position;
  if (isBack) {
    const past = Math.round(nextPosition - (out ? 1 : -1) * (backlash + step));
    return {
      key: undefined,
      title: `Go ${out ? 'in' : 'out'} to ${past}, then ${out ? 'out' : 'in'} to ${nextPosition}, and take a frame.`,
      look: curve ? 'The best is behind you. Go past it first, to take up the backlash on the same side.' : (why ?? ''),
      position: nextPosition,
      way
    };
  }
  return {
    key: undefined,
    title: `Step ${out ? 'out' : 'in'} to ${nextPosition}, and take a frame.`,
    look: curve ? 'A frame there narrows it most.' : (why ?? ''),
    position: nextPosition,
    way
  };
}
