import { settleWithin, type Dial, type DialLimit, type Settled } from '../length/settle.ts';
import type { Connector } from './connect.ts';
import type { Step } from './halves.ts';
import type { Edge, StackTask } from './task.ts';

/** A joint of a filled gap, as the search closed it. */
export interface FilledJoint {
  connector: Connector;
  held: boolean;
}

/** What stands in one gap, sky side first, with its joints: one more than parts. */
export interface Filling {
  edges: Edge[];
  joints: FilledJoint[];
}

/** Shims by joint: for each gap, for each of its joints, indices into the task's shims. */
export type ShimPlan = number[][][];

/** Joins a beginning and an end to the fillings of all gaps. */
export function fillingsOf(
  { gaps, edges, connectors }: StackTask,
  begun: readonly Step[],
  joined: { crossed: number; modes: number },
  ended: readonly Step[]
): Filling[] {
  const fillings: Filling[] = gaps.map(() => ({ edges: [], joints: [] }));
  /** Modes of joints in train order, one a joint. */
  const modes: number[] = [];
  const runs: number[][] = gaps.map(() => []);
  let gap = 0;
  for (const { edge, crossed, modes: bits } of begun) {
    for (let joint = 0; joint <= crossed; joint++) modes.push((bits >> joint) & 1);
    gap += crossed;
    runs[gap]!.push(edge);
  }
  for (let joint = 0; joint <= joined.crossed; joint++) modes.push((joined.modes >> joint) & 1);
  gap += joined.crossed;
  // An end was grown from the camera side: its last step stands first.
  for (const { edge, crossed, modes: bits } of [...ended].reverse()) {
    runs[gap]!.push(edge);
    for (let joint = crossed; joint >= 0; joint--) modes.push((bits >> joint) & 1);
    gap += crossed;
  }
  let at = 0;
  gaps.forEach(({ above, below }, index) => {
    const filling = fillings[index]!;
    filling.edges = runs[index]!.map((edge) => edges[edge]!);
    const outs = [above, ...filling.edges.map(({ out }) => out)];
    const ins = [...filling.edges.map((edge) => edge.in), below];
    filling.joints = outs.map((out, joint) => ({
      connector: connectors[out]![ins[joint]!]!,
      held: modes[at + joint] === 1
    }));
    at += filling.joints.length;
  });
  return fillings;
}

/** Length of a filling with given sums of shims in its joints, in units, without what dials add. */
export const fillingLength = ({ edges, joints }: Filling): number =>
  edges.reduce((sum, { length }) => sum + length, 0) +
  joints.reduce((sum, { connector, held }) => sum + (held ? connector.held!.length : connector.plain!), 0);

/** A dial that a filling brings in, and where it stands. */
export interface PlacedDial {
  gap: number;
  /** Of a part, or of a joint held by a lock ring; its place among the filling's edges or joints. */
  of: 'part' | 'joint';
  at: number;
  dial: Dial;
}

/** Dials of the parts and joints of fillings, gap by gap, sky side first; those that do not count too. */
export const placedDials = ({ dials, jointDials }: StackTask, fillings: readonly Filling[]): PlacedDial[] =>
  fillings.flatMap(({ edges, joints }, gap) => [
    ...edges.flatMap(({ dial }, at): PlacedDial[] => (dial < 0 ? [] : [{ gap, of: 'part', at, dial: dials[dial]! }])),
    ...joints.flatMap(({ connector, held }, at): PlacedDial[] => {
      const dial = held ? undefined : jointDials.get(connector);
      return dial === undefined ? [] : [{ gap, of: 'joint', at, dial: dials[dial]! }];
    })
  ]);

const sumOfShims = ({ shims }: StackTask, plan: readonly (readonly number[])[]): number =>
  plan.flat().reduce((sum, shim) => sum + shims[shim]!.length, 0);

/** What the dials in gaps may add between them so that those gaps keep their limits, in units. */
function dialLimits(
  task: StackTask,
  fillings: readonly Filling[],
  plan: ShimPlan,
  placed: readonly PlacedDial[],
  before: number
): DialLimit[] {
  return task.limits.flatMap(({ gaps, min, max }): DialLimit[] => {
    const within = placed.flatMap((each, index) => (gaps.includes(each.gap) ? [before + index] : []));
    if (within.length === 0) return [];
    const length = gaps.reduce((sum, gap) => sum + fillingLength(fillings[gap]!) + sumOfShims(task, plan[gap]!), 0);
    return [{ dials: within, min: min - length, max: max - length }];
  });
}

/**
 * Sets all dials of a stack, the train's own first: as near as they come with every gap within its limits.
 *
 * @returns settings of the train's dials and then of {@link placedDials}; undefined where a gap cannot keep its limits
 */
