import { checkTrain, type CheckReport } from '../check/check.ts';
import { JOINT_CODES, type Problem as CheckProblem } from '../check/problems.ts';
import { placedPart, type Part } from '../drawer/part.ts';
import { withinTolerance } from '../length/uncertainty.ts';
import { apply, type Operation } from '../train/operations.ts';
import { adjustOf, findElement, isBody, isSeated, type SolidElement, type Train } from '../train/model.ts';
import { arrange } from './arrange.ts';
import { settle } from './dials.ts';
import { problemOf, type Problem, type Supply } from './problem.ts';
import { searchStacks, type Preference, type Progress, type Stack } from './search.ts';
import { fillingLength } from './stack.ts';
import { toMm } from './units.ts';

export type { Preference } from './search.ts';

/** A part placed in a gap. */
export interface PlacedPart {
  part: Part;
  reversed: boolean;
}

/** What stands in one gap, sky side first, shims in place. */
export interface FilledGap {
  id: string;
  placed: PlacedPart[];
  /** Length of the parts and joint openings placed in it, mm. */
  mm: number;
}

/** A stack that closes every gap. */
export interface Solution {
  /** Actual − required after dials, mm, as a check of the filled train reckons it; null where nothing is asked for. */
  residualMm: number | null;
  gaps: FilledGap[];
  /** Joints of the filled gaps, both ends included. */
  joints: number;
  /** Placed parts, shims included. */
  pieces: number;
  buys: number;
  price: number;
  /** What dials are to be set to: by element id, or by part number of one that is placed. */
  dials: { id: string; setMm: number }[];
  /** Orders of the same parts that are just as long, this one included. */
  orders: number;
  /** Chance of being inside the tolerance, by the uncertainties of all lengths; null where nothing is asked for. */
  probability: number | null;
  inTolerance: boolean;
  warnings: CheckProblem[];
}

/** What the stack has to come to. Lengths in mm; null where nothing asks for a back focus. */
export interface Target {
  requiredMm: number | null;
  toleranceMm: number | null;
  /** What the gaps and dials have to add up to. */
  missingMm: number | null;
}

export interface FindOptions extends Supply {
  prefer?: Preference;
  maxPieces?: number;
  limit?: number;
  pinned?: readonly string[];
  onProgress?: (progress: FindProgress) => boolean;
}

export interface FindProgress extends Omit<Progress, 'best'> {
  /** The best stack so far, not proven. */
  best: Solution | undefined;
}

export interface FindResult {
  target: Target;
  solutions: Solution[];
  /** The first solution is proven the best within the limits. */
  exhausted: boolean;
  /** No other stack is better in residual, pieces and money at once. */
  pareto: Solution[];
}

export const DEFAULT_MAX_PIECES = 6;
export const DEFAULT_LIMIT = 20;

/** Ids for placed parts that no element of the train has. */
function freshIds(train: Train): (base: string) => string {
  const taken = new Set(train.elements.map(({ id }) => id));
  return (base) => {
    let id = base;
    for (let number = 2; taken.has(id) || id === 'host'; number++) id = `${base}~${number}`;
    taken.add(id);
    return id;
  };
}

/** Number of the ring that is still to be made: no part of any drawer. */
export const RING_PART_ID = 'made to measure';

function withoutPart<E extends SolidElement>(element: E): E {
  const { partId: _none, ...rest } = element;
  return rest as E;
}

function withSetting(element: SolidElement, setMm: number | undefined): SolidElement {
  return setMm !== undefined && isBody(element) && element.adjust
    ? { ...element, adjust: { ...element.adjust, setMm } }
    : element;
}

/**
 * The one step that fills a train's gaps as a solution says: parts in, gaps out, dials set.
 */
export function fillOperation(train: Train, { gaps, dials }: Pick<Solution, 'gaps' | 'dials'>): Operation {
  const newId = freshIds(train);
  const operations: Operation[] = [];
  const settings = [...dials];
  for (const { id: gap, placed } of gaps) {
    for (const { part, reversed } of placed) {
      const placing = placedPart(part, { id: newId(part.partId), reversed });
      const element = part.partId === RING_PART_ID ? withoutPart(placing) : placing;
      const adjust = adjustOf(element);
      const at = adjust
        ? settings.findIndex(({ id }) => id === part.partId && findElement(train, id) === undefined)
        : -1;
      const setMm = at < 0 ? undefined : settings.splice(at, 1)[0]!.setMm;
      operations.push({ op: 'insert', element: withSetting(element, setMm), before: gap });
    }
    operations.push({ op: 'remove', id: gap });
  }
  for (const { id, setMm } of settings) {
    operations.push({ op: 'set', at: id, path: ['adjust', 'setMm'], to: setMm });
  }
  return { op: 'batch', operations };
}

