import type { LengthUnit } from '../why/wording.ts';
import { glassBehindFace } from '../joint/glassReach.ts';
import { turnedRound } from '../joint/fit.ts';
import { doubtOf } from '../doubt/doubts.ts';
import { bends } from '../check/partOrder.ts';
import { beamLimitOf, type BeamLimit } from './beam.ts';
import { Facts } from '../check/facts.ts';
import type { SpanLimit } from './stood.ts';
import { lengthDials, type LengthDial } from '../length/dial.ts';
import type { Ledger } from '../length/ledger.ts';
import { bodyWidth, isShoulderless, type Joint } from '../joint/joints.ts';
import { parseThread } from '../joint/thread.ts';
import { partLength, placedPart, type Part } from '../drawer/part.ts';
import {
  KINDS,
  adjustOf,
  cameraPort,
  findElement,
  isBody,
  isShim,
  lengthOf,
  seatOf,
  skyPort,
  standingIn,
  type BodyElement,
  type Element,
  type Port,
  type SolidElement,
  type Train
} from '../train/model.ts';
import { boreKey, boreLeftBy, connect, type Connector, type InFace, type OutFace } from './connect.ts';
import { dialOf, type Dial } from '../length/settle.ts';
import { toUnits } from '../units.ts';

/** Parts that are alike in everything the search looks at, whatever their numbers. */
export interface Group {
  /** One entry a copy: those wide enough for the light first, then the one whose length is known best. */
  parts: Part[];
  /** 1: has to be bought. */
  buy: 0 | 1;
  price: number;
}

/** One way a part can stand in a train. */
export interface Edge {
  index: number;
  group: number;
  reversed: boolean;
  in: number;
  out: number;
  /** Without what a dial adds, in units. */
  length: number;
  /** Which of the task's dials it has; −1: none. */
  dial: number;
  /** 1: what one of its faces screws to is not known. */
  unknown: 0 | 1;
  /** Clear aperture, mm; Infinity where it is not stated. */
  clearMm: number;
}

export interface ShimKind {
  group: number;
  /** Thickness, in units. */
  length: number;
  /** Bore, mm; Infinity where not known. */
  clearMm: number;
}

/** A gap to fill. Lengths in units. */
export interface Gap {
  /** First of the gap elements that stand together. */
  id: string;
  /** Further gaps directly behind it: they stay empty. */
  others: string[];
  /** What stands on its camera side. */
  followerId: string;
  above: number;
  below: number;
  /** 1 on the camera side of the datum; 0 where length does not matter. */
  counts: 0 | 1;
  /** Parts narrower than this take more light from the corners than is allowed, mm; 0 where nothing is asked. */
  narrowestMm: number;
}

/** What neighbouring gaps may measure together, in units. */
export interface Limit {
  gaps: readonly number[];
  min: number;
  max: number;
}

/** A train's gaps and a drawer, ready to be searched. */
export interface StackTask {
  train: Train;
  ledger: Ledger;
  gaps: Gap[];
  groups: Group[];
  edges: Edge[];
  shims: ShimKind[];
  /** connectors[out][in]; undefined where they do not close. */
  connectors: (Connector | undefined)[][];
  /** Dials that a stack can bring in: of parts, by `Edge.dial`, and of joints held by a lock ring. */
  dials: Dial[];
  /** For each connector, which of the dials it has; −1: none. */
  jointDials: Map<Connector, number>;
  /** Dials that stand in the train and count. */
  trainDials: { of: LengthDial; dial: Dial }[];
  /** Lengths that gaps keep, alone or together. */
  limits: Limit[];
  /** What the light asks of parts; undefined where nothing is asked. */
  beam: BeamLimit | undefined;
  /** Some part is too narrow for some gap. */
  refuses: boolean;
  facts: Facts;
  /** What the gaps and dials have to add up to, in units; null where nothing is asked for. */
  need: number | null;
  /** In units; Infinity where nothing is asked for. */
  tolerance: number;
}

export interface Supply {
  /** The drawer, and after it what could be bought. */
  parts: readonly Part[];
  /** Part numbers that must not be used. */
  forbidden?: ReadonlySet<string> | undefined;
  /** How many copies of a part are tied up elsewhere. */
  tied?: ReadonlyMap<string, number> | undefined;
  /** What gaps have to measure together. */
  spans?: readonly SpanLimit[] | undefined;
  /** Share of the light that the corners are to get: 0 asks for nothing, undefined for what the train says. */
  cornerLight?: number | undefined;
  /** Unit that what is said is in; mm where left out. */
  unit: LengthUnit;
}

