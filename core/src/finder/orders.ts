import { addedErrors, assess, type Assessment } from '../check/index.ts';
import type { Train } from '../train/model.ts';
import { filledTrain, judged, type FilledGap, type PlacedPart, type Solution } from './solution.ts';

/** So many orders are tried at the most; a stack of seven different parts has 5040. */
const MOST_TRIED = 5040;

/** Residuals closer than this are the same, mm: finer is the noise of binary sums. */
const SAME_MM = 1e-6;

/** Two parts that nobody could tell apart in the train. */
const lookOf = ({ part, reversed, setMm, openMm }: PlacedPart): string =>
  JSON.stringify([{ ...part.element, id: '' }, reversed, setMm, openMm]);

/** Every order of some parts, those that look the same taken once. */
function* ordersOf(placed: readonly PlacedPart[]): Generator<PlacedPart[]> {
  if (placed.length === 0) return yield [];
  const tried = new Set<string>();
  for (const [index, first] of placed.entries()) {
    const look = lookOf(first);
    if (tried.has(look)) continue;
    tried.add(look);
    for (const rest of ordersOf(placed.toSpliced(index, 1))) yield [first, ...rest];
  }
}

function* ordersOfGaps(gaps: readonly FilledGap[]): Generator<FilledGap[]> {
  const [gap, ...rest] = gaps;
  if (!gap) return yield [];
  for (const placed of ordersOf(gap.placed)) {
    for (const others of ordersOfGaps(rest)) yield [{ ...gap, placed }, ...others];
  }
}

/** A stack with its parts in another order, where it is just as long and closes just as well. */
function reordered(train: Train, solution: Solution, before: Assessment, gaps: FilledGap[]): Solution | undefined {
  const filling = { gaps, dials: solution.dials };
  const after = assess(filledTrain(train, filling));
  const isSame = Math.abs((after.ledger.residualMm ?? 0) - (before.ledger.residualMm ?? 0)) < SAME_MM;
  if (!isSame || addedErrors(before, after).length > 0) return undefined;
  return { ...solution, ...filling, ...judged(train, filling) };
}

const clearOf = ({ part: { element } }: PlacedPart): number =>
  element.kind === 'shim' ? Infinity : (element.clearMm ?? Infinity);

/**
 * The stack with its widest parts toward the sky, where the beam is widest, shims where they lie.
 *
 * @returns undefined where that is no other order, or does not close as well
 */
export function widestFirst(train: Train, solution: Solution): Solution | undefined {
  const gaps = solution.gaps.map((gap): FilledGap => {
    const sorted = gap.placed
      .filter(({ part }) => part.element.kind !== 'shim')
      .sort((a, b) => clearOf(b) - clearOf(a));
    return { ...gap, placed: gap.placed.map((each) => (each.part.element.kind === 'shim' ? each : sorted.shift()!)) };
  });
  if (gaps.every(({ placed }, index) => placed.every((each, at) => each === solution.gaps[index]!.placed[at]))) {
    return undefined;
  }
  return reordered(train, solution, assess(filledTrain(train, solution)), gaps);
}

/**
 * Other orders of a stack's parts that are just as long and close just as well, each as a check of the filled train
 * sees it.
 *
 * @param most how many are looked for
 */
export function otherOrders(train: Train, solution: Solution, most = 12): Solution[] {
  const before = assess(filledTrain(train, solution));
  const own = JSON.stringify(solution.gaps.map(({ placed }) => placed.map(lookOf)));
  const found: Solution[] = [];
  let tried = 0;
  for (const gaps of ordersOfGaps(solution.gaps)) {
    if (found.length >= most || tried++ >= MOST_TRIED) break;
    if (JSON.stringify(gaps.map(({ placed }) => placed.map(lookOf))) === own) continue;
    const other = reordered(train, solution, before, gaps);
    if (other) found.push(other);
  }
  return found;
}
