import type { Part } from '../drawer/part.ts';
import type { FocusReport } from '../focus/budget.ts';
import { holdsBy } from '../joint/clocking.ts';
import { balanceOf } from '../load/balance.ts';
import { isSolid, lengthOf, nameOf, partIdsOf, seatOf, type Train } from '../train/model.ts';
import { assess, type Assessment } from '../check/report.ts';
import { listedBriefly, residualInWords, type LengthUnit, type Verdict } from '../why/wording.ts';
import { quantityInWords, type Quantity } from '../why/quantity.ts';

/** One train as it is laid beside others. */
export interface Compared {
  verdict: Verdict;
  residualMm: number | null;
  toleranceMm: number | null;
  /** Chance that the sensor stands within tolerance. */
  chance: number | null;
  /** The same as a person reads it. */
  chanceInWords: string | null;
  joints: number;
  pieces: number;
  /** Parts that are not owned, or not in the drawer at all. */
  buys: readonly string[];
  /** What those that have a price cost together; null where none has one. */
  price: number | null;
  /** Of those, so many have no price. */
  unpriced: number;
  massG: number;
  unweighed: number;
  cornerLight: number | null;
  fRatio: number | null;
  scaleArcsecPerPx: number | null;
  guide: 'reaches' | 'short' | 'long' | 'unknown' | null;
  guideMissMm: number | null;
  /** Places at which the camera can be turned as far as one likes: rotators, clamps, slip fits, union nuts, lock rings. */
  turns: number;
  slideMm: number | null;
  /** Where the draw tube has to stand, and whether it can; null where nothing is stated of it. */
  focus: FocusReport | null;
  note: string | null;
  /** Whether there is such a train: it closes, and nothing about it is wrong. */
  exists: boolean;
  /** What keeps it from being one. */
  missing: (unit: LengthUnit) => readonly string[];
}

/** What a joint is held by that can be turned as far as one likes. */
const TURNS: readonly string[] = ['slip', 'clamp', 'union', 'lock-ring'];

/** Why a train is none yet, in sentences: open places, errors, a length that is off. */
function missingIn(assessment: Assessment, unit: LengthUnit): string[] {
  const { findings, train, verdict, missing } = assessment;
  const open = train.elements.filter(({ kind }) => kind === 'gap').map(({ name }) => name);
  const wrong = findings.filter(({ level, code }) => level === 'error' && code !== 'length');
  return [
    ...(open.length > 0
      ? [`${listedBriefly(open.map((name) => `“${name}”`))} ${open.length === 1 ? 'is' : 'are'} empty`]
      : []),
    ...wrong.map((finding) => finding.say(unit)),
    ...(verdict === 'short' || verdict === 'long' || missing ? [assessment.verdictInWords(unit)] : [])
  ];
}

/** A train as a row of figures, each what the stages say of it. @param parts of the drawer */
export function compared(train: Train, parts: readonly Part[]): Compared {
  const assessment = assess(train);
  const { facts, ledger, uncertainty, verdict } = assessment;
  const { load, light, guide } = facts;
  const byId = new Map(parts.map((part) => [part.partId, part]));
  const bought = train.elements
    .flatMap(partIdsOf)
    .flatMap((partId): { partId: string; price: number | undefined }[] => {
      const part = byId.get(partId);
      return part?.owned ? [] : [{ partId, price: part?.price }];
    });
  const priced = bought.flatMap(({ price }) => price ?? []);
  const missing = (unit: LengthUnit) => missingIn(assessment, unit);
  return {
    verdict,
    residualMm: ledger.residualMm,
    toleranceMm: ledger.required.toleranceMm,
    chance: uncertainty.probabilityInTolerance,
    chanceInWords: assessment.chanceInWords,
    joints: ledger.joints.filter(({ open }) => !open).length,
    pieces: train.elements.filter(isSolid).length,
    buys: bought.map(({ partId }) => partId),
    price: priced.length === 0 ? null : priced.reduce((sum, each) => sum + each, 0),
    unpriced: bought.length - priced.length,
    massG: load.massG,
    unweighed: load.unweighed.length,
    cornerLight: light?.corner ?? null,
    fRatio: light?.beam.fRatio ?? null,
    scaleArcsecPerPx: light?.report.scaleArcsecPerPx ?? null,
    guide: guide?.report.verdict ?? null,
    guideMissMm: guide?.report.missMm ?? null,
    turns:
      train.elements.filter(({ kind }) => kind === 'rotator').length +
      ledger.joints.filter(({ sky, camera }) => TURNS.includes(holdsBy(sky, camera) ?? 'thread')).length,
    slideMm: balanceOf(train.host, load)?.slideMm ?? null,
    focus: facts.focus?.report ?? null,
    note: train.note ?? null,
    exists: missing('mm').length === 0,
    missing
  };
}