/** Whether a part only takes up length: no glass, no prism, no bend, not set aside. */
export function isFilling({ element, state }: Part): boolean {
  if (!KINDS[element.kind].fills || state === 'set-aside' || bends(element)) return false;
  return (
    isShim(element) || (isBody(element) && !element.corrector && !element.pickoff && (element.glass ?? []).length === 0)
  );
}

/** Parts do not change, and a drawer is searched again and again. */
const kinds = new WeakMap<Part, string>();

/** Parts of one kind are alike in everything that decides where they go and what they cost. */
export function kindOf(part: Part): string {
  const known = kinds.get(part);
  if (known !== undefined) return known;
  const kind = kindInWords(part);
  kinds.set(part, kind);
  return kind;
}

function kindInWords(part: Part): string {
  const { element, owned, price = 0 } = part;
  const body = isBody(element) ? element : undefined;
  return JSON.stringify([
    isShim(element) ? 'shim' : 'ring',
    toUnits(partLength(part)),
    body?.sky,
    body?.camera,
    body?.reversible ?? false,
    body?.adjust,
    body?.seat,
    body?.outerMm,
    isShim(element) ? element.clearMm : undefined,
    owned,
    price
  ]);
}

/** More copies of one part than any stack has pieces. */
const MOST_COPIES = 64;

/** Groups alike parts. */
function groupsOf({ parts, forbidden, tied }: Supply, train: Train, beam: BeamLimit | undefined): Group[] {
  const standing = standingIn(train);
  const byKey = new Map<string, Group>();
  for (const part of parts) {
    if (!isFilling(part) || forbidden?.has(part.partId)) continue;
    const free = part.quantity - (standing.get(part.partId) ?? 0) - (tied?.get(part.partId) ?? 0);
    if (free <= 0) continue;
    const { owned, price = 0 } = part;
    const key = beam?.refuses(clearOf(part)) ? `${kindOf(part)} ${clearOf(part)}` : kindOf(part);
    let group = byKey.get(key);
    if (!group) {
      group = { parts: [], buy: owned ? 0 : 1, price: owned ? 0 : price };
      byKey.set(key, group);
    }
    for (let copy = 0; copy < Math.min(free, MOST_COPIES); copy++) group.parts.push(part);
  }
  const doubt = (part: Part): number => doubtOf(placedPart(part, { id: part.partId })).standardMm;
  /** Clear aperture, as far as it is of use to the light, mm. */
  const useful = (part: Part): number => Math.min(clearOf(part), beam?.neededMm ?? 0);
  for (const { parts: alike } of byKey.values()) {
    if (alike.some((part) => part !== alike[0])) alike.sort((a, b) => useful(b) - useful(a) || doubt(a) - doubt(b));
  }
  return [...byKey.values()];
}

/** Lengths that some gaps keep together; undefined where that is no limit. */
function limitOf(gaps: readonly number[], minMm: number, maxMm: number): Limit | undefined {
  // A ring that sinks into a bore may take more away than it adds: no limit is none.
  const min = minMm > 0 ? toUnits(minMm) : -Infinity;
  const max = maxMm === Infinity ? Infinity : toUnits(maxMm);
  return min > -Infinity || max < Infinity ? { gaps, min, max } : undefined;
}

/** A task that also keeps lengths over several of its gaps. */
export function withSpans<T extends Pick<StackTask, 'gaps' | 'limits'>>(task: T, spans: readonly SpanLimit[]): T {
  const indexOf = (id: string): number => task.gaps.findIndex((gap) => gap.id === id || gap.others.includes(id));
  const over = spans.flatMap(({ from, to, minMm = 0, maxMm = Infinity }) => {
    const [first, last] = [indexOf(from), indexOf(to)];
    if (first < 0 || last < first) return [];
    const gaps = Array.from({ length: last - first + 1 }, (_, at) => first + at);
    return limitOf(gaps, minMm, maxMm) ?? [];
  });
  return { ...task, limits: [...task.limits, ...over] };
}

