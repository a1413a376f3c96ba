import { jointsOf, type Joint } from '../joint/joints.ts';
import { HOST, isShim, partIdOf, seatOf, type Element, type Train } from '../train/model.ts';
import { sameJson } from '../train/sameJson.ts';

/** A part of the drawer, and where it lies; null where that is not known. */
export interface Lying {
  id: string;
  location: string | null;
}

/** From one train as it stands to another with the fewest joints opened. */
export interface ChangeOver {
  /** Joints of the first train that are opened, by their camera-side element, sky side first. */
  open: string[];
  /** Joints of the second train that are closed. */
  close: string[];
  /** Elements of the first train that stay together, each run of them sky side first. */
  keep: string[][];
  /** Elements of the first train that the second does not have. */
  aside: Lying[];
  /** Elements of the second train that the first does not have. */
  bring: Lying[];
  /** The least possible number of joints opened. */
  joints: number;
}

/** The host, or a part between joints. */
interface Node {
  id: string;
  /** Undefined for the host. */
  element: Element | undefined;
  /** The joint on its sky side; undefined for the host. */
  joint: Joint | undefined;
}

const nodesOf = (train: Train): Node[] => {
  const joints = new Map(jointsOf(train).map((joint) => [joint.cameraId, joint]));
  const parts = train.elements
    .filter((element) => !isShim(element) && element.kind !== 'gap')
    .map((element): Node => ({ id: element.id, element, joint: joints.get(element.id) }));
  return [{ id: HOST, element: undefined, joint: undefined }, ...parts];
};

/** An element without what belongs to its place: what is left is the part. */
function partOf(element: Element): Record<string, unknown> {
  const { id: _id, note: _note, ...rest } = element as Element & Record<string, unknown>;
  const { seat: _seat, copy: _copy, partId: _partId, ...part } = rest as Record<string, unknown>;
  return part;
}

/** Whether two elements are one and the same part: by its number and copy, else by all that is said of it. */
function isSamePart(a: Element | undefined, b: Element | undefined, from: Train, to: Train): boolean {
  if (!a || !b) return !a && !b && from.host.name === to.host.name && from.host.kind === to.host.kind;
  const [p, q] = [a, b] as { partId?: string; copy?: number }[];
  if (p!.partId !== undefined || q!.partId !== undefined) {
    return p!.partId === q!.partId && (p!.copy === undefined || q!.copy === undefined || p!.copy === q!.copy);
  }
  return sameJson(partOf(a), partOf(b));
}

const shimKey = (element: Element): string => partIdOf(element) ?? JSON.stringify(partOf(element));

const isTurned = ({ element }: Node): boolean => (element as { reversed?: boolean } | undefined)?.reversed === true;

/** What lies in a joint and how it is set: a joint that is set otherwise has to be opened. */
function seatKey({ shimElements }: Joint, element: Element): string {
  const { shimsMm, gapMm, rotationDeg } = seatOf(element) ?? {};
  return JSON.stringify([shimElements.map(shimKey).sort(), [...(shimsMm ?? [])].sort(), gapMm, rotationDeg]);
}

/** Whether the joint on the sky side of one node is the joint on the sky side of another, once their parts are the same. */
function isSameJoint(a: Node, b: Node): boolean {
  if (!a.joint || !b.joint || !a.element || !b.element) return false;
  return !a.joint.open && !b.joint.open && seatKey(a.joint, a.element) === seatKey(b.joint, b.element);
}

/**
 * Whether the joint on the sky side of a node stays closed: between two parts that are put aside together, or that
 * stand side by side in both trains, set alike and each the same way round.
 *
 * @param match index in `want` of each node of `have`; −1: put aside
 */
function staysClosed(
  have: readonly Node[],
  want: readonly Node[],
  match: readonly number[],
  index: number
): 'aside' | 'kept' | undefined {
  if (index === 0 || have[index]!.joint?.open) return undefined;
  const [before, here] = [match[index - 1]!, match[index]!];
  if (before < 0 && here < 0) return 'aside';
  if (before < 0 || here !== before + 1 || !isSameJoint(have[index]!, want[here]!)) return undefined;
  const sameWay = isTurned(have[index]!) === isTurned(want[here]!);
  return sameWay && isTurned(have[index - 1]!) === isTurned(want[before]!) ? 'kept' : undefined;
}

/** More ways to say which of several alike parts is which than this are not looked at. */
const MOST_LOOKED_AT = 2_000_000;

