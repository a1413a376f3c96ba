import { placedPart, type Part } from '../src/drawer/index.ts';
import { engagement, jointsOf, parseThread, threadPair } from '../src/joint/index.ts';
import { isBody, lengthOf, type Element, type Port, type Train } from '../src/train/index.ts';
import { ledgerOf } from '../src/length/index.ts';
import { checkTrain } from '../src/check/index.ts';

/** What a stack is judged by: residual after dials in whole µm, pieces, parts to buy. */
export type Rank = [residualUm: number, pieces: number, buys: number];

interface Placed {
  part: Part;
  reversed: boolean;
}

/** What tells parts apart that are not just two of a kind: faces, length, dial, whether it turns, what it costs. */
function alike({ element, owned, price }: Part): string {
  const body = isBody(element) ? element : undefined;
  const face = (port: Port | undefined): unknown => port && Object.entries(port).sort(([a], [b]) => (a < b ? -1 : 1));
  const faces = [face(body?.sky), face(body?.camera), body?.reversible === true, body?.adjust];
  return JSON.stringify([element.kind === 'shim', lengthOf(element), ...faces, owned, price]);
}

/** Everything a gap can be filled with: ordered, turned round where that may be, shims anywhere, quantities kept. */
function* fillings(parts: readonly Part[], used: Map<string, number>, most: number): Generator<Placed[]> {
  yield [];
  if (most === 0) return;
  for (const part of parts) {
    const count = used.get(part.partId) ?? 0;
    if (count >= part.quantity || part.state === 'set-aside') continue;
    const { element } = part;
    const ways = element.kind !== 'shim' && 'reversible' in element && element.reversible ? [false, true] : [false];
    used.set(part.partId, count + 1);
    for (const rest of fillings(parts, used, most - 1)) {
      for (const reversed of ways) yield [{ part, reversed }, ...rest];
    }
    used.set(part.partId, count);
  }
}

function fill(train: Train, gaps: readonly string[], filled: readonly Placed[][]): Train {
  let number = 0;
  const elements = train.elements.flatMap((element): Element[] => {
    const gap = gaps.indexOf(element.id);
    if (gap < 0) return [element];
    return filled[gap]!.map(({ part, reversed }) => placedPart(part, { id: `placed-${number++}`, reversed }));
  });
  return { ...train, elements };
}

/** Whether every joint closes by the check, and every joint with shims keeps three turns of a thread (handbook §3). */
function closes(train: Train): boolean {
  if (checkTrain(train).problems.some(({ severity }) => severity === 'error')) return false;
  return jointsOf(train).every((joint) => {
    const placed = joint.shimElements.filter(({ id }) => id.startsWith('placed-'));
    if (placed.length === 0) return true;
    const pair = threadPair(joint.sky, joint.camera);
    if (!pair || joint.stated) return false;
    // A lock ring sets the opening by itself, and a ring without a shoulder goes down to the bottom.
    if (pair.male.lockRing || pair.male.shoulder === false) return false;
    // A shim that lies where the thread bottoms anyway does nothing: no stack of its own.
    if (joint.shimsMm < joint.bottomingMm - 1e-9) return false;
    const { pitchMm } = parseThread(pair.male.thread)!;
    const held = engagement(joint.pair, joint.openingMm);
    return held === undefined || held >= 3 * pitchMm - 1e-9;
  });
}

/** Something that can be turned: its settings or, where any will do, its range, and the gap it stands in (−1: none). */
interface Turnable {
  gap: number;
  nowMm: number;
  minMm: number;
  maxMm: number;
  stepMm: number | undefined;
}

