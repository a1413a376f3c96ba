import { facesJoin } from '../joint/mate.ts';
import { parseThread } from '../joint/thread.ts';
import { KINDS, cameraPort, isBody, skyPort } from '../train/model.ts';
import { partLength, type Part } from './part.ts';

/** Lengths are added in hundredths of a millimetre. */
const PER_MM = 100;
/** Longest stack that is looked at, mm. */
export const MOST_REACH_MM = 200;
/** Rings and copies of them that are looked at. */
export const MOST_RINGS = 400;
/** Purchases that are weighed against each other. */
const MOST_CANDIDATES = 12;
const MOST_BOUGHT = 3;

/** No rings make it. */
const NONE = 255;

const units = (mm: number): number => Math.round(mm * PER_MM);

/** A ring of one length that is there so many times. */
export interface RingStock {
  lengthMm: number;
  count: number;
  partId?: string;
  /** Of one to be bought. */
  price?: number;
}

/** Threads whose rings go onto each other, the one with most rings first. */
export function ringThreads(parts: readonly Part[]): { thread: string; rings: number }[] {
  const counts = new Map<string, number>();
  for (const part of parts) {
    const thread = threadOfRing(part);
    if (thread !== undefined && part.owned) counts.set(thread, (counts.get(thread) ?? 0) + part.quantity);
  }
  return [...counts].map(([thread, rings]) => ({ thread, rings })).sort((a, b) => b.rings - a.rings);
}

/** The thread a ring has on both faces, so that any number of them screw together; undefined of what is no such ring. */
function threadOfRing({ element, state }: Part): string | undefined {
  if (!isBody(element) || !KINDS[element.kind].fills || element.adjust || state === 'set-aside') return undefined;
  const [sky, camera] = [skyPort(element), cameraPort(element)];
  if (!sky || !camera || !('thread' in sky) || !('thread' in camera)) return undefined;
  // It screws onto one of its own kind.
  return facesJoin(camera, sky) ? parseThread(sky.thread)?.designation : undefined;
}

/**
 * Rings of a thread in the drawer, those that are owned and those that could be bought.
 *
 * @param uses places in trains that hold a copy, each by the part's number
 */
export function ringsOf(
  parts: readonly Part[],
  thread: string,
  uses: readonly { partId: string }[] = []
): { owned: RingStock[]; toBuy: RingStock[] } {
  const owned: RingStock[] = [];
  const toBuy: RingStock[] = [];
  for (const part of parts) {
    if (threadOfRing(part) !== thread) continue;
    const lengthMm = partLength(part);
    const { partId, price } = part;
    const count = part.quantity - uses.filter((use) => use.partId === partId).length;
    if (part.owned && count > 0) owned.push({ lengthMm, count, partId });
    if (!part.owned) toBuy.push({ lengthMm, count: 1, partId, ...(price === undefined ? {} : { price }) });
  }
  return { owned, toBuy };
}

/** One ring more, used or not. @param step its length in hundredths of a millimetre */
function addRing(fewest: Uint8Array, step: number): void {
  for (let at = fewest.length - 1; at >= step; at--) {
    const rings = fewest[at - step]! + 1;
    if (rings < fewest[at]! && rings < NONE) fewest[at] = rings;
  }
}

/**
 * Fewest rings for each length up to the longest, by hundredths of a millimetre; 255 where none makes it.
 *
 * Each ring is used as often as it is there: the bounded sum of subsets, copy by copy.
 */
export function fewestRings(rings: readonly RingStock[], toMm: number): Uint8Array {
  const most = units(Math.min(toMm, MOST_REACH_MM));
  const fewest = new Uint8Array(most + 1).fill(NONE);
  fewest[0] = 0;
  let left = MOST_RINGS;
  for (const { lengthMm, count } of rings) {
    const step = units(lengthMm);
    if (step <= 0 || step > most) continue;
    const copies = Math.min(count, Math.floor(most / step), left);
    left -= copies;
    for (let copy = 0; copy < copies; copy++) addRing(fewest, step);
  }
  return fewest;
}

/** A length that is asked after, and how many rings make it; undefined where none do. */
export interface Reached {
  mm: number;
  rings: number | undefined;
}

/** What is asked of a drawer: every length from one to another, step by step, each within ± a tolerance. */
export interface ReachAsked {
  fromMm: number;
  toMm: number;
  stepMm: number;
  toleranceMm: number;
}

/** Which lengths rings make. @throws RangeError where that is asked of no lengths, or of too many */
export const reachOf = (rings: readonly RingStock[], asked: ReachAsked): Reached[] =>
  readOff(fewestRings(rings, longest(asked)), asked);

/** Longest stack that counts, mm. @throws RangeError */
function longest({ fromMm, toMm, stepMm, toleranceMm }: ReachAsked): number {
  const isSound = fromMm >= 0 && toMm >= fromMm && toMm <= MOST_REACH_MM && stepMm >= 0.05 && toleranceMm >= 0;
  if (!isSound) {
    throw new RangeError(`Lengths from 0 to ${MOST_REACH_MM} mm in steps of at least 0.05 mm can be looked at.`);
  }
  return toMm + toleranceMm;
}