/**
 * The change from one train to another that opens the fewest joints. Parts that both have are taken over; of several
 * alike every way to say which is which is looked at. A joint stays closed between two parts that stand side by side in
 * both trains, set alike, and between two that the second train has no use for.
 *
 * @param from as it stands
 * @param locationOf where a part of the drawer lies, by its number; null where that is not known
 */
export function changeOver(
  from: Train,
  to: Train,
  locationOf: (partId: string) => string | null = () => null
): ChangeOver {
  const [have, want] = [nodesOf(from), nodesOf(to)];
  const candidates = have.map((a) => want.flatMap((b, at) => (isSamePart(a.element, b.element, from, to) ? [at] : [])));
  /** As many of alike parts as the second train wants are taken over: how many of each may stay out. */
  const groups = candidates.map((list) => list.join(' '));
  const spare = new Map<string, number>();
  for (const [index, key] of groups.entries()) {
    if (key === '') continue;
    spare.set(key, (spare.get(key) ?? -candidates[index]!.length) + 1);
  }
  let best: { opened: number; match: number[] } = { opened: Infinity, match: [] };
  const match: number[] = [];
  const used = new Set<number>();
  let looked = 0;
  /** Whether the joint between the last two nodes has to be opened; one that is open already has not. */
  const opens = (index: number): boolean =>
    index > 0 && !have[index]!.joint?.open && staysClosed(have, want, match, index) === undefined;
  const place = (index: number, opened: number): void => {
    if (opened >= best.opened || looked++ > MOST_LOOKED_AT) return;
    if (index === have.length) {
      best = { opened, match: [...match] };
      return;
    }
    const next = (match[index - 1] ?? -2) + 1;
    // What would stay beside its neighbour is looked at first.
    const ways = candidates[index]!.filter((at) => !used.has(at)).sort(
      (a, b) => Number(b === next) - Number(a === next)
    );
    for (const at of ways) {
      match[index] = at;
      used.add(at);
      place(index + 1, opened + Number(opens(index)));
      used.delete(at);
    }
    const key = groups[index]!;
    const left = spare.get(key) ?? 0;
    if (ways.length > 0 && left <= 0) return;
    if (key !== '') spare.set(key, left - 1);
    match[index] = -1;
    place(index + 1, opened + Number(opens(index)));
    if (key !== '') spare.set(key, left);
  };
  place(0, 0);
  return told(have, want, best.match, locationOf);
}

function told(
  have: readonly Node[],
  want: readonly Node[],
  match: readonly number[],
  locationOf: (partId: string) => string | null
): ChangeOver {
  const open: string[] = [];
  const keep: string[][] = [];
  const kept = new Set<number>();
  let run: string[] = [];
  const endRun = (): void => {
    if (run.length > 1) keep.push(run);
    run = [];
  };
  have.forEach((node, index) => {
    const stays = staysClosed(have, want, match, index);
    if (stays === 'kept') kept.add(match[index]!);
    if (stays === undefined) {
      endRun();
      if (index > 0 && !node.joint?.open) open.push(node.id);
    }
    if (node.element) run.push(node.id);
  });
  endRun();
  const taken = new Set(match);
  const lying = (element: Element): Lying => {
    const partId = partIdOf(element);
    return { id: element.id, location: partId === undefined ? null : locationOf(partId) };
  };
  // Shims that lay in joints that are opened go into those that are closed.
  const shimsOf = (nodes: readonly Node[], isOpened: (index: number) => boolean): Element[] =>
    nodes.flatMap(({ joint }, index) => (joint && isOpened(index) ? joint.shimElements : []));
  const out = shimsOf(have, (index) => open.includes(have[index]!.id));
  const into = shimsOf(want, (index) => !kept.has(index));
  const left = [...out];
  const missing = into.filter((shim) => {
    const at = left.findIndex((each) => shimKey(each) === shimKey(shim));
    if (at >= 0) left.splice(at, 1);
    return at < 0;
  });
  return {
    open,
    close: want.flatMap((node, index) => (index > 0 && !kept.has(index) ? [node.id] : [])),
    keep,
    aside: [
      ...have.filter((node, index) => match[index]! < 0 && node.element).map(({ element }) => element!),
      ...left
    ].map(lying),
    bring: [
      ...want.filter((node, index) => !taken.has(index) && node.element).map(({ element }) => element!),
      ...missing
    ].map(lying),
    joints: open.length
  };
}
