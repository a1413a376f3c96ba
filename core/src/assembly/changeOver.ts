import { closesOver, jointsOf, nestedIn, type Joint } from '../joint/joints.ts';
import { detachablesOf, piecesAt } from '../train/detachable.ts';
import {
  HOST,
  adjustOf,
  isBody,
  isShim,
  nameOf,
  partIdOf,
  seatOf,
  type Detachable,
  type Element,
  type Train
} from '../train/model.ts';
import { sameJson } from '../train/sameJson.ts';
import { formatLength, type LengthUnit } from '../why/wording.ts';

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
  /** The least possible number of joints opened, where it is {@link exhausted}. */
  joints: number;
  /** No way to say which of several alike parts is which opens fewer. */
  exhausted: boolean;
  /** Dials and rotators of parts that both trains have, and that the second has set otherwise. */
  set: Setting[];
  /** How many parts both trains have; the host is none. */
  shared: number;
  /** Those parts, by their element in each train, in the first one’s order. */
  taken: { from: string; to: string }[];
}

/** A part that is only set otherwise: by its element in the second train. */
export interface Setting {
  id: string;
  /** What its dial is set to, mm. */
  setMm?: number;
  rotatorDeg?: number;
  /** What is taken off it, or put on. */
  pieces?: { name: string; on: boolean }[];
}

/** The host, or a part between joints. */
interface Node {
  id: string;
  /** Undefined for the host. */
  element: Element | undefined;
  /** The joint on its sky side; undefined for the host. */
  joint: Joint | undefined;
  /** Filters in the inner threads of the two faces that meet in that joint: to change them it has to be opened. */
  inside: readonly Element[];
  /** What lies in that joint and how it is set; empty for the host. */
  key: string;
}

function nodesOf(train: Train): Node[] {
  const joints = new Map(jointsOf(train).map((joint) => [joint.cameraId, joint]));
  const nested = nestedIn(train);
  const indices = new Set(nested.map(({ index }) => index));
  const insideOf = (joint: Joint): Element[] =>
    nested.filter((each) => closesOver(joint, each)).map(({ index }) => train.elements[index]!);
  const parts = train.elements.flatMap((element, index): Node[] => {
    // A filter inside another part is no link of the chain.
    if (isShim(element) || element.kind === 'gap' || indices.has(index)) return [];
    const joint = joints.get(element.id);
    const inside = joint ? insideOf(joint) : [];
    return [{ id: element.id, element, joint, inside, key: joint ? seatKey(train, joint, element, inside) : '' }];
  });
  return [{ id: HOST, element: undefined, joint: undefined, inside: [], key: '' }, ...parts];
}