/** Lengths that are asked after, and from where to where each may be, in hundredths of a millimetre. */
function windowsOf({ fromMm, toMm, stepMm, toleranceMm }: ReachAsked): { mm: number; from: number; to: number }[] {
  const slack = units(toleranceMm);
  const count = Math.floor((toMm - fromMm) / stepMm + 1e-9) + 1;
  return Array.from({ length: count }, (_, index) => {
    const mm = Number((fromMm + index * stepMm).toFixed(4));
    const middle = units(mm);
    return { mm, from: Math.max(0, middle - slack), to: middle + slack };
  });
}

function readOff(fewest: Uint8Array, asked: ReachAsked): Reached[] {
  return windowsOf(asked).map(({ mm, from, to }) => {
    let best = NONE;
    for (let at = from; at <= Math.min(fewest.length - 1, to); at++) best = Math.min(best, fewest[at]!);
    return { mm, rings: best === NONE ? undefined : best };
  });
}

/** Rings to buy, and what they bring. */
export interface Purchase {
  rings: RingStock[];
  /** Lengths that were not made before. */
  fills: number;
  /** Of all of them together; undefined where one has no price. */
  price: number | undefined;
}

/** Lengths that are sold (common practice, no source), mm: weighed where the drawer names nothing to be bought. */
const USUAL_RINGS_MM = [1, 2, 3, 4, 5, 7.5, 10, 15, 16.5, 20, 30] as const;

/**
 * The one, two and three rings that fill most of the lengths that are not made; of those that fill as many, the cheaper
 * where prices are known, then the shorter. Every choice of so many is tried.
 */
export function purchasesFor(owned: readonly RingStock[], toBuy: readonly RingStock[], asked: ReachAsked): Purchase[] {
  const base = fewestRings(owned, longest(asked));
  const isMade = (fewest: Uint8Array, { from, to }: { from: number; to: number }): boolean => {
    for (let at = from; at <= Math.min(fewest.length - 1, to); at++) if (fewest[at]! < NONE) return true;
    return false;
  };
  // Another ring fills lengths and opens none: only what is open now is looked at again.
  const open = windowsOf(asked).filter((window) => !isMade(base, window));
  const candidates = toBuy.length > 0 ? toBuy : USUAL_RINGS_MM.map((lengthMm): RingStock => ({ lengthMm, count: 1 }));
  /** What there is with some rings more, by their places among the candidates: those of three are those of two and one. */
  const known = new Map<string, Uint8Array>([['', base]]);
  const fewestWith = (rings: readonly RingStock[]): Uint8Array => {
    const key = rings.map((ring) => candidates.indexOf(ring)).join(' ');
    const found = known.get(key);
    if (found) return found;
    const fewest = Uint8Array.from(fewestWith(rings.slice(0, -1)));
    const { lengthMm } = rings.at(-1)!;
    if (lengthMm > 0) addRing(fewest, units(lengthMm));
    if (rings.length < MOST_BOUGHT) known.set(key, fewest);
    return fewest;
  };
  /** Lengths that are not made with some rings more. */
  const holes = (rings: readonly RingStock[]): number => {
    const fewest = fewestWith(rings);
    return open.reduce((count, window) => count + (isMade(fewest, window) ? 0 : 1), 0);
  };
  const before = holes([]);
  if (before === 0) return [];
  // Those that fill most by themselves, so that no more are weighed than there is time for.
  const alone = candidates
    .filter(({ lengthMm }) => lengthMm <= asked.toMm)
    .map((ring) => ({ ring, fills: before - holes([ring]) }))
    .sort((a, b) => b.fills - a.fills || a.ring.lengthMm - b.ring.lengthMm)
    .slice(0, MOST_CANDIDATES)
    .map(({ ring }) => ring);
  const found: Purchase[] = [];
  for (let many = 1; many <= MOST_BOUGHT; many++) {
    let best: Purchase | undefined;
    for (const rings of choices(alone, many)) {
      const fills = before - holes(rings);
      const prices = rings.map(({ price }) => price);
      const price = prices.some((each) => each === undefined)
        ? undefined
        : prices.reduce<number>((sum, each) => sum + (each ?? 0), 0);
      const isBetter =
        !best ||
        fills > best.fills ||
        (fills === best.fills && price !== undefined && (best.price === undefined || price < best.price));
      if (isBetter) best = { rings: [...rings], fills, price };
    }
    // Another ring that fills nothing more is not bought.
    if (best && best.fills > (found.at(-1)?.fills ?? 0)) found.push(best);
    if (best?.fills === before) break;
  }
  return found;
}

/** Every choice of so many of some rings. */
function* choices(rings: readonly RingStock[], many: number, from = 0): Generator<RingStock[]> {
  if (many === 0) return yield [];
  for (let at = from; at <= rings.length - many; at++) {
    for (const rest of choices(rings, many - 1, at + 1)) yield [rings[at]!, ...rest];
  }
}
