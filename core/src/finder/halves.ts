import type { Connector } from './connect.ts';
import type { Edge, StackTask } from './task.ts';

const FIRST_ENTRIES = 64;

/**
 * Beginnings or ends of stacks of one number of parts, laid out flat. A beginning is grown part by part from the sky
 * side of the first gap; an end from the camera side of the last.
 */
export class Half {
  length = 0;
  /** So many entries of the half of one part less have been grown from. */
  grownFrom = 0;
  /** Everything there is stands in it. */
  complete = false;
  /** Which gap it ends (or begins) in, and the face there: `gap * faces + face`. */
  place = new Int32Array(FIRST_ENTRIES);
  /** Length so far that counts, in units, without what dials add. */
  sum = new Float64Array(FIRST_ENTRIES);
  /** The part added last; −1 for the root. */
  edge = new Int32Array(FIRST_ENTRIES);
  /** The half of one part less that it was grown from; −1 for the root. */
  parent = new Int32Array(FIRST_ENTRIES);
  /** Gaps that were crossed, empty, between the parent and this part. */
  crossed = new Uint8Array(FIRST_ENTRIES);
  /** Joints that stand held open by shims, so far. */
  held = new Uint8Array(FIRST_ENTRIES);
  /** One bit a joint closed with this part, nearest the parent first: 1 where it stands held by shims. */
  modes = new Int32Array(FIRST_ENTRIES);
  /** Which part dials are in it: an entry of {@link Signatures}. */
  dials = new Int32Array(FIRST_ENTRIES);

  add(
    place: number,
    sum: number,
    edge: number,
    parent: number,
    crossed: number,
    held: number,
    modes: number,
    dials: number
  ): void {
    const at = this.length++;
    if (at === this.sum.length) this.#widen();
    this.place[at] = place;
    this.sum[at] = sum;
    this.edge[at] = edge;
    this.parent[at] = parent;
    this.crossed[at] = crossed;
    this.held[at] = held;
    this.modes[at] = modes;
    this.dials[at] = dials;
  }

  #widen(): void {
    const wider = 2 * this.sum.length;
    const ints = (from: Int32Array): Int32Array<ArrayBuffer> => {
      const into = new Int32Array(wider);
      into.set(from);
      return into;
    };
    const bytes = (from: Uint8Array): Uint8Array<ArrayBuffer> => {
      const into = new Uint8Array(wider);
      into.set(from);
      return into;
    };
    const sum = new Float64Array(wider);
    sum.set(this.sum);
    this.sum = sum;
    this.place = ints(this.place);
    this.edge = ints(this.edge);
    this.parent = ints(this.parent);
    this.modes = ints(this.modes);
    this.dials = ints(this.dials);
    this.crossed = bytes(this.crossed);
    this.held = bytes(this.held);
  }
}

/** More entries than this are not made; the search then says that it did not look at everything. */
const MOST_ENTRIES = 4_000_000;

/** Multisets of part dials, numbered. */
class Signatures {
  readonly all: readonly number[][] = [[]];
  readonly #index = new Map<string, number>([['', 0]]);

  /** The multiset `signature` with one more dial; itself where `dial` is −1. */
  with(signature: number, dial: number): number {
    if (dial < 0) return signature;
    return this.#number([...this.all[signature]!, dial]);
  }

  withAll(signature: number, dials: readonly number[]): number {
    if (dials.length === 0) return signature;
    return dials.reduce((known, dial) => this.with(known, dial), signature);
  }

  union(a: number, b: number): number {
    if (a === 0) return b;
    if (b === 0) return a;
    return this.#number([...this.all[a]!, ...this.all[b]!]);
  }

  #number(dials: number[]): number {
    const sorted = dials.sort((a, b) => a - b);
    const key = sorted.join(' ');
    let index = this.#index.get(key);
    if (index === undefined) {
      index = (this.all as number[][]).push(sorted) - 1;
      this.#index.set(key, index);
    }
    return index;
  }
}

/** Beginnings of stacks, or ends. */
export type Side = 'begun' | 'ended';