export function settledWithin(task: StackTask, fillings: readonly Filling[], plan: ShimPlan): Settled | undefined {
  const placed = placedDials(task, fillings);
  const own = task.trainDials.map(({ dial }) => dial);
  const limits = dialLimits(task, fillings, plan, placed, own.length);
  const length = fillings.reduce(
    (sum, filling, gap) => sum + (fillingLength(filling) + sumOfShims(task, plan[gap]!)) * task.gaps[gap]!.counts,
    0
  );
  const idle = placed.some(({ gap }) => task.gaps[gap]!.counts === 0);
  if (!idle) return settleWithin([...own, ...placed.map(({ dial }) => dial)], (task.need ?? 0) - length, limits);
  return settledApart(task, placed, own, limits, length);
}

/** The same where some dials do not count: those are set by their own gap's limits alone. */
function settledApart(
  task: StackTask,
  placed: readonly PlacedDial[],
  own: readonly Dial[],
  limits: readonly DialLimit[],
  length: number
): Settled | undefined {
  const counts = (index: number): boolean =>
    index < own.length || task.gaps[placed[index - own.length]!.gap]!.counts === 1;
  const all = [...own, ...placed.map(({ dial }) => dial)];
  const set = all.map(({ min }) => min);
  let miss = 0;
  for (const wanted of [true, false]) {
    const chosen = all.flatMap((_dial, index) => (counts(index) === wanted ? [index] : []));
    const among = limits
      .filter(({ dials }) => dials.every((index) => counts(index) === wanted))
      .map((limit) => ({ ...limit, dials: limit.dials.map((index) => chosen.indexOf(index)) }));
    const middle = chosen.reduce((sum, index) => sum + (all[index]!.min + all[index]!.max) / 2, 0);
    const settled = settleWithin(
      chosen.map((index) => all[index]!),
      wanted ? (task.need ?? 0) - length : middle,
      among
    );
    if (!settled) return undefined;
    settled.set.forEach((setting, at) => (set[chosen[at]!] = setting));
    if (wanted) miss = settled.miss;
  }
  return { set, miss };
}

/** Whether every gap can keep its limits with so much of shims in each, its own dials set somewhere, in units. */
function keepsLimits(task: StackTask, fillings: readonly Filling[], laid: readonly number[]): boolean {
  if (task.limits.length === 0) return true;
  const placed = placedDials(task, fillings);
  return task.limits.every(({ gaps, min, max }) => {
    const within = placed.filter(({ gap }) => gaps.includes(gap));
    const length = gaps.reduce((sum, gap) => sum + fillingLength(fillings[gap]!) + laid[gap]!, 0);
    const least = within.reduce((sum, { dial }) => sum + dial.min, length);
    const most = within.reduce((sum, { dial }) => sum + dial.max, length);
    return least <= max && most >= min;
  });
}

/**
 * Lays shims into the joints of fillings: each where it finds room and can go over the thread; a joint that is held
 * open gets as much as it needs; every gap keeps its limits. Of all ways the first, best joints first: those with
 * most thread to spare.
 *
 * @param shims indices into the task's shims, thickest first
 * @returns undefined where there is no way
 */
export function layShims(
  task: StackTask,
  fillings: readonly Filling[],
  shims: readonly number[]
): ShimPlan | undefined {
  const laid = fillings.map(() => 0);
  const plan: ShimPlan = fillings.map(({ joints }) => joints.map(() => []));
  // A joint stands held by shims, and there are none.
  if (shims.length === 0 && fillings.some(({ joints }) => joints.some(({ held }) => held))) return undefined;
  if (shims.length === 0) return keepsLimits(task, fillings, laid) ? plan : undefined;

  interface Seat {
    gap: number;
    connector: Connector;
    least: number;
    most: number;
    laid: number;
    into: number[];
  }
  const seats: Seat[] = fillings.flatMap(({ joints }, gap) =>
    joints.map(({ connector, held }, joint): Seat => ({
      gap,
      connector,
      least: held ? connector.held!.least : 0,
      // Length that does not count is nothing to spend shims on.
      most: task.gaps[gap]!.counts === 0 ? 0 : held ? connector.held!.most : connector.room,
      laid: 0,
      into: plan[gap]![joint]!
    }))
  );
  const open = seats
    .filter(({ most }) => most > 0)
    .sort((a, b) => b.least - a.least || b.connector.turns - a.connector.turns || b.most - a.most);

  const lay = (at: number): boolean => {
    if (at === shims.length) return seats.every((seat) => seat.laid >= seat.least) && keepsLimits(task, fillings, laid);
    const { length, clearMm } = task.shims[shims[at]!]!;
    for (const seat of open) {
      if (seat.laid + length > seat.most || clearMm < seat.connector.boreMm) continue;
      seat.laid += length;
      laid[seat.gap]! += length;
      seat.into.push(shims[at]!);
      if (lay(at + 1)) return true;
      seat.laid -= length;
      laid[seat.gap]! -= length;
      seat.into.pop();
    }
    return false;
  };
  return lay(0) ? plan : undefined;
}