/** Clear aperture of a part that is not a shim, mm; Infinity where it is not stated. */
const clearOf = ({ element }: Part): number => (isShim(element) ? Infinity : (element.clearMm ?? Infinity));

/** Numbers equal faces alike. */
class Faces<F> {
  readonly all: F[] = [];
  readonly #index = new Map<string, number>();

  add(face: F, key = JSON.stringify(face)): number {
    let index = this.#index.get(key);
    if (index === undefined) {
      index = this.all.push(face) - 1;
      this.#index.set(key, index);
    }
    return index;
  }
}

const outFace = (element: Element | undefined, port: OutFace['port'], looseMm: number): OutFace => ({
  port,
  looseMm,
  glassMm: finite(glassBehindFace(element, 'camera'))
});

/** JSON knows no infinity: a kilometre is as far. */
const finite = (mm: number): number => Math.min(mm, 1e6);

/** A face that nothing can be matched to: not given, or a thread that does not parse. */
export const isUnknownFace = (port: Port | undefined): boolean =>
  !port || ('thread' in port && parseThread(port.thread) === undefined);

const inFace = (element: SolidElement, looseMm: number): InFace => ({
  port: skyPort(element),
  looseMm: looseMm + (seatOf(element)?.shimsMm ?? []).reduce((sum, shim) => sum + shim, 0),
  statedMm: seatOf(element)?.gapMm,
  recessTyped: seatOf(element)?.recessMm !== undefined,
  glassMm: finite(glassBehindFace(element, 'sky'))
});

/** One way a part can stand, with its faces as they are told apart. */
interface Way {
  reversed: boolean;
  in: InFace;
  inKey: string;
  out: OutFace;
  outKey: string;
  unknown: 0 | 1;
}

const standings = new WeakMap<Part, { element: SolidElement; ways: Way[] }>();

/** The ways a part can stand: as it is, and turned round where that is different. */
function standingsOf(part: Part): { element: SolidElement; ways: Way[] } {
  const known = standings.get(part);
  if (known) return known;
  const element = placedPart(part, { id: part.partId });
  const body = isBody(element) ? element : undefined;
  const standing = body ? (body.reversible ? [body, turnedRound(body)] : [body]) : [];
  const ways = standing.map((way, turn): Way => {
    const into = inFace(way, 0);
    const out = outFace(undefined, cameraPort(way), 0);
    const unknown = isUnknownFace(skyPort(way)) || isUnknownFace(cameraPort(way)) ? 1 : 0;
    return { reversed: turn === 1, in: into, inKey: JSON.stringify(into), out, outKey: JSON.stringify(out), unknown };
  });
  const [straight, round] = ways;
  const same = straight && round && straight.inKey === round.inKey && straight.outKey === round.outKey;
  const made = { element, ways: same ? [straight] : ways };
  standings.set(part, made);
  return made;
}

/** Whether anything here may sink into a bore: a train or a drawer without rings that do is looked at no further. */
function sinksAnywhere({ elements }: Train, groups: readonly Group[]): boolean {
  return [...elements, ...groups.map(({ parts }) => parts[0]!.element as Element)].some(
    (element) => isShoulderless(skyPort(element)) || isShoulderless(cameraPort(element))
  );
}

const keyed = (way: Omit<Way, 'inKey' | 'outKey'>): Way => ({
  ...way,
  inKey: JSON.stringify(way.in),
  outKey: JSON.stringify(way.out)
});

/** A way with how wide and long the part is: what decides where it stands in a bore. */
function withBody(way: Way, element: BodyElement): Way {
  const bodyMm = bodyWidth(element);
  const into = { ...way.in, bodyMm, lengthMm: lengthOf(element) - (element.seat?.recessMm ?? 0) };
  return keyed({ ...way, in: into, out: { ...way.out, bodyMm } });
}

/** More ways to stand in what rings leave of bores are not looked at; the check has the last word then. */
const MOST_BORE_WAYS = 400;

/**
 * Adds the ways parts can stand in a bore that they leave some of: behind each of them what comes next finds the rest of
 * the bore round it.
 */