/** A row of the table that lays trains side by side. */
export interface ComparedRow {
  id: string;
  title: string;
  /** What to print; null where it is not known. */
  cell: (of: Compared, unit: LengthUnit) => string | null;
  /** The number the cells are compared by; undefined where that makes no sense. */
  figure?: (of: Compared) => number | null;
  /** Which is better, where one is. */
  better?: 'less' | 'more';
}

const say = (quantity: Quantity | null, unit: LengthUnit, digits?: number): string | null =>
  quantity && quantityInWords(quantity, unit, digits);
const length = (mm: number | null, unit: LengthUnit, digits?: number): string | null =>
  mm === null ? null : say({ value: mm, unit: 'mm' }, unit, digits);

/** A sentence as a part of another. */
const withoutStop = (sentence: string): string => sentence.replace(/\.$/, '');

/** Every row, in the order people ask. */
export const COMPARED_ROWS: readonly ComparedRow[] = [
  {
    id: 'exists',
    title: 'Can it be built as it is',
    cell: ({ exists, missing }, unit) => (exists ? 'yes' : missing(unit).map(withoutStop).join('; '))
  },
  {
    id: 'residual',
    title: 'Error',
    cell: ({ residualMm }, unit) => (residualMm === null ? null : residualInWords(residualMm, unit)),
    figure: ({ residualMm }) => residualMm && Math.abs(residualMm),
    better: 'less'
  },
  { id: 'tolerance', title: 'Tolerance', cell: ({ toleranceMm }, unit) => length(toleranceMm, unit) },
  {
    id: 'chance',
    title: 'Probability within tolerance',
    cell: ({ chanceInWords }) => chanceInWords,
    figure: ({ chance }) => chance,
    better: 'more'
  },
  {
    id: 'joints',
    title: 'Joints',
    cell: ({ joints }) => String(joints),
    figure: ({ joints }) => joints,
    better: 'less'
  },
  {
    id: 'pieces',
    title: 'Pieces',
    cell: ({ pieces }) => String(pieces),
    figure: ({ pieces }) => pieces,
    better: 'less'
  },
  {
    id: 'buys',
    title: 'To buy',
    cell: ({ buys }) => (buys.length === 0 ? 'nothing' : listedBriefly(buys)),
    figure: ({ buys }) => buys.length,
    better: 'less'
  },
  {
    id: 'price',
    title: 'For',
    cell: ({ price, unpriced, buys }) =>
      buys.length === 0
        ? '0'
        : price === null
          ? null
          : `${price.toFixed(2)}${unpriced > 0 ? `, and ${unpriced} without a price` : ''}`,
    figure: ({ price, unpriced }) => (unpriced > 0 ? null : price),
    better: 'less'
  },
  {
    id: 'mass',
    title: 'Mass',
    cell: ({ massG, unweighed }) => `${massG.toFixed(0)} g${unweighed > 0 ? `, ${unweighed} not weighed` : ''}`,
    figure: ({ massG, unweighed }) => (unweighed > 0 ? null : massG),
    better: 'less'
  },
  {
    id: 'light',
    title: 'Light in the corners',
    cell: ({ cornerLight }) => (cornerLight === null ? null : `${(cornerLight * 100).toFixed(0)} %`),
    figure: ({ cornerLight }) => cornerLight,
    better: 'more'
  },
  {
    id: 'f-ratio',
    title: 'Focal ratio',
    cell: ({ fRatio }, unit) => say(fRatio === null ? null : { value: fRatio, unit: 'f/' }, unit)
  },
  {
    id: 'scale',
    title: 'Scale',
    cell: ({ scaleArcsecPerPx }, unit) =>
      say(scaleArcsecPerPx === null ? null : { value: scaleArcsecPerPx, unit: '″/px' }, unit)
  },
  {
    id: 'guide',
    title: 'Guide camera',
    cell: ({ guide, guideMissMm }, unit) =>
      guide === null
        ? 'none'
        : guide === 'reaches'
          ? 'reaches focus'
          : guide === 'unknown'
            ? null
            : `misses by ${length(Math.abs(guideMissMm ?? 0), unit)}`
  },
  {
    id: 'turns',
    title: 'Places to turn the camera',
    cell: ({ turns }) => String(turns),
    figure: ({ turns }) => turns,
    better: 'more'
  },
  {
    id: 'balance',
    title: 'Slide for balance, toward the sky',
    cell: ({ slideMm }, unit) => length(slideMm, unit, unit === 'mm' ? 0 : 2)
  },
  {
    id: 'focus',
    title: 'Focus travel',
    cell: ({ focus }, unit) =>
      focus === null || focus.verdict === 'unknown'
        ? null
        : focus.verdict === 'reaches'
          ? `reaches, ${length(focus.extensionMm, unit) ?? ''} out of ${length(focus.travelMm, unit) ?? ''}`
          : focus.verdict === 'no-inward'
            ? 'cannot go far enough in'
            : 'cannot come far enough out'
  },
  { id: 'note', title: 'Remarks', cell: ({ note }) => note ?? '' }
];