/** An element without what belongs to its place, and without what is only set: what is left is the part. */
function partOf(element: Element): Record<string, unknown> {
  const { id: _id, note: _note, ...rest } = element as Element & Record<string, unknown>;
  const {
    seat: _seat,
    copy: _copy,
    partId: _partId,
    rotatorDeg: _turn,
    designSlot: _slot,
    ...part
  } = rest as Record<string, unknown>;
  const { adjust, detachable, ...own } = part as { adjust?: Record<string, unknown>; detachable?: Detachable[] };
  const { setMm: _set, ...dial } = adjust ?? {};
  return {
    ...own,
    ...(adjust ? { adjust: dial } : {}),
    // A nose that is off makes no other camera.
    ...(detachable ? { detachable: detachable.map(({ on: _on, ...piece }) => piece) } : {})
  };
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

/** Pieces that are on a face, by name. */
const onFace = (pieces: readonly Detachable[]): string[] => pieces.flatMap(({ on, name }) => (on ? [name] : []));

/** Pieces that are on in one train and off in another, as they are in the second. */
function piecesChanged(from: readonly Detachable[], to: readonly Detachable[]): { name: string; on: boolean }[] {
  const before = new Map(from.map(({ name, on }) => [name, on]));
  return to.flatMap(({ name, on }) => ((before.get(name) ?? on) === on ? [] : [{ name, on }]));
}

/** What lies in a joint and how it is set: a joint that is set otherwise has to be opened. */
function seatKey(
  { elements, host }: Train,
  { shimElements, skyIndex }: Joint,
  element: Element,
  inside: readonly Element[]
): string {
  const { shimsMm, gapMm, rotationDeg } = seatOf(element) ?? {};
  return JSON.stringify([
    shimElements.map(shimKey).sort(),
    [...(shimsMm ?? [])].sort(),
    gapMm,
    rotationDeg,
    inside.map(shimKey).sort(),
    // What is on a face is there before its joint is closed.
    skyIndex < 0 ? onFace(host.detachable ?? []) : onFace(piecesAt(elements[skyIndex]!, 'camera')),
    onFace(piecesAt(element, 'sky'))
  ]);
}

/** Whether the joint on the sky side of one node is the joint on the sky side of another, once their parts are the same. */
function isSameJoint(a: Node, b: Node): boolean {
  if (!a.joint || !b.joint || !a.element || !b.element) return false;
  return !a.joint.open && !b.joint.open && a.key === b.key;
}

/**
 * Whether the joint on the sky side of a node stays closed: between two parts that are put aside together, or that
 * stand side by side in both trains, set alike and each the same way round.
 *
 * @param before and here: index in `want` of the node before and of this one; −1: put aside
 * @param index of this one in `have`
 */
function staysClosed(
  have: readonly Node[],
  want: readonly Node[],
  before: number,
  here: number,
  index: number
): 'aside' | 'kept' | undefined {
  if (index === 0 || have[index]!.joint?.open) return undefined;
  if (before < 0 && here < 0) return 'aside';
  if (before < 0 || here !== before + 1 || !isSameJoint(have[index]!, want[here]!)) return undefined;
  const sameWay = isTurned(have[index]!) === isTurned(want[here]!);
  return sameWay && isTurned(have[index - 1]!) === isTurned(want[before]!) ? 'kept' : undefined;
}

/** More states than this are not looked at. */
const MOST_STATES = 200_000;

/** A run of places of the second train that no part has taken yet. */
interface Free {
  from: number;
  to: number;
}

/** What is left to be matched, and what it is told by: places that are taken alike are alike. */
interface State {
  index: number;
  /** Where the part before stands in the second train; −1: put aside; −2: there is none. */
  before: number;
  free: readonly Free[];
}

/**
 * Says of each part of one train which of another it is, so that the fewest joints are opened. Of alike parts only what
 * they stand beside matters: what is left of the second train is told by the words of its free stretches, so that ways
 * that differ in nothing are looked at once.
 */
class Matching {
  readonly #candidates: readonly (readonly number[])[];
  /** Word of each node of the second train: which parts it may be, how it stands and is joined. */
  readonly #words: readonly string[];
  /** How many parts of each group are still to be matched, from each index on. */
  readonly #coming: readonly ReadonlyMap<string, number>[];
  readonly #groups: readonly string[];
  readonly #ids = new Map<string, number>();
  readonly #stretches = new Map<number, number>();
  /** Joints from each index on that are opened whatever is matched: their parts stand nowhere so in the second train. */
  readonly #least: readonly number[];
  /** Joints opened that are too few from a state on. */
  readonly #failed = new Map<string, number>();
  exhausted = true;

  constructor(
    private readonly have: readonly Node[],
    private readonly want: readonly Node[],
    same: (a: Node, b: Node) => boolean
  ) {
    this.#candidates = have.map((a) => want.flatMap((b, at) => (same(a, b) ? [at] : [])));
    this.#groups = this.#candidates.map((list) => list.join(' '));
    const letters = new Map<string, string>();
    const letter = (word: string): string => {
      const known = letters.get(word) ?? String.fromCharCode(0x4e00 + letters.size);
      letters.set(word, known);
      return known;
    };
    this.#words = want.map((node, at) =>
      letter(
        JSON.stringify([
          have.flatMap((_node, index) => (this.#candidates[index]!.includes(at) ? [index] : [])),
          isTurned(node),
          node.joint?.open ?? null,
          node.key
        ])
      )
    );
    const mustOpen = have.map((_node, index): number => {
      if (index === 0 || have[index]!.joint?.open) return 0;
      // Two that are both put aside stay together too.
      if (this.#maySpare(index - 1) && this.#maySpare(index)) return 0;
      const kept = this.#candidates[index - 1]!.some(
        (before) =>
          this.#candidates[index]!.includes(before + 1) &&
          staysClosed(have, want, before, before + 1, index) !== undefined
      );
      return kept ? 0 : 1;
    });
    this.#least = have.map((_node, index) => mustOpen.slice(index).reduce((sum, each) => sum + each, 0));
    this.#coming = have.map((_node, index) => {
      const later = new Map<string, number>();
      for (const group of this.#groups.slice(index)) later.set(group, (later.get(group) ?? 0) + 1);
      return later;
    });
  }

  /** Index in the second train of each part of the first; −1: put aside. */
  match(): number[] {
    const match: number[] = [];
    let state: State = { index: 0, before: -2, free: [{ from: 0, to: this.want.length - 1 }] };
    // One more joint after the other, until it can be done: kept joints leave nothing to choose.
    let opened = this.#least[0]!;
    while (!this.#within(state, opened)) opened++;
    while (state.index < this.have.length) {
      const here = state;
      const at = this.#ways(here).find((way) => this.#leads(here, way, opened))!;
      opened -= Number(this.#opens(here, at));
      match.push(at);
      state = this.#after(here, at);
    }
    return match;
  }

  /** Whether a part may be put aside: the second train wants fewer like it than there are. */
  #maySpare(index: number): boolean {
    const group = this.#groups[index]!;
    return this.#groups.filter((each) => each === group).length > this.#candidates[index]!.length;
  }

  #after({ index, free }: State, at: number): State {
    const left =
      at < 0
        ? free
        : free.flatMap(({ from, to }): Free[] => {
            if (at < from || at > to) return [{ from, to }];
            return [
              { from, to: at - 1 },
              { from: at + 1, to }
            ].filter((each) => each.from <= each.to);
          });
    return { index: index + 1, before: at, free: left };
  }

  /** Number of a stretch: those that read alike have one. */
  #word({ from, to }: Free): number {
    const place = from * this.want.length + to;
    let id = this.#stretches.get(place);
    if (id === undefined) {
      const word = this.#words.slice(from, to + 1).join('');
      id = this.#ids.get(word) ?? this.#ids.size;
      this.#ids.set(word, id);
      this.#stretches.set(place, id);
    }
    return id;
  }

  #key({ index, before, free }: State): string {
    const next = free.find(({ from }) => from === before + 1);
    // The word before a stretch decides nothing any more, but for the stretch that would go on from the last part.
    const going = before < 0 ? `${before}` : `${this.#words[before]}${next ? this.#word(next) : ''}`;
    const stretches = free.map((each) => this.#word(each)).sort((x, y) => x - y);
    return `${index} ${going} ${stretches.join(' ')}`;
  }

  #isFree({ free }: State, at: number): boolean {
    return free.some(({ from, to }) => at >= from && at <= to);
  }

  /** Whether the joint before a node has to be opened; one that is open already has not. */
  #opens({ index, before }: State, at: number): boolean {
    if (index === 0 || this.have[index]!.joint?.open) return false;
    return staysClosed(this.have, this.want, before, at, index) === undefined;
  }

  /** Places the next part may take, what would stay beside its neighbour first; −1, put aside, where it may be spared. */
  #ways(state: State): number[] {
    const { index, before, free } = state;
    const all = this.#candidates[index]!.filter((at) => this.#isFree(state, at));
    // Places in stretches that read alike are alike, but for the one that goes on from the last part.
    const seen = new Set<number>();
    const long = this.want.length;
    const ways = all.filter((at) => {
      const stretch = free.find((each) => at >= each.from && at <= each.to)!;
      const place = (2 * this.#word(stretch) + Number(stretch.from === before + 1)) * long + at - stretch.from;
      return !seen.has(place) && seen.add(place);
    });
    ways.sort((a, b) => Number(b === before + 1) - Number(a === before + 1));
    // As many of alike parts as the second train wants are taken over.
    const coming = this.#coming[index]!.get(this.#groups[index]!) ?? 0;
    return ways.length === 0 || coming > all.length ? [...ways, -1] : ways;
  }

  /** Whether what is left can be matched with so many joints opened. */
  #within(state: State, opened: number): boolean {
    const { index } = state;
    if (index === this.have.length) return true;
    if (this.#least[index]! > opened) return false;
    const key = this.#key(state);
    const failed = this.#failed.get(key) ?? -1;
    if (failed >= opened) return false;
    const isFull = this.#failed.size >= MOST_STATES;
    const ways = this.#ways(state);
    if (isFull && ways.length > 1) this.exhausted = false;
    for (const at of isFull ? ways.slice(0, 1) : ways) if (this.#leads(state, at, opened)) return true;
    this.#failed.set(key, opened);
    return false;
  }

  /** Whether a way to take the next part leaves enough joints to open for the rest. */
  #leads(state: State, at: number, opened: number): boolean {
    const left = opened - Number(this.#opens(state, at));
    return left >= 0 && this.#within(this.#after(state, at), left);
  }
}