/** The train with its gaps filled. */
export const filledTrain = (train: Train, solution: Pick<Solution, 'gaps' | 'dials'>): Train =>
  apply(train, fillOperation(train, solution));

/** Takes copies of parts from their groups, each once. */
class Hand {
  readonly #taken = new Map<number, number>();
  constructor(private readonly problem: Problem) {}
  take(group: number): Part {
    const at = this.#taken.get(group) ?? 0;
    this.#taken.set(group, at + 1);
    return this.problem.groups[group]!.parts[at]!;
  }
}

/** Settings of the train's and the placed parts' dials, in mm. */
function dialSettings(problem: Problem, stack: Stack, parts: ReadonlyMap<object, Part>): Solution['dials'] {
  const placed = stack.fillings.flatMap(({ edges }, gap) =>
    problem.gaps[gap]!.counts ? edges.filter(({ dial }) => dial >= 0) : []
  );
  const dials = [...problem.trainDials.map(({ dial }) => dial), ...placed.map(({ dial }) => problem.partDials[dial]!)];
  if (dials.length === 0 || problem.need === null) return [];
  const length =
    stack.fillings.reduce((sum, filling, gap) => sum + fillingLength(filling) * problem.gaps[gap]!.counts, 0) +
    stack.shims.flat(2).reduce((sum, shim) => sum + problem.shims[shim]!.length, 0);
  const { set } = settle(dials, problem.need - length);
  const ids = [...problem.trainDials.map(({ id }) => id), ...placed.map((edge) => parts.get(edge)!.partId)];
  return ids.map((id, index) => ({ id, setMm: Number(toMm(set[index]!).toFixed(6)) }));
}

/** A stack as it is told, its numbers taken from a check of the train it makes. */
function solutionOf(problem: Problem, found: Stack): Solution {
  const { train, gaps } = problem;
  const { fillings, shims, orders } = arrange(problem, found);
  const stack = { ...found, fillings, shims };
  const hand = new Hand(problem);
  // One object a place, so that two copies of a dial are told apart.
  const parts = new Map<object, Part>();
  const filled = fillings.map(({ edges, joints }, gap): FilledGap => {
    const placed: PlacedPart[] = [];
    joints.forEach((_joint, at) => {
      for (const shim of shims[gap]![at]!)
        placed.push({ part: hand.take(problem.shims[shim]!.group), reversed: false });
      const edge = edges[at];
      if (!edge) return;
      const part = hand.take(edge.group);
      parts.set(edge, part);
      placed.push({ part, reversed: edge.reversed });
    });
    return { id: gaps[gap]!.id, placed, mm: 0 };
  });
  const dials = dialSettings(problem, stack, parts);
  const all = [...filled, ...gaps.flatMap(({ others }) => others.map((id): FilledGap => ({ id, placed: [], mm: 0 })))];
  const order = train.elements.map(({ id }) => id);
  all.sort((a, b) => order.indexOf(a.id) - order.indexOf(b.id));
  const after = filledTrain(train, { gaps: all, dials });
  const report = checkTrain(after);
  const { toleranceMm } = report.required;
  filled.forEach((gap, index) => {
    const { edges } = fillings[index]!;
    const laid = shims[index]!.flat().reduce((sum, shim) => sum + problem.shims[shim]!.length, 0);
    const turned = edges.reduce((sum, edge) => {
      const id = edge.dial < 0 ? undefined : parts.get(edge)?.partId;
      return sum + (dials.find((dial) => dial.id === id)?.setMm ?? 0);
    }, 0);
    gap.mm = toMm(fillingLength(fillings[index]!) + laid) + turned;
  });
  return {
    residualMm: report.residualMm,
    gaps: all,
    joints: fillings.reduce((sum, { edges }) => sum + edges.length + 1, 0),
    pieces: found.pieces,
    buys: found.buys,
    price: found.price,
    dials,
    orders,
    probability: report.uncertainty.probabilityInTolerance,
    inTolerance: report.residualMm === null || toleranceMm === null || withinTolerance(report.residualMm, toleranceMm),
    warnings: jointWarnings(after, report)
  };
}