/** A way a joint may stand: plain, or held open by shims. */
export interface Mode {
  length: number;
  held: 0 | 1;
  /** Which of the task's dials the joint has, held by a lock ring; −1: none. */
  dial: number;
}

export function modesOf({ jointDials, shims }: StackTask, connector: Connector): Mode[] {
  const { plain, held } = connector;
  const modes: Mode[] = [];
  if (plain !== undefined) modes.push({ length: plain, held: 0, dial: jointDials.get(connector) ?? -1 });
  if (held && shims.length > 0) modes.push({ length: held.length, held: 1, dial: -1 });
  return modes;
}

/** A place reached from another by crossing gaps that stay empty on the way. */
export interface Reach {
  gap: number;
  face: number;
  /** Length of the joints that close on the way and count. */
  added: number;
  crossed: number;
  held: number;
  modes: number;
  /** Dials of the joints that close on the way and count. */
  dials: readonly number[];
}

/**
 * Grows halves of `StackTask`, one part at a time. Runs of parts with the same two faces are kept in one order, since
 * any other order has the same length.
 */
export class Halves {
  readonly signatures = new Signatures();
  readonly faces: number;
  /** Some list was cut off: not everything was looked at. */
  cut = false;
  readonly #task: StackTask;
  readonly #levels: Readonly<Record<Side, Half[]>> = { begun: [], ended: [] };
  /** Edges that may follow an out face, or come before an in face, with how the joint may stand. */
  readonly #after: { edge: Edge; modes: Mode[] }[][];
  readonly #before: { edge: Edge; modes: Mode[] }[][];