function addBoreWays(waysOf: readonly { ways: Way[] }[], open: readonly OpenGap[]): void {
  const made = new Set<string>();
  let outs: OutFace[] = [
    ...open.map(({ above }) => above),
    ...waysOf.flatMap(({ ways }) => ways.map(({ out }) => out))
  ];
  const plain = waysOf.map(({ ways }) => [...ways]);
  while (outs.length > 0) {
    const next: OutFace[] = [];
    plain.forEach((ways, group) => {
      for (const way of ways) {
        for (const out of outs) {
          const bore = boreLeftBy(out, way.in);
          if (!bore || made.size >= MOST_BORE_WAYS) continue;
          const leaves = boreKey(bore);
          const known = `${group} ${way.reversed} ${leaves}`;
          if (made.has(known)) continue;
          made.add(known);
          const standing = keyed({ ...way, in: { ...way.in, leaves }, out: { ...way.out, bore } });
          waysOf[group]!.ways.push(standing);
          next.push(standing.out);
        }
      }
    });
    outs = next;
  }
}

const sumOf = (shims: readonly SolidElement[]): number => shims.reduce((sum, shim) => sum + lengthOf(shim), 0);

interface OpenGap {
  ids: string[];
  followerId: string;
  above: OutFace;
  below: InFace;
  minMm: number;
  maxMm: number;
  counts: 0 | 1;
}

/** What the ring ahead of a gap has left of the bore it sank into. */
function boreAround(joints: readonly Joint[], { skyIndex }: Joint): Pick<OutFace, 'bore'> {
  const before = joints.find(({ cameraIndex }) => cameraIndex === skyIndex);
  return before?.leaves ? { bore: before.leaves } : {};
}

/** The gaps of a train with the faces on either side; gaps that stand together are one. */
function openGaps(train: Train, { joints, datum }: Ledger): OpenGap[] {
  const found: OpenGap[] = [];
  let run: OpenGap | undefined;
  for (const joint of joints) {
    const element = train.elements[joint.cameraIndex]!;
    if (element.kind === 'gap') {
      const { minMm = 0, maxMm = Infinity } = element;
      if (run) {
        run.ids.push(element.id);
        run.minMm += minMm;
        run.maxMm += maxMm;
        run.above.looseMm += sumOf(joint.shimElements);
      } else {
        run = {
          ids: [element.id],
          followerId: '',
          above: {
            ...outFace(findElement(train, joint.skyId), joint.sky, sumOf(joint.shimElements)),
            ...boreAround(joints, joint)
          },
          below: { port: undefined, looseMm: 0, statedMm: undefined, recessTyped: false, glassMm: 0 },
          minMm,
          maxMm,
          counts: joint.cameraIndex > datum.index ? 1 : 0
        };
        found.push(run);
      }
    } else if (run && element.kind !== 'shim') {
      run.followerId = element.id;
      run.below = { ...inFace(element, sumOf(joint.shimElements)), bodyMm: bodyWidth(element) };
      run = undefined;
    }
  }
  return found;
}

/**
 * Sets the search up.
 *
 * @param train a valid document; its gaps are what is to be filled
 */