function jointWarnings(train: Train, { problems }: CheckReport): CheckProblem[] {
  const standing = new Set(train.elements.filter(isSeated).map(({ id }) => id));
  return problems.filter(
    ({ severity, code, at }) => severity === 'warning' && JOINT_CODES.has(code) && standing.has(at)
  );
}

/** Whether a is at least as good as b in everything, and better in something. */
function dominates(a: Solution, b: Solution): boolean {
  const pairs = [
    [Math.round(Math.abs(a.residualMm ?? 0) * 1000), Math.round(Math.abs(b.residualMm ?? 0) * 1000)],
    [a.pieces, b.pieces],
    [a.price, b.price],
    [a.buys, b.buys]
  ] as const;
  return pairs.every(([x, y]) => x <= y) && pairs.some(([x, y]) => x < y);
}

const paretoOf = (solutions: readonly Solution[]): Solution[] =>
  solutions
    .filter((each) => !solutions.some((other) => dominates(other, each)))
    .filter((each, index, all) => {
      const same = (other: Solution): boolean =>
        other.pieces === each.pieces &&
        other.price === each.price &&
        Math.round(Math.abs(other.residualMm ?? 0) * 1000) === Math.round(Math.abs(each.residualMm ?? 0) * 1000);
      return all.findIndex(same) === index;
    })
    .sort((a, b) => a.pieces - b.pieces || a.price - b.price);

/** A train without a gap has one stack: none. */
function nothingToFill(problem: Problem): Solution {
  const dials =
    problem.need === null
      ? []
      : problem.trainDials.map(({ id }, index) => ({
          id,
          setMm: Number(
            toMm(
              settle(
                problem.trainDials.map(({ dial }) => dial),
                problem.need!
              ).set[index]!
            ).toFixed(6)
          )
        }));
  const report = checkTrain(filledTrain(problem.train, { gaps: [], dials }));
  const { toleranceMm } = report.required;
  return {
    residualMm: report.residualMm,
    gaps: [],
    joints: 0,
    pieces: 0,
    buys: 0,
    price: 0,
    dials,
    orders: 1,
    probability: report.uncertainty.probabilityInTolerance,
    inTolerance: report.residualMm === null || toleranceMm === null || withinTolerance(report.residualMm, toleranceMm),
    warnings: []
  };
}

/**
 * Fills a train's gaps from a drawer so that the sensor lands on the required plane.
 *
 * `closest` lists every stack that closes, ordered by |residual| after dials in whole micrometres, then pieces, then
 * buys; `fewest` those inside the tolerance, ordered by pieces, then buys, then |residual|. Every placed part is a
 * piece. A train that asks for no back focus gets the stacks of fewest pieces.
 *
 * @param train a valid document
 * @returns with `exhausted`, the first solution is the best of all stacks within the limits
 */
export function findStacks(train: Train, options: FindOptions): FindResult {
  const { prefer = 'closest', maxPieces = DEFAULT_MAX_PIECES, limit = DEFAULT_LIMIT, pinned, onProgress } = options;
  const problem = problemOf(train, options);
  const { required } = problem.ledger;
  const target: Target = {
    requiredMm: required.totalMm,
    toleranceMm: required.toleranceMm,
    missingMm: problem.need === null ? null : toMm(problem.need)
  };
  if (problem.gaps.length === 0) {
    const only = nothingToFill(problem);
    return {
      target,
      solutions: prefer === 'fewest' && !only.inTolerance ? [] : [only],
      exhausted: true,
      pareto: [only]
    };
  }
  let told: Stack | undefined;
  let toldAs: Solution | undefined;
  const outcome = searchStacks(problem, {
    prefer,
    maxPieces,
    limit,
    pinned,
    onProgress: onProgress
      ? ({ best, ...progress }) => {
          if (best[0] !== told) {
            told = best[0];
            toldAs = told && solutionOf(problem, told);
          }
          return onProgress({ ...progress, best: toldAs });
        }
      : undefined
  });
  const solutions = outcome.stacks.map((stack) => solutionOf(problem, stack));
  // What leads its number of pieces mostly stands in the list already.
  const listed = new Set(outcome.stacks);
  const leaders = outcome.byPieces.filter((stack) => !listed.has(stack)).map((stack) => solutionOf(problem, stack));
  return { target, solutions, exhausted: outcome.exhausted, pareto: paretoOf([...leaders, ...solutions]) };
}