  constructor(task: StackTask) {
    this.#task = task;
    const { connectors, edges, gaps } = task;
    this.faces = Math.max(connectors.length, connectors[0]?.length ?? 0, 1);
    this.#after = connectors.map((row) =>
      edges.flatMap((edge) => {
        const connector = row[edge.in];
        return connector ? [{ edge, modes: modesOf(task, connector) }] : [];
      })
    );
    const ins = connectors[0]?.length ?? 0;
    this.#before = Array.from({ length: ins }, (_, into) =>
      edges.flatMap((edge) => {
        const connector = connectors[edge.out]![into];
        return connector ? [{ edge, modes: modesOf(task, connector) }] : [];
      })
    );
    const root = (gap: number, face: number): Half => {
      const half = new Half();
      half.add(gap * this.faces + face, 0, -1, -1, 0, 0, 0, 0);
      half.complete = true;
      return half;
    };
    if (gaps.length > 0) {
      this.#levels.begun.push(root(0, gaps[0]!.above));
      this.#levels.ended.push(root(gaps.length - 1, gaps.at(-1)!.below));
    }
  }

  /**
   * Beginnings of `parts` parts, each standing behind its last part, or ends, each before its first part or a gap's
   * camera side: at least so many, or all there are.
   */
  grown(side: Side, parts: number, atLeast = Infinity): Half {
    const levels = this.#levels[side];
    if (parts > 0) this.grown(side, parts - 1);
    const half = (levels[parts] ??= new Half());
    if (half.length < atLeast && !half.complete) this.#grow(side, parts, atLeast);
    return half;
  }

  /** What has been grown of a half. */
  level(side: Side, parts: number): Half {
    return this.#levels[side][parts]!;
  }

  readonly #reaches: [Map<number, Reach[]>, Map<number, Reach[]>] = [new Map(), new Map()];

  /** Where one gets to from a place without a further part: there, and beyond gaps that stay empty from there on. */
  crossings(place: number, direction: 1 | -1): readonly Reach[] {
    const known = this.#reaches[direction > 0 ? 0 : 1];
    let reached = known.get(place);
    if (!reached) {
      reached = this.#reach(place, direction);
      known.set(place, reached);
    }
    return reached;
  }

  #reach(place: number, direction: 1 | -1): Reach[] {
    const { gaps, connectors } = this.#task;
    const reached: Reach[] = [
      {
        gap: Math.floor(place / this.faces),
        face: place % this.faces,
        added: 0,
        crossed: 0,
        held: 0,
        modes: 0,
        dials: []
      }
    ];
    for (let at = 0; at < reached.length; at++) {
      const { gap, face, added, crossed, held, modes, dials } = reached[at]!;
      const next = gap + direction;
      if (next < 0 || next >= gaps.length) continue;
      const connector = direction > 0 ? connectors[face]![gaps[gap]!.below] : connectors[gaps[gap]!.above]![face];
      if (!connector) continue;
      for (const mode of modesOf(this.#task, connector)) {
        reached.push({
          gap: next,
          face: direction > 0 ? gaps[next]!.above : gaps[next]!.below,
          added: added + mode.length * gaps[gap]!.counts,
          crossed: crossed + 1,
          held: held + mode.held,
          modes: modes | (mode.held << crossed),
          dials: mode.dial >= 0 && gaps[gap]!.counts ? [...dials, mode.dial] : dials
        });
      }
    }
    return reached;
  }

  #grow(side: Side, parts: number, atLeast: number): void {
    const { gaps, edges, groups } = this.#task;
    const direction = side === 'begun' ? 1 : -1;
    const levels = this.#levels[side];
    const from = levels[parts - 1]!;
    const grown = levels[parts]!;
    const neighbours = direction > 0 ? this.#after : this.#before;

    const copies = Int32Array.from(groups, ({ parts: alike }) => alike.length);
    /** Groups of the parts of the entry at hand. */
    const used = new Int32Array(parts - 1);

    for (; grown.grownFrom < from.length && grown.length < atLeast; grown.grownFrom++) {
      const entry = grown.grownFrom;
      for (let level = parts - 1, at = entry; level > 0; level--) {
        const half = levels[level]!;
        used[level - 1] = edges[half.edge[at]!]!.group;
        at = half.parent[at]!;
      }
      const last = from.edge[entry]! < 0 ? undefined : edges[from.edge[entry]!]!;
      for (const reach of this.crossings(from.place[entry]!, direction)) {
        const { counts } = gaps[reach.gap]!;
        const sum = from.sum[entry]! + reach.added;
        const begun = this.signatures.withAll(from.dials[entry]!, reach.dials);
        for (const { edge, modes } of neighbours[reach.face]!) {
          if (last && reach.crossed === 0 && last.in === edge.in && last.out === edge.out) {
            if (direction > 0 ? edge.index < last.index : edge.index > last.index) continue;
          }
          let left = copies[edge.group]!;
          for (let level = 0; level < used.length; level++) if (used[level] === edge.group) left--;
          if (left <= 0) continue;
          for (const mode of modes) {
            if (grown.length >= MOST_ENTRIES) {
              this.cut = true;
              grown.complete = true;
              return;
            }
            grown.add(
              reach.gap * this.faces + (direction > 0 ? edge.out : edge.in),
              sum + (mode.length + edge.length) * counts,
              edge.index,
              entry,
              reach.crossed,
              from.held[entry]! + reach.held + mode.held,
              reach.modes | (mode.held << reach.crossed),
              counts && (mode.dial >= 0 || edge.dial >= 0)
                ? this.signatures.with(this.signatures.with(begun, mode.dial), edge.dial)
                : begun
            );
          }
        }
      }
    }
    grown.complete = grown.grownFrom === from.length;
  }

  /** The steps a half was grown by, in the order they were taken. */
  stepsOf(side: Side, parts: number, entry: number): Step[] {
    const levels = this.#levels[side];
    const steps: Step[] = [];
    for (let level = parts, at = entry; level > 0; level--) {
      const { edge, parent, crossed, modes } = levels[level]!;
      steps.unshift({ edge: edge[at]!, crossed: crossed[at]!, modes: modes[at]! });
      at = parent[at]!;
    }
    return steps;
  }
}

/** A part added to a half: the gaps crossed before it, and how the joints closed on the way stand. */
export interface Step {
  edge: number;
  crossed: number;
  modes: number;
}
