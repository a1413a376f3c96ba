import { glassBehindFace } from '../check/glassReach.ts';
import { turnedRound } from '../joint/fit.ts';
import { doubtOf, ledgerOf, type Ledger } from '../length/ledger.ts';
import { partLength, placedPart, type Part } from '../drawer/part.ts';
import {
  adjustOf,
  cameraPort,
  findElement,
  isBody,
  isShim,
  lengthOf,
  seatOf,
  skyPort,
  type Element,
  type ElementKind,
  type SolidElement,
  type Train
} from '../train/model.ts';
import { connect, type Connector, type InFace, type OutFace } from './connect.ts';
import { dialOf, type Dial } from './dials.ts';
import { toUnits } from './units.ts';

/** Kinds a gap is filled with: what only takes up length (handbook §4). */
export const FILLING_KINDS: ReadonlySet<ElementKind> = new Set([
  'spacer',
  'adapter',
  'extension-tube',
  'variable-spacer',
  'bayonet-adapter',
  'shim'
]);

/** Parts that are alike in everything the search looks at, whatever their numbers. */
export interface Group {
  /** One entry a copy: the one whose length is known best first, then the first in the drawer. */
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
  /** Which of the problem's part dials it has; −1: none. */
  dial: number;
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
  above: number;
  below: number;
  min: number;
  max: number;
  /** 1 on the camera side of the datum; 0 where length does not matter. */
  counts: 0 | 1;
}

/** A train's gaps and a drawer, ready to be searched. */
export interface Problem {
  train: Train;
  ledger: Ledger;
  gaps: Gap[];
  groups: Group[];
  edges: Edge[];
  shims: ShimKind[];
  /** connectors[out][in]; undefined where they do not close. */
  connectors: (Connector | undefined)[][];
  /** Dials of parts of the drawer, by `Edge.dial`. */
  partDials: Dial[];
  /** Dials that stand in the train and count. */
  trainDials: { id: string; dial: Dial }[];
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
}

const bends = (element: SolidElement): boolean =>
  isBody(element) && ((element.bendsDeg ?? 0) !== 0 || /\bdiagonal\b/i.test(element.name));

/** Whether a part only takes up length: no glass, no prism, no bend, not set aside. */
export function isFilling({ element, state }: Part): boolean {
  if (!FILLING_KINDS.has(element.kind) || state === 'set-aside' || bends(element)) return false;
  return (
    isShim(element) || (isBody(element) && !element.corrector && !element.pickoff && (element.glass ?? []).length === 0)
  );
}

/** Parts of one kind are alike in everything that decides where they go and what they cost. */
export function kindOf(part: Part): string {
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
    isShim(element) ? element.clearMm : undefined,
    owned,
    price
  ]);
}

/** Copies of each part that stand in a train already. */
export function standingIn(train: Train): Map<string, number> {
  const standing = new Map<string, number>();
  for (const element of train.elements) {
    if ('partId' in element && element.partId !== undefined) {
      standing.set(element.partId, (standing.get(element.partId) ?? 0) + 1);
    }
  }
  return standing;
}

/** More copies of one part than any stack has pieces. */
const MOST_COPIES = 64;

/** Groups alike parts. */
function groupsOf({ parts, forbidden, tied }: Supply, train: Train): Group[] {
  const standing = standingIn(train);
  const byKey = new Map<string, Group>();
  for (const part of parts) {
    if (!isFilling(part) || forbidden?.has(part.partId)) continue;
    const free = part.quantity - (standing.get(part.partId) ?? 0) - (tied?.get(part.partId) ?? 0);
    if (free <= 0) continue;
    const { owned, price = 0 } = part;
    const key = kindOf(part);
    let group = byKey.get(key);
    if (!group) {
      group = { parts: [], buy: owned ? 0 : 1, price: owned ? 0 : price };
      byKey.set(key, group);
    }
    for (let copy = 0; copy < Math.min(free, MOST_COPIES); copy++) group.parts.push(part);
  }
  const doubt = (part: Part): number => doubtOf(placedPart(part, { id: part.partId })).standardMm;
  for (const { parts: alike } of byKey.values()) {
    if (alike.some((part) => part !== alike[0])) alike.sort((a, b) => doubt(a) - doubt(b));
  }
  return [...byKey.values()];
}

/** Numbers equal faces alike. */
class Faces<F> {
  readonly all: F[] = [];
  readonly #index = new Map<string, number>();

