import { placedPart, partLength, type Part } from '../drawer/part.ts';
import { facesJoin } from '../joint/mate.ts';
import { turnedRound } from '../joint/fit.ts';
import { hostPort } from '../train/detachable.ts';
import { isBody, isShim, skyPort, standingIn, type BodyElement, type Port } from '../train/model.ts';
import type { Operation } from '../train/operations.ts';
import { formatLength, listed, type LengthUnit } from '../why/wording.ts';
import { verdictOf, type FocusBudget, type Interval } from './budget.ts';
import type { Train } from '../train/model.ts';

/** Extension tubes of the drawer ahead of a train, and where focus falls with them. */
export interface TubeWay {
  /** Sky side first; none: as it is. */
  parts: readonly Part[];
  lengthMm: number;
  extensionMm: Interval;
  verdict: ReturnType<typeof verdictOf>;
  /** How far the middle of it is from mid-travel, mm; infinite where one end is open. */
  offMiddleMm: number;
  operation: Operation;
  say: (unit: LengthUnit) => string;
}

/** Tubes that are put together at the most. */
const MOST_TUBES = 2;
/** A tube shorter than this is a ring, and not looked for, mm. */
const LEAST_TUBE_MM = 10;

interface Standing {
  part: Part;
  reversed: boolean;
  sky: Port | undefined;
  camera: Port | undefined;
}

function tubesOf(train: Train, parts: readonly Part[]): Standing[] {
  const standing = standingIn(train);
  return parts.flatMap((part): Standing[] => {
    const { element, owned, state, quantity, partId } = part;
    if (!isBody(element) || isShim(element) || element.kind !== 'extension-tube') return [];
    if (!owned || state === 'set-aside' || quantity <= (standing.get(partId) ?? 0)) return [];
    if (partLength(part) < LEAST_TUBE_MM) return [];
    const plain: Standing = { part, reversed: false, sky: element.sky, camera: element.camera };
    if (!element.reversible) return [plain];
    const turned: BodyElement = turnedRound(element);
    return [plain, { part, reversed: true, sky: turned.sky, camera: turned.camera }];
  });
}

/**
 * Extension tubes of the drawer between host and train: none, one or two, each way that screws together, the one that
 * surely reaches first and of those what lands nearest mid-travel; where nothing asks for a length, the shortest (handbook
 * §10).
 *
 * @param parts of the drawer that are free to this train
 */
export function tubeWays(train: Train, budget: FocusBudget, parts: readonly Part[]): TubeWay[] {
  const { travelMm } = budget.report;
  // What was tried contradicts itself: nothing can be advised of it.
  if (budget.contradicts) return [];
  const first = train.elements[0]!;
  const face = skyPort(first);
  const tubes = tubesOf(train, parts);
  const stacks: Standing[][] = [[]];
  const add = (stack: Standing[], port: Port): void => {
    if (stack.length > 0 && facesJoin(port, face)) stacks.push(stack);
    if (stack.length === MOST_TUBES) return;
    for (const tube of tubes) {
      const taken = stack.filter(({ part }) => part.partId === tube.part.partId).length;
      if (taken < tube.part.quantity && tube.camera && facesJoin(port, tube.sky)) add([...stack, tube], tube.camera);
    }
  };
  const start = hostPort(train.host);
  if (start) add([], start);
  return stacks
    .map((stack): TubeWay => {
      const lengthMm = stack.reduce((sum, { part }) => sum + partLength(part), 0);
      const extensionMm: Interval = [budget.extensionMm[0] - lengthMm, budget.extensionMm[1] - lengthMm];
      const middleMm = (extensionMm[0] + extensionMm[1]) / 2;
      const names = stack.map(
        ({ part }) =>
          `${part.partId} (${formatLength(partLength(part), 'mm', 0)}${part.location === '' ? '' : `, ${part.location}`})`
      );
      const verdict = verdictOf(extensionMm, travelMm);
      return {
        parts: stack.map(({ part }) => part),
        lengthMm,
        extensionMm,
        verdict,
        offMiddleMm: travelMm === null || Number.isNaN(middleMm) ? Infinity : Math.abs(middleMm - travelMm / 2),
        operation: {
          op: 'batch',
          operations: stack.map(({ part, reversed }, at): Operation => ({
            op: 'insert',
            element: placedPart(part, { id: freeId(train, stack, at), reversed }),
            before: first.id
          }))
        },
        say: (unit) => {
          const what = stack.length === 0 ? 'Without a tube' : `With ${listed(names)}`;
          return `${what} ${landing(extensionMm, verdict, travelMm, unit)}`;
        }
      };
    })
    .sort(
      (a, b) =>
        Number(b.verdict === 'reaches') - Number(a.verdict === 'reaches') ||
        Number(b.verdict === 'unknown') - Number(a.verdict === 'unknown') ||
        (budget.isFree && a.verdict === 'reaches' ? a.lengthMm - b.lengthMm : 0) ||
        a.offMiddleMm - b.offMiddleMm ||
        a.parts.length - b.parts.length
    );
}

/** A free id for each tube of a stack: the same number twice stands twice. */
function freeId(train: Train, stack: readonly Standing[], at: number): string {
  const { partId } = stack[at]!.part;
  const before = stack.slice(0, at).filter(({ part }) => part.partId === partId).length;
  const has = (id: string): boolean => train.elements.some((element) => element.id === id);
  let number = 1 + before;
  const named = (): string => (number === 1 ? partId : `${partId}-${number}`);
  while (has(named())) number++;
  return named();
}

function landing(
  [low, high]: Interval,
  verdict: TubeWay['verdict'],
  travelMm: number | null,
  unit: LengthUnit
): string {
  const say = (mm: number): string => formatLength(mm, unit, unit === 'mm' ? 0 : 2);
  const at =
    low === high
      ? say(low)
      : Number.isFinite(low) && Number.isFinite(high)
        ? `${say(low)} to ${say(high)}`
        : Number.isFinite(low)
          ? `${say(low)} or more`
          : Number.isFinite(high)
            ? `${say(high)} or less`
            : 'somewhere';
  const of = travelMm === null ? '' : ` of ${say(travelMm)}`;
  switch (verdict) {
    case 'reaches':
      return `focus falls at ${at}${of}: it reaches.`;
    case 'no-inward':
      return `the tube would have to go in ${-high < 0.5 ? '' : `${say(-high)} `}farther than it can: too long.`;
    case 'no-outward':
      return `it would have to come out ${at}, and has ${travelMm === null ? 'less' : say(travelMm)}: too short.`;
    case 'unknown':
      return `focus falls at ${at}${of}: whether it reaches is not known.`;
  }
}
