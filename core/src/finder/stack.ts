import type { Connector } from './connect.ts';
import type { Step } from './halves.ts';
import type { Edge, Problem } from './problem.ts';

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

/** Shims by joint: for each gap, for each of its joints, indices into the problem's shims. */
export type ShimPlan = number[][][];

/** Joins a beginning and an end to the fillings of all gaps. */
export function fillingsOf(
  { gaps, edges, connectors }: Problem,
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

/** Whether every gap keeps its limits with so much of shims in each, in units; its own dials may make it longer. */
function keepsLimits({ gaps, partDials }: Problem, fillings: readonly Filling[], laid: readonly number[]): boolean {
  return gaps.every(({ min, max }, gap) => {
    const length = fillingLength(fillings[gap]!) + laid[gap]!;
    if (length > max) return false;
    if (length >= min) return true;
    const travel = fillings[gap]!.edges.reduce((sum, { dial }) => sum + (dial < 0 ? 0 : partDials[dial]!.max), 0);
    return length + travel >= min;
  });
}

/**
 * Lays shims into the joints of fillings: each where it finds room and can go over the thread; a joint that is held
 * open gets as much as it needs; every gap keeps its limits. Of all ways the first, best joints first: those with
 * most thread to spare.
 *
 * @param shims indices into the problem's shims, thickest first
 * @returns undefined where there is no way
 */
export function layShims(
  problem: Problem,
  fillings: readonly Filling[],
  shims: readonly number[]
): ShimPlan | undefined {
  const laid = fillings.map(() => 0);
  const plan: ShimPlan = fillings.map(({ joints }) => joints.map(() => []));
  // A joint stands held by shims, and there are none.
  if (shims.length === 0 && fillings.some(({ joints }) => joints.some(({ held }) => held))) return undefined;
  if (shims.length === 0) return keepsLimits(problem, fillings, laid) ? plan : undefined;

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
      most: problem.gaps[gap]!.counts === 0 ? 0 : held ? connector.held!.most : connector.room,
      laid: 0,
      into: plan[gap]![joint]!
    }))
  );
  const open = seats
    .filter(({ most }) => most > 0)
    .sort((a, b) => b.least - a.least || b.connector.turns - a.connector.turns || b.most - a.most);

  const lay = (at: number): boolean => {
    if (at === shims.length)
      return seats.every((seat) => seat.laid >= seat.least) && keepsLimits(problem, fillings, laid);
    const { length, clearMm } = problem.shims[shims[at]!]!;
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