  add(face: F): number {
    const key = JSON.stringify(face);
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

const inFace = (element: SolidElement, looseMm: number): InFace => ({
  port: skyPort(element),
  looseMm: looseMm + (seatOf(element)?.shimsMm ?? []).reduce((sum, shim) => sum + shim, 0),
  statedMm: seatOf(element)?.gapMm,
  glassMm: finite(glassBehindFace(element, 'sky'))
});

const sumOf = (shims: readonly SolidElement[]): number => shims.reduce((sum, shim) => sum + lengthOf(shim), 0);

interface OpenGap {
  ids: string[];
  above: OutFace;
  below: InFace;
  minMm: number;
  maxMm: number;
  counts: 0 | 1;
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
          above: outFace(findElement(train, joint.skyId), joint.sky, sumOf(joint.shimElements)),
          below: { port: undefined, looseMm: 0, statedMm: undefined, glassMm: 0 },
          minMm,
          maxMm,
          counts: joint.cameraIndex > datum.index ? 1 : 0
        };
        found.push(run);
      }
    } else if (run && element.kind !== 'shim') {
      run.below = inFace(element, sumOf(joint.shimElements));
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
export function problemOf(train: Train, supply: Supply): Problem {
  const ledger = ledgerOf(train);
  const open = openGaps(train, ledger);
  const groups = groupsOf(supply, train);
  const outs = new Faces<OutFace>();
  const ins = new Faces<InFace>();
  const partDials: Dial[] = [];
  const dialIndex = new Map<string, number>();
  const shims: ShimKind[] = [];
  const edges: Edge[] = [];

  const gaps = open.map(({ ids, above, below, minMm, maxMm, counts }): Gap => ({
    id: ids[0]!,
    others: ids.slice(1),
    above: outs.add(above),
    below: ins.add(below),
    min: toUnits(minMm),
    max: maxMm === Infinity ? Infinity : toUnits(maxMm),
    counts
  }));

  groups.forEach(({ parts }, group) => {
    const part = parts[0]!;
    const element = placedPart(part, { id: part.partId });
    if (isShim(element)) {
      shims.push({ group, length: toUnits(lengthOf(element)), clearMm: element.clearMm ?? Infinity });
      return;
    }
    if (!isBody(element)) return;
    const adjust = adjustOf(element);
    let dial = -1;
    if (adjust) {
      const key = JSON.stringify(adjust);
      dial = dialIndex.get(key) ?? partDials.push(dialOf(adjust)) - 1;
      dialIndex.set(key, dial);
    }
    const length = toUnits(lengthOf(element) - (element.seat?.recessMm ?? 0));
    const standing = element.reversible ? [element, turnedRound(element)] : [element];
    const seen = new Set<string>();
    standing.forEach((way, turn) => {
      const into = ins.add(inFace(way, 0));
      const out = outs.add(outFace(undefined, cameraPort(way), 0));
      if (seen.has(`${into} ${out}`)) return;
      seen.add(`${into} ${out}`);
      edges.push({ index: edges.length, group, reversed: turn === 1, in: into, out, length, dial });
    });
  });

  const connectors = outs.all.map((above) => ins.all.map((below) => connect(above, below)));
  const counted = train.elements.slice(Math.max(ledger.datum.index, 0));
  const trainDials = counted.flatMap((element) => {
    const adjust = adjustOf(element);
    return adjust ? [{ id: element.id, dial: dialOf(adjust), setMm: adjust.setMm }] : [];
  });
  const dialledMm = trainDials.reduce((sum, { setMm }) => sum + setMm, 0);
  const openMm = ledger.joints
    .filter(({ open: isOpen, cameraIndex }) => isOpen && cameraIndex > ledger.datum.index)
    .reduce((sum, { openingMm }) => sum + openingMm, 0);
  const { totalMm, toleranceMm } = ledger.required;
  const fixedMm = ledger.actualMm - dialledMm - openMm;
  return {
    train,
    ledger,
    gaps,
    groups,
    edges: usable(edges, gaps, connectors),
    shims,
    connectors,
    partDials,
    trainDials: trainDials.map(({ id, dial }) => ({ id, dial })),
    need: totalMm === null ? null : (totalMm - fixedMm) * 10_000,
    tolerance: toleranceMm === null ? Infinity : Math.round(toleranceMm * 1000) * 10
  };
}

/** Edges that lie on some way from the sky side of a gap to its camera side. */
function usable(edges: readonly Edge[], gaps: readonly Gap[], connectors: Problem['connectors']): Edge[] {
  const closes = (out: number, into: number): boolean => connectors[out]![into] !== undefined;
  const kept = new Set<Edge>();
  for (const { above, below } of gaps) {
    const grow = (start: (edge: Edge) => boolean, follows: (from: Edge, to: Edge) => boolean): Set<Edge> => {
      const reached = new Set(edges.filter(start));
      for (let added = true; added;) {
        added = false;
        const ends = [...new Map([...reached].map((edge) => [`${edge.in} ${edge.out}`, edge])).values()];
        for (const edge of edges) {
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