/** What can be turned in a filled train, by the words of the handbook (§2 dials, §3 lock rings). */
function turnables(train: Train, gapOf: (id: string) => number, gapOfJoint: (cameraId: string) => number): Turnable[] {
  const found: Turnable[] = [];
  const datum = train.elements.findIndex((element) => isBody(element) && element.corrector);
  train.elements.forEach((element, index) => {
    if (index < datum || !('adjust' in element) || !element.adjust) return;
    const { minMm, maxMm, setMm, stepMm } = element.adjust;
    found.push({ gap: gapOf(element.id), nowMm: setMm, minMm, maxMm, stepMm });
  });
  for (const { sky, camera, cameraId, cameraIndex, shimsMm, openingMm, open } of jointsOf(train)) {
    const pair = threadPair(sky, camera);
    if (open || cameraIndex <= datum || !pair?.male.lockRing || pair.male.lengthMm === undefined) continue;
    const held = 3 * parseThread(pair.male.thread)!.pitchMm;
    const deep = pair.female.lengthMm ?? Infinity;
    const minMm = Math.max(0, shimsMm, pair.female.through ? 0 : pair.male.lengthMm - deep);
    const maxMm = pair.male.lengthMm - held;
    if (deep < held || maxMm <= minMm) continue;
    found.push({ gap: gapOfJoint(cameraId), nowMm: openingMm, minMm, maxMm, stepMm: undefined });
  }
  return found;
}

/** Marks of a scale, which begin at its lower end, and its upper end. */
function marks({ minMm, maxMm, stepMm }: Turnable): number[] {
  const found = [maxMm];
  for (let at = 0; minMm + at * stepMm! <= maxMm + 1e-9; at++) found.push(minMm + at * stepMm!);
  return found;
}

/**
 * Least residual over every setting of every dial that keeps each gap's limits, mm; undefined where none does.
 *
 * @param lengths of the gaps as they stand, dials included, mm
 */
function bestMiss(
  residualMm: number,
  dials: readonly Turnable[],
  lengths: readonly number[],
  limits: readonly { min: number; max: number }[]
): number | undefined {
  const stepped = dials.filter(({ stepMm }) => stepMm !== undefined);
  const free = dials.filter(({ stepMm }) => stepMm === undefined);
  let best: number | undefined;
  const settle = (at: number, residual: number, now: readonly number[]): void => {
    const dial = stepped[at];
    if (dial) {
      for (const mark of marks(dial)) {
        const by = mark - dial.nowMm;
        settle(at + 1, residual + by, dial.gap < 0 ? now : now.map((mm, gap) => (gap === dial.gap ? mm + by : mm)));
      }
      return;
    }
    let [low, high] = [0, 0];
    for (let gap = -1; gap < limits.length; gap++) {
      const inside = free.filter((each) => each.gap === gap);
      let least = inside.reduce((sum, { minMm, nowMm }) => sum + minMm - nowMm, 0);
      let most = inside.reduce((sum, { maxMm, nowMm }) => sum + maxMm - nowMm, 0);
      if (gap >= 0) {
        least = Math.max(least, limits[gap]!.min - now[gap]!);
        most = Math.min(most, limits[gap]!.max - now[gap]!);
        if (least > most + 1e-7) return;
      }
      low += least;
      high += most;
    }
    const miss = residual + low > 0 ? residual + low : residual + high < 0 ? -(residual + high) : 0;
    if (best === undefined || miss < best) best = miss;
  };
  settle(0, residualMm, lengths);
  return best;
}

/** Length of what was put in, joint openings and dials included and recesses taken off, mm. */
function gapLength(train: Train, placed: readonly string[], after: string | undefined): number {
  const wanted = new Set(placed);
  const bodies = train.elements
    .filter((element) => wanted.has(element.id) && element.kind !== 'shim' && element.kind !== 'gap')
    .reduce((sum, element) => {
      const setMm = 'adjust' in element ? (element.adjust?.setMm ?? 0) : 0;
      return sum + ('lengthMm' in element ? lengthOf(element) : 0) + setMm;
    }, 0);
  const openings = jointsOf(train)
    .filter(({ cameraId }) => wanted.has(cameraId) || cameraId === after)
    .reduce((sum, { openingMm, recessMm, recessTyped, cameraId }) => {
      // A typed recess of what stands behind the gap is not the gap's.
      const ownMm = recessTyped && !wanted.has(cameraId) ? 0 : recessMm;
      return sum + openingMm - ownMm;
    }, 0);
  return bodies + openings;
}

