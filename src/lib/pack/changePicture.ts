import type { ChangeOver } from '@lodestone/core/assembly';
import type { Layout } from '@lodestone/core/shape';

/** A stretch of the rail, mm. */
interface Stretch {
  fromMm: number;
  toMm: number;
}

/** What is taken over from one train to the other: where it lies in each. */
export interface Band {
  /** The element it begins with, in the first train. */
  id: string;
  from: Stretch;
  to: Stretch;
  /** Nothing in it is opened. */
  isTogether: boolean;
}

function stretchOf(layout: Layout, ids: readonly string[]): Stretch | undefined {
  const items = layout.items.filter(({ id }) => ids.includes(id));
  if (items.length === 0) return undefined;
  return {
    fromMm: Math.min(...items.map(({ fromMm }) => fromMm)),
    toMm: Math.max(...items.map(({ toMm }) => toMm))
  };
}

/** Bands from what the first train has to where it lies in the second: runs that stay together as one, other parts one by one. */
export function bandsOf({ keep, taken }: ChangeOver, from: Layout, to: Layout): Band[] {
  const there = new Map(taken.map((part) => [part.from, part.to]));
  const runs = keep.map((run) => run.filter((id) => there.has(id))).filter((run) => run.length > 0);
  const inRuns = new Set(runs.flat());
  const single = taken.flatMap((part) => (inRuns.has(part.from) ? [] : [[part.from]]));
  return [...runs, ...single].flatMap((ids): Band[] => {
    const stretches = [
      stretchOf(from, ids),
      stretchOf(
        to,
        ids.map((id) => there.get(id)!)
      )
    ];
    const [a, b] = stretches;
    return a && b ? [{ id: ids[0]!, from: a, to: b, isTogether: ids.length > 1 }] : [];
  });
}

/** Where the joints lie that are opened or closed, mm, in the order they are done in. */
export const jointsAt = (layout: Layout, joints: readonly string[]): number[] =>
  joints.toReversed().flatMap((id) => {
    const joint = layout.joints.find((each) => each.id === id);
    return joint ? [(joint.fromMm + joint.toMm) / 2] : [];
  });
