import type { Part } from '../drawer/part.ts';
import { isBody } from '../train/model.ts';
import { parseThread } from '../joint/thread.ts';
import type { Edge, StackTask } from './task.ts';
import type { Stack } from './searcher.ts';
import { fillingLength, layShims, placedDials, type Filling, type ShimPlan } from './stack.ts';

/** A stack in its best order, with how many other orders would be just as long. */
export interface Arranged {
  fillings: Filling[];
  shims: ShimPlan;
  /** Orders of equal length, this one included. */
  orders: number;
}

/** Parts that may stand in each other's place in any order: those with the same two faces, each in its one way round. */
interface Rank {
  /** Ways each of its places may be filled: one, or for a part that turns round as many as it has. */
  ways: Edge[][];
  used: number;
}

const factorial = (n: number): number => (n <= 1 ? 1 : n * factorial(n - 1));

/** Sorts a gap's parts into ranks, wide and long ones first, and counts the orders inside them. */
function ranksOf(
  { edges }: StackTask,
  filling: Filling,
  width: (edge: Edge) => number
): { ranks: Rank[]; inside: number } {
  const ranks = new Map<string, Rank>();
  const copies = new Map<number, number>();
  const sorted = filling.edges.toSorted((a, b) => width(b) - width(a) || b.length - a.length);
  for (const edge of sorted) {
    copies.set(edge.group, (copies.get(edge.group) ?? 0) + 1);
    const ways = edges.filter(({ group }) => group === edge.group);
    const key = ways.length > 1 ? `group ${edge.group}` : `faces ${edge.in} ${edge.out}`;
    const rank = ranks.get(key) ?? { ways: [], used: 0 };
    rank.ways.push(ways);
    ranks.set(key, rank);
  }
  const all = [...ranks.values()];
  const among = all.reduce((product, { ways }) => product * factorial(ways.length), 1);
  const alike = [...copies.values()].reduce((product, count) => product * factorial(count), 1);
  return { ranks: all, inside: among / alike };
}

/**
 * Every order of one gap's parts that closes, parts of one rank kept in theirs: any other order of them is as long.
 *
 * @returns the orders, and how many each stands for
 */
function ordersOf(task: StackTask, gap: number, filling: Filling): { orders: Filling[]; inside: number } {
  const { connectors, gaps } = task;
  const { above, below } = gaps[gap]!;
  const { ranks, inside } = ranksOf(task, filling, (edge) => widthOf(partOf(task, edge)));
  const orders: Filling[] = [];
  const order: Edge[] = [];
  const close = (): void => {
    const outs = [above, ...order.map(({ out }) => out)];
    const ins = [...order.map((edge) => edge.in), below];
    const closed = outs.map((out, joint) => connectors[out]![ins[joint]!]);
    if (closed.some((connector) => connector === undefined)) return;
    // A joint stands as it can: plain where it closes plain, held by shims where it can be held.
    let all: Filling['joints'][] = [[]];
    for (const connector of closed) {
      const held = connector!.held !== undefined;
      const plain = connector!.plain !== undefined;
      all = all.flatMap((joints) => [
        ...(plain ? [[...joints, { connector: connector!, held: false }]] : []),
        ...(held ? [[...joints, { connector: connector!, held: true }]] : [])
      ]);
    }
    for (const joints of all) orders.push({ edges: [...order], joints });
  };
  const grow = (): void => {
    if (order.length === filling.edges.length) return close();
    const out = order.at(-1)?.out ?? above;
    for (const rank of ranks) {
      if (rank.used === rank.ways.length) continue;
      for (const edge of rank.ways[rank.used]!) {
        if (connectors[out]![edge.in] === undefined) continue;
        rank.used++;
        order.push(edge);
        grow();
        order.pop();
        rank.used--;
      }
    }
  };
  grow();
  return { orders, inside };
}

const partOf = ({ groups }: StackTask, { group }: Edge): Part => groups[group]!.parts[0]!;

/** How wide a part is, mm: stated, else by its threads. */
function widthOf(part: Part): number {
  const { element } = part;
  if (element.outerMm !== undefined) return element.outerMm;
  const ports = isBody(element) ? [element.sky, element.camera] : [];
  return Math.max(
    0,
    ...ports.map((port) => (port && 'thread' in port ? (parseThread(port.thread)?.diameterMm ?? 0) : 0))
  );
}

/**
 * What an order costs, smaller is better: few changes of face from joint to joint, wide parts toward the telescope,
 * few parts turned round, thin threads that hold (common practice, no source).
 */
function costOf(task: StackTask, { edges, joints }: Filling): number[] {
  const changes = edges.filter((edge, index) => index > 0 && edges[index - 1]!.in !== edge.in).length;
  const widths = edges.map((edge) => widthOf(partOf(task, edge)));
  let inversions = 0;
  for (let a = 0; a < widths.length; a++) {
    for (let b = a + 1; b < widths.length; b++) if (widths[a]! < widths[b]! - 0.5) inversions++;
  }
  const turned = edges.filter(({ reversed }) => reversed).length;
  const loose = joints.filter(({ connector }) => connector.turns < 3).length;
  /** Of parts alike in width, the longer stands nearer the telescope: stiffer, and the order is always the same. */
  let shortFirst = 0;
  for (let a = 0; a < edges.length; a++) {
    for (let b = a + 1; b < edges.length; b++) if (edges[a]!.length < edges[b]!.length) shortFirst++;
  }
  return [loose, changes, inversions, turned, shortFirst];
}

const lexical = (a: readonly number[], b: readonly number[]): number => {
  for (let at = 0; at < a.length; at++) if (a[at] !== b[at]) return a[at]! - b[at]!;
  return 0;
};

/** What the dials of a filling can do, told so that equal ones are equal. */
const travelOf = (task: StackTask, filling: Filling): string =>
  placedDials(task, [filling])
    .map(({ dial: { min, max, step } }) => `${min} ${max} ${step}`)
    .sort()
    .join(';');

/** Puts a stack into the order practitioners would screw it together in, without changing its length. */
export function arrange(task: StackTask, stack: Stack): Arranged {
  const shims = stack.shims.flat(2).sort((a, b) => task.shims[b]!.length - task.shims[a]!.length);
  let fillings = stack.fillings;
  let plan = stack.shims;
  let orders = 1;
  fillings.forEach((filling, gap) => {
    const length = fillingLength(filling);
    const travel = travelOf(task, filling);
    const { orders: closing, inside } = ordersOf(task, gap, filling);
    const ranked = closing
      .filter((order) => fillingLength(order) === length && travelOf(task, order) === travel)
      .map((order) => ({ order, cost: costOf(task, order) }))
      .sort((a, b) => lexical(a.cost, b.cost));
    for (const { order } of ranked) {
      const laid = layShims(task, fillings.with(gap, order), shims);
      if (!laid) continue;
      fillings = fillings.with(gap, order);
      plan = laid;
      break;
    }
    orders *= inside * new Set(ranked.map(({ order }) => order.edges.map(({ index }) => index).join(' '))).size;
  });
  // The last gap's choice may have laid the shims elsewhere than an earlier one's.
  return { fillings, shims: layShims(task, fillings, shims) ?? plan, orders };
}