/**
 * Every stack within the limits, by trying them all: the judge of the finder. Slow; for small drawers.
 *
 * @returns the best rank of each stack that is distinct in kind: its parts gap by gap, its shims, its length
 */
export function tryAll(train: Train, parts: readonly Part[], maxPieces: number): Rank[] {
  const gaps = train.elements.filter(({ kind }) => kind === 'gap');
  const ids = gaps.map(({ id }) => id);
  const found = new Map<string, Rank>();

  const judge = (filled: readonly Placed[][]): void => {
    const made = fill(train, ids, filled);
    if (!closes(made)) return;
    let number = 0;
    const gapById = new Map<string, number>();
    const lengths = gaps.map((gap, index) => {
      const placed = filled[index]!.map(() => `placed-${number++}`);
      const next = made.elements.findIndex(({ id }) => id === placed.at(-1)) + 1;
      const at = placed.length > 0 ? next : made.elements.findIndex(({ id }) => id === followerOf(train, gap.id));
      const after = made.elements.slice(at).find(({ kind }) => kind !== 'shim')?.id;
      for (const id of placed) gapById.set(id, index);
      // The joint behind a gap is the gap's; a dial of the part behind it is not.
      if (after !== undefined && !gapById.has(after)) gapById.set(`joint ${after}`, index);
      return gapLength(made, placed, after);
    });
    const limits = gaps.map((gap) =>
      gap.kind === 'gap'
        ? { min: gap.minMm || -Infinity, max: gap.maxMm ?? Infinity }
        : { min: -Infinity, max: Infinity }
    );
    const { residualMm, actualMm } = ledgerOf(made);
    const dials = turnables(
      made,
      (id) => gapById.get(id) ?? -1,
      (id) => gapById.get(id) ?? gapById.get(`joint ${id}`) ?? -1
    );
    const miss = bestMiss(residualMm ?? 0, dials, lengths, limits);
    if (miss === undefined) return;
    const pieces = filled.flat().length;
    const buys = filled.flat().filter(({ part }) => !part.owned).length;
    const rank: Rank = [residualMm === null ? 0 : Math.round(miss * 1000), pieces, buys];
    const names = (placed: readonly Placed[], shims: boolean): string =>
      placed
        .filter(({ part }) => (part.element.kind === 'shim') === shims)
        .map(({ part }) => alike(part))
        .sort()
        .join(',');
    const key = `${filled.map((placed) => names(placed, false)).join(';')}|${names(filled.flat(), true)}|${Math.round(actualMm * 10_000)}`;
    const before = found.get(key);
    if (!before || compareRanks(rank, before) < 0) found.set(key, rank);
  };

  const fillFrom = (gap: number, filled: Placed[][], used: Map<string, number>, left: number): void => {
    if (gap === gaps.length) return judge(filled);
    for (const placed of fillings(parts, new Map(used), left)) {
      const now = new Map(used);
      for (const { part } of placed) now.set(part.partId, (now.get(part.partId) ?? 0) + 1);
      fillFrom(gap + 1, [...filled, placed], now, left - placed.length);
    }
  };
  fillFrom(0, [], new Map(), maxPieces);
  return [...found.values()].sort(compareRanks);
}

export const compareRanks = (a: Rank, b: Rank): number => a[0] - b[0] || a[1] - b[1] || a[2] - b[2];

function followerOf(train: Train, id: string): string | undefined {
  const index = train.elements.findIndex((element) => element.id === id);
  return train.elements.slice(index + 1).find(({ kind }) => kind !== 'shim' && kind !== 'gap')?.id;
}