/**
 * The change from one train to another that opens the fewest joints. Parts that both have are taken over; of several
 * alike every way to say which is which is looked at. A joint stays closed between two parts that stand side by side in
 * both trains, set alike, and between two that the second train has no use for. A dial that is only turned, or another
 * slot in the beam, makes no other part.
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
  const matching = new Matching(have, want, (a, b) => isSamePart(a.element, b.element, from, to));
  const match = matching.match();
  return { ...told(have, want, match, locationOf), exhausted: matching.exhausted };
}

/** Parts that both trains have and that are only set otherwise. */
function settingsOf(have: readonly Node[], want: readonly Node[], match: readonly number[]): Setting[] {
  return match.flatMap((at, index): Setting[] => {
    const [a, b] = [have[index]!.element, want[at]?.element];
    if (!a || !b) return [];
    const setMm = adjustOf(b)?.setMm;
    const rotatorDeg = isBody(b) ? b.rotatorDeg : undefined;
    const isDialled = setMm !== undefined && setMm !== adjustOf(a)?.setMm;
    const isTurnedOtherwise = rotatorDeg !== undefined && (!isBody(a) || a.rotatorDeg !== rotatorDeg);
    const pieces = piecesChanged(detachablesOf(a), detachablesOf(b));
    if (!isDialled && !isTurnedOtherwise && pieces.length === 0) return [];
    return [
      {
        id: b.id,
        ...(isDialled ? { setMm } : {}),
        ...(isTurnedOtherwise ? { rotatorDeg } : {}),
        ...(pieces.length > 0 ? { pieces } : {})
      }
    ];
  });
}