export function taskOf(train: Train, supply: Supply): StackTask {
  const facts = new Facts(train);
  const { ledger } = facts;
  const open = openGaps(train, ledger);
  const beam = beamLimitOf(facts, supply.cornerLight);
  const groups = groupsOf(supply, train, beam);
  const outs = new Faces<OutFace>();
  const ins = new Faces<InFace>();
  const dials: Dial[] = [];
  const dialIndex = new Map<string, number>();
  const shims: ShimKind[] = [];
  const edges: Edge[] = [];

  const gaps = open.map(({ ids, followerId, above, below, counts }): Gap => ({
    id: ids[0]!,
    others: ids.slice(1),
    followerId,
    above: outs.add(above),
    below: ins.add(below),
    counts,
    narrowestMm: beam?.narrowestIn(ids[0]!) ?? 0
  }));

  const hasBores = sinksAnywhere(train, groups);
  const waysOf = groups.map(({ parts }) => {
    const { element, ways } = standingsOf(parts[0]!);
    return { element, ways: hasBores && isBody(element) ? ways.map((way) => withBody(way, element)) : ways };
  });
  if (hasBores) addBoreWays(waysOf, open);
  groups.forEach(({ parts }, group) => {
    const { element, ways } = waysOf[group]!;
    if (isShim(element)) {
      shims.push({ group, length: toUnits(lengthOf(element)), clearMm: element.clearMm ?? Infinity });
      return;
    }
    if (!isBody(element)) return;
    const adjust = adjustOf(element);
    let dial = -1;
    if (adjust) {
      const key = JSON.stringify(adjust);
      dial = dialIndex.get(key) ?? dials.push(dialOf(adjust)) - 1;
      dialIndex.set(key, dial);
    }
    const length = toUnits(lengthOf(element) - (element.seat?.recessMm ?? 0));
    const clearMm = clearOf(parts[0]!);
    for (const way of ways) {
      const into = ins.add(way.in, way.inKey);
      const out = outs.add(way.out, way.outKey);
      const { reversed, unknown } = way;
      edges.push({ index: edges.length, group, reversed, in: into, out, length, dial, unknown, clearMm });
    }
  });

  const connectors = outs.all.map((above) => ins.all.map((below) => connect(above, below)));
  const jointDials = new Map<Connector, number>();
  for (const connector of connectors.flat()) {
    if (!connector?.dial) continue;
    const key = `joint ${connector.dial.max}`;
    const index = dialIndex.get(key) ?? dials.push(connector.dial) - 1;
    dialIndex.set(key, index);
    jointDials.set(connector, index);
  }
  // A focuser stands where focus is: it is not free to take up length.
  const trainDials = lengthDials(train, ledger)
    .filter(({ kind }) => kind !== 'focuser')
    .map((of) => ({
      of,
      dial: dialOf(of.stepMm === undefined ? { minMm: of.minMm, maxMm: of.maxMm } : { ...of, stepMm: of.stepMm })
    }));
  const dialledMm = trainDials.reduce((sum, { of }) => sum + of.setMm, 0);
  const openMm = ledger.joints
    .filter(({ open: isOpen, cameraIndex }) => isOpen && cameraIndex > ledger.datum.index)
    .reduce((sum, { openingMm }) => sum + openingMm, 0);
  const { totalMm, toleranceMm } = ledger.required;
  const fixedMm = ledger.actualMm - dialledMm - openMm;
  const task: StackTask = {
    train,
    ledger,
    gaps,
    groups,
    edges: usable(edges, gaps, connectors),
    beam,
    refuses: beam !== undefined && edges.some(({ clearMm }) => beam.refuses(clearMm)),
    facts,
    shims,
    connectors,
    dials,
    jointDials,
    trainDials,
    limits: open.flatMap(({ minMm, maxMm }, gap) => limitOf([gap], minMm, maxMm) ?? []),
    need: totalMm === null ? null : (totalMm - fixedMm) * 10_000,
    tolerance: toleranceMm === null ? Infinity : Math.round(toleranceMm * 1000) * 10
  };
  return withSpans(task, supply.spans ?? []);
}

/** The same without parts of which a face is not known. */
export function withoutUnknown(task: StackTask): StackTask {
  const edges = task.edges.filter(({ unknown }) => unknown === 0).map((edge, index) => ({ ...edge, index }));
  return edges.length === task.edges.length ? task : { ...task, edges };
}

/** Edges that lie on some way from the sky side of a gap to its camera side. */
function usable(edges: readonly Edge[], gaps: readonly Gap[], connectors: StackTask['connectors']): Edge[] {
  const closes = (out: number, into: number): boolean => connectors[out]![into] !== undefined;
  const kept = new Set<Edge>();
  for (const { above, below, narrowestMm } of gaps) {
    const wide = edges.filter(({ clearMm }) => clearMm >= narrowestMm);
    const grow = (start: (edge: Edge) => boolean, follows: (from: Edge, to: Edge) => boolean): Set<Edge> => {
      const reached = new Set(wide.filter(start));
      for (let added = true; added;) {
        added = false;
        const ends = [...new Map([...reached].map((edge) => [`${edge.in} ${edge.out}`, edge])).values()];
        for (const edge of wide) {
          if (reached.has(edge) || !ends.some((end) => follows(end, edge))) continue;
          reached.add(edge);
          added = true;
        }
      }
      return reached;
    };
    const fromSky = grow(
      (edge) => closes(above, edge.in),
      (from, to) => closes(from.out, to.in)
    );
    const fromCamera = grow(
      (edge) => closes(edge.out, below),
      (from, to) => closes(to.out, from.in)
    );
    for (const edge of fromSky) if (fromCamera.has(edge)) kept.add(edge);
  }
  return edges.filter((edge) => kept.has(edge)).map((edge, index) => ({ ...edge, index }));
}
