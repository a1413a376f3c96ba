import { assess, reported, type Assessment, type ReportedProblem } from '../check/report.ts';
import { placedPart, type Part } from '../drawer/part.ts';
import { dialOperation } from '../length/dial.ts';
import { apply, type Operation } from '../train/operations.ts';
import { isBody, type SolidElement, type Train } from '../train/model.ts';

/** A part placed in a gap. */
export interface PlacedPart {
  part: Part;
  reversed: boolean;
  /** What its dial is to be set to, mm, where it has one that counts. */
  setMm?: number | undefined;
  /** How far the joint on its sky side is to be unscrewed, mm, where a lock ring holds it. */
  openMm?: number | undefined;
}

/** What stands in one gap, sky side first, shims in place. */
export interface FilledGap {
  id: string;
  placed: PlacedPart[];
  /** Length of the parts and joint openings placed in it, mm. */
  mm: number;
}

/** A setting of a dial, mm. */
export interface Dialled {
  id: string;
  setMm: number;
  /** The dial is a placed part's; its `id` is the part's number. */
  placed: boolean;
  /** It is the opening of the joint on the part's sky side, held by a lock ring. */
  lockRing?: boolean;
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
  /** What the train's dials are to be set to, by element id, and after them those of placed parts, by part number. */
  dials: Dialled[];
  /** How far the dials stand from the middle of their travel: of equals the least is best. */
  strain: number;
  /** Orders of the same parts that are just as long, this one included. */
  orders: number;
  /** Chance of being inside the tolerance, by the uncertainties of all lengths; null where nothing is asked for. */
  probability: number | null;
  /** What of that rests on assumed tolerances. */
  assumed: { tolerance: boolean; lengths: boolean };
  inTolerance: boolean;
  /** Share of the light in the darkest corner of the sensor; null where the sensor is not known. */
  cornerLight: number | null;
  /** The same with the best exit pupil the host may have: what is dark with it is dark for sure. */
  brightest: number | null;
  warnings: ReportedProblem[];
}

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

function withSetting(element: SolidElement, { setMm, openMm }: PlacedPart): SolidElement {
  if (!isBody(element)) return element;
  return {
    ...element,
    ...(setMm !== undefined && element.adjust ? { adjust: { ...element.adjust, setMm } } : {}),
    ...(openMm === undefined ? {} : { seat: { ...element.seat, gapMm: openMm } })
  };
}

/**
 * The one step that fills a train's gaps as a solution says: parts in, gaps out, dials set.
 */
export function fillOperation(train: Train, { gaps, dials }: Pick<Solution, 'gaps' | 'dials'>): Operation {
  const newId = freshIds(train);
  const operations: Operation[] = [];
  for (const { id: gap, placed } of gaps) {
    for (const placing of placed) {
      const { part, reversed } = placing;
      const standing = placedPart(part, { id: newId(part.partId), reversed });
      const element = part.partId === RING_PART_ID ? withoutPart(standing) : standing;
      operations.push({ op: 'insert', element: withSetting(element, placing), before: gap });
    }
    operations.push({ op: 'remove', id: gap });
  }
  for (const { id, setMm, placed, lockRing } of dials) {
    if (!placed) operations.push(dialOperation({ id, kind: lockRing ? 'lock-ring' : 'marked' }, setMm));
  }
  return { op: 'batch', operations };
}

/** The train with its gaps filled. */
export const filledTrain = (train: Train, solution: Pick<Solution, 'gaps' | 'dials'>): Train =>
  apply(train, fillOperation(train, solution));

/** What is doubtful about the joints of a filled train, and what its new parts take of the light. */
function warningsOf({ findings }: Assessment, before: Train): ReportedProblem[] {
  const isNew = (id: string): boolean => !before.elements.some((element) => element.id === id);
  return findings
    .filter(({ level, place, code }) => {
      if (level === 'error' || level === 'passed' || level === 'assumed') return false;
      return place.kind === 'joint' || (code === 'corner-light' && place.kind === 'element' && isNew(place.id));
    })
    .map(reported);
}

/** What a check says of a train with its gaps filled. */
export type Judged = Pick<
  Solution,
  'residualMm' | 'probability' | 'assumed' | 'inTolerance' | 'cornerLight' | 'brightest' | 'warnings'
>;

/** Checks a train filled as told: what the finder claims is what everything else will say. */
export function judged(train: Train, filling: Pick<Solution, 'gaps' | 'dials'>): Judged {
  const after = filledTrain(train, filling);
  const assessment = assess(after);
  return {
    residualMm: assessment.missing ? null : assessment.ledger.residualMm,
    probability: assessment.uncertainty.probabilityInTolerance,
    assumed: assessment.facts.assumed,
    inTolerance: assessment.isLengthRight,
    cornerLight: assessment.facts.light?.corner ?? null,
    brightest: assessment.facts.light?.brightest ?? null,
    warnings: warningsOf(assessment, train)
  };
}

/**
 * The same stack from other copies of the same kinds.
 *
 * @param parts one for each placed part, sky side first, over all gaps in their order
 */
export function withCopies(train: Train, solution: Solution, parts: readonly Part[]): Solution {
  let at = 0;
  const gaps = solution.gaps.map((gap) => ({
    ...gap,
    placed: gap.placed.map((each) => ({ ...each, part: parts[at++]! }))
  }));
  const set = gaps.flatMap(({ placed }) => placed).filter(({ setMm }) => setMm !== undefined);
  let next = 0;
  const dials = solution.dials.map((dial) => (dial.placed ? { ...dial, id: set[next++]!.part.partId } : dial));
  return { ...solution, gaps, dials, ...judged(train, { gaps, dials }) };
}