function told(
  have: readonly Node[],
  want: readonly Node[],
  match: readonly number[],
  locationOf: (partId: string) => string | null
): Omit<ChangeOver, 'exhausted'> {
  const open: string[] = [];
  const keep: string[][] = [];
  const kept = new Set<number>();
  let run: string[] = [];
  const endRun = (): void => {
    if (run.length > 1) keep.push(run);
    run = [];
  };
  have.forEach((node, index) => {
    const stays = staysClosed(have, want, match[index - 1] ?? -1, match[index]!, index);
    if (stays === 'kept') kept.add(match[index]!);
    if (stays === undefined) {
      endRun();
      if (index > 0 && !node.joint?.open) open.push(node.id);
    }
    if (node.element) run.push(node.id);
  });
  endRun();
  const taken = new Set(match);
  const both = match.flatMap((at, index) =>
    at >= 0 && have[index]!.element ? [{ from: have[index]!.id, to: want[at]!.id }] : []
  );
  const lying = (element: Element): Lying => {
    const partId = partIdOf(element);
    return { id: element.id, location: partId === undefined ? null : locationOf(partId) };
  };
  // Shims, and filters inside, that lay in joints that are opened go into those that are closed.
  const shimsOf = (nodes: readonly Node[], isOpened: (index: number) => boolean): Element[] =>
    nodes.flatMap(({ joint, inside }, index) => (joint && isOpened(index) ? [...joint.shimElements, ...inside] : []));
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
    joints: open.length,
    set: settingsOf(have, want, match),
    shared: both.length,
    taken: both
  };
}

/** What is set on a part, or taken off it, without a full stop: `Camera: nose off`. @param to the second train */
export function settingInWords(to: Train, { id, setMm, rotatorDeg, pieces = [] }: Setting, unit: LengthUnit): string {
  const set = [
    ...(setMm === undefined ? [] : [`to ${formatLength(setMm, unit)}`]),
    ...(rotatorDeg === undefined ? [] : [`to ${rotatorDeg}°`])
  ];
  const turned = [nameOf(to, id), ...set].join(' ');
  return pieces.length === 0
    ? turned
    : `${turned}: ${pieces.map(({ name, on }) => `${name} ${on ? 'on' : 'off'}`).join(', ')}`;
}