/**
 * Rows in which trains differ, and those in which all are alike; each in the order people ask. One alone differs from none.
 *
 * @param shown rows that stay with those that differ, whatever is in them
 */
export function rowsByDifference(
  trains: readonly Compared[],
  unit: LengthUnit,
  shown: readonly string[] = []
): { differ: ComparedRow[]; alike: ComparedRow[] } {
  // What keeps a train from being built is never folded away.
  const isAlike = ({ id, cell }: ComparedRow): boolean =>
    trains.length > 1 &&
    !shown.includes(id) &&
    new Set(trains.map((train) => cell(train, unit))).size === 1 &&
    (id !== 'exists' || trains.every(({ exists }) => exists));
  return {
    differ: COMPARED_ROWS.filter((row) => !isAlike(row)),
    alike: COMPARED_ROWS.filter(isAlike)
  };
}

/** Which of some trains is best in a row; undefined where they are equal, or it is not known of all. */
export function bestOf({ figure, better }: ComparedRow, trains: readonly Compared[]): number | undefined {
  if (!figure || !better || trains.length < 2) return undefined;
  const figures = trains.map(figure);
  if (figures.some((each) => each === null)) return undefined;
  const known = figures as number[];
  const best = better === 'less' ? Math.min(...known) : Math.max(...known);
  const holders = known.flatMap((each, at) => (Math.abs(each - best) < 1e-9 ? [at] : []));
  return holders.length === 1 ? holders[0] : undefined;
}

/** What differs between two trains, part by part. */
export interface PartDifference {
  id: string;
  name: string;
  change: 'added' | 'gone' | 'changed';
  say: (unit: LengthUnit) => string;
}

/** What of a part makes a difference to who compares: its length, where it is joined, its dial. */
const told = (element: Train['elements'][number]): string =>
  JSON.stringify([
    element.name,
    isSolid(element) ? lengthOf(element) : null,
    'partId' in element ? element.partId : null,
    'copy' in element ? element.copy : null,
    seatOf(element) ?? null,
    'adjust' in element ? (element.adjust?.setMm ?? null) : null,
    'glass' in element ? element.glass : null
  ]);

/** What changed from one train to another: parts that came, went, or are not as they were. */
export function differences(from: Train, to: Train): PartDifference[] {
  const before = new Map(from.elements.map((element) => [element.id, element]));
  const after = new Set(to.elements.map(({ id }) => id));
  return [
    ...from.elements
      .filter(({ id }) => !after.has(id))
      .map(({ id, name }): PartDifference => ({
        id,
        name,
        change: 'gone',
        say: () => `${name} is not there any more`
      })),
    ...to.elements.flatMap((element): PartDifference[] => {
      const { id, name } = element;
      const had = before.get(id);
      if (!had) return [{ id, name, change: 'added', say: () => `${name} is new` }];
      if (told(had) === told(element)) return [];
      const [was, is] = [had, element].map((each) => (isSolid(each) ? lengthOf(each) : undefined));
      const say = (unit: LengthUnit): string => {
        const byLength =
          was !== undefined && is !== undefined && was !== is
            ? `: ${length(was, unit)} was, ${length(is, unit)} is`
            : '';
        return `${nameOf(to, id)} is another part, or has another setting${byLength}`;
      };
      return [{ id, name, change: 'changed', say }];
    })
  ];
}
