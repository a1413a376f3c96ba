import {
  HOST,
  cameraPort,
  correctorOf,
  focalRatio,
  workingFocalRatio,
  type Corrector,
  type HostRow,
  type Port,
  type PublishedFigure,
  type Train
} from '../train/model.ts';

/** What sets the back focus of a train, and where its ledger starts. */
export interface Datum {
  /** Element id of the corrector, or `host`. */
  id: string;
  /** Index of the corrector in `elements`; −1 when counting starts at the host's camera face. */
  index: number;
  corrector: Corrector | undefined;
  /** The face the back focus is counted from. */
  port: Port | undefined;
}

/** The last optically active element, else the host. */
export function datumOf(train: Train): Datum {
  const index = train.elements.findIndex((element) => correctorOf(element) !== undefined);
  const element = train.elements[index];
  return element
    ? { id: element.id, index, corrector: correctorOf(element), port: cameraPort(element) }
    : { id: HOST, index: -1, corrector: train.host.corrector, port: train.host.camera };
}

/** A table row counts as the owner's host when it is within one part in a hundred. */
const ROW_MATCH = 0.01;

function deviation(row: HostRow, train: Train): number {
  const { apertureMm, focalLengthMm } = train.host;
  const pairs = [
    [row.focalLengthMm, focalLengthMm],
    [row.fRatio, focalRatio(train)],
    [row.apertureMm, apertureMm]
  ] as const;
  return Math.max(...pairs.map(([stated, actual]) => (stated === undefined ? 0 : Math.abs(actual - stated) / stated)));
}

/** The row of a corrector's table that is meant for this host: the closest within 1 %. */
function rowForHost(rows: readonly HostRow[], train: Train): HostRow | undefined {
  return rows
    .map((row) => ({ row, off: deviation(row, train) }))
    .filter(({ off }) => off <= ROW_MATCH + 1e-12)
    .sort((a, b) => a.off - b.off)[0]?.row;
}

/** Where the nominal back focus comes from. */
export type NominalSource = 'published' | 'table' | 'range' | 'free' | 'none';

export interface Nominal {
  mm: number | null;
  source: NominalSource;
  row?: HostRow;
}

/** The published back focus that holds for this host. A range counts as its middle. */
export function nominalBackFocus(corrector: Corrector | undefined, train: Train): Nominal {
  if (!corrector) return { mm: null, source: 'none' };
  const row = corrector.byHost && rowForHost(corrector.byHost, train);
  if (row) return { mm: row.backFocusMm, source: 'table', row };
  if (corrector.backFocusMm !== undefined) return { mm: corrector.backFocusMm, source: 'published' };
  if (corrector.rangeMm) return { mm: (corrector.rangeMm[0] + corrector.rangeMm[1]) / 2, source: 'range' };
  return corrector.free ? { mm: null, source: 'free' } : { mm: null, source: 'none' };
}

/** The planes a back focus is counted from, in words. */
export const DATUM_WORDS: Readonly<Record<NonNullable<Corrector['datum']>, string>> = {
  shoulder: 'the shoulder',
  'thread-tip': 'the thread tip',
  'last-surface': 'the last lens surface'
};

/** A length counted from a stated datum. */
export type FromDatum = Pick<Corrector, 'datum' | 'datumOffsetMm'>;

/**
 * From the stated datum to the shoulder, mm: 0 for `shoulder`, + male thread length for `thread-tip`,
 * − depth of the vertex for `last-surface`. Undefined where that length is not stated.
 */
export function datumCorrection(
  { datum = 'shoulder', datumOffsetMm }: FromDatum,
  port: Port | undefined
): number | undefined {
  switch (datum) {
    case 'shoulder':
      return 0;
    case 'thread-tip':
      return datumOffsetMm ?? maleLength(port);
    case 'last-surface':
      return datumOffsetMm === undefined ? undefined : 0 - datumOffsetMm;
  }
}

/**
 * The same back focus counted from another plane, mm.
 *
 * @param figure back focus from its stated datum
 * @returns undefined where the length between the two planes is not known: the depth of the glass is stated for its own
 * plane alone
 */
export function countedFrom(
  plane: NonNullable<Corrector['datum']>,
  figure: FromDatum & Pick<Corrector, 'backFocusMm'>,
  port: Port | undefined
): number | undefined {
  const { backFocusMm, datum = 'shoulder' } = figure;
  if (backFocusMm === undefined || plane === datum) return backFocusMm;
  const here = datumCorrection(figure, port);
  const there = datumCorrection({ datum: plane }, port);
  return here === undefined || there === undefined ? undefined : backFocusMm + here - there;
}

/** A published figure that disagrees with the one the train goes by. */
export interface Disagreement {
  figure: PublishedFigure;
  /** Shoulder to sensor by this figure, less the same by the one in use, mm. */
  apartMm: number;
}

/** Published figures within this of each other agree: makers round to a tenth (common practice, no source), mm. */
const AGREED_MM = 0.05 + 1e-9;

/**
 * Published figures that disagree with the one in use, all brought to the shoulder (handbook §2). A table's row is
 * for one host and the figures are not, so they are compared with what holds for the others. A range disagrees only
 * beyond its ends.
 *
 * @returns those whose datum is known; none once the owner's tuned value has replaced what is published
 */
export function disagreements(corrector: Corrector, port: Port | undefined): Disagreement[] {
  const { backFocusMm, rangeMm, tunedMm, published = [] } = corrector;
  const own = datumCorrection(corrector, port);
  const [from, to] = rangeMm ?? [backFocusMm, backFocusMm];
  if (tunedMm !== undefined || own === undefined || from === undefined || to === undefined) return [];
  return published.flatMap((figure) => {
    const correction = datumCorrection(figure, port);
    if (correction === undefined) return [];
    const toShoulderMm = figure.backFocusMm + correction - own;
    const apartMm = toShoulderMm - Math.min(to, Math.max(from, toShoulderMm));
    return Math.abs(apartMm) <= AGREED_MM ? [] : [{ figure, apartMm }];
  });
}

export const maleLength = (port: Port | undefined): number | undefined =>
  port && 'thread' in port && port.gender === 'male' ? port.lengthMm : undefined;

/** Focal ratio N·m of the beam behind the corrector, of a host that is stopped down by what it works at. */
export const effectiveFocalRatio = (train: Train, corrector: Corrector | undefined): number =>
  workingFocalRatio(train) * (corrector?.magnification ?? 1);

/** Half-diagonal of the sensors the practice points come from, mm. */
const USUAL_HALF_DIAGONAL_MM = 14.1;

/** Half-diagonal of the train's sensor, mm; undefined where not known. */
export function halfDiagonal(train: Train): number | undefined {
  const camera = train.elements.at(-1);
  const sensor = camera?.kind === 'camera' ? camera.sensor : undefined;
  return sensor && Math.hypot(sensor.widthMm, sensor.heightMm) / 2;
}

/** What a sensor of this size makes of the rule: off-axis blur grows with the square of the image height. */
export const sensorFactor = (halfDiagonalMm: number | undefined): number =>
  halfDiagonalMm === undefined ? 1 : Math.min(2, Math.max(0.25, (USUAL_HALF_DIAGONAL_MM / halfDiagonalMm) ** 2));

/**
 * Tolerance to aim for where the maker states none, mm: 0.1 at f/4, 1 at f/6.3, between and beyond on a log-log line,
 * times (14.1 / half-diagonal)² of the sensor where it is known, that factor within 0.25 to 2, the whole never under
 * 0.05 or over 1.0 (handbook §2; common practice, no source).
 *
 * @param effectiveRatio N·m of the beam behind the corrector
 * @param halfDiagonalMm of the sensor, mm
 */
export function toleranceByRule(effectiveRatio: number, halfDiagonalMm?: number): number {
  const slope = Math.log(1 / 0.1) / Math.log(6.3 / 4);
  const bySpeed = 0.1 * (effectiveRatio / 4) ** slope;
  return Math.min(1, Math.max(0.05, bySpeed * sensorFactor(halfDiagonalMm)));
}

export type ToleranceSource = 'stated' | 'range' | 'rule';

/** How far off the required length a train may be, mm, and who says so. */
export function toleranceOf(
  corrector: Corrector,
  nominal: Nominal,
  train: Train
): { mm: number; source: ToleranceSource } {
  if (nominal.source === 'range' && corrector.rangeMm && corrector.tunedMm === undefined) {
    return { mm: (corrector.rangeMm[1] - corrector.rangeMm[0]) / 2, source: 'range' };
  }
  if (corrector.toleranceMm !== undefined) return { mm: corrector.toleranceMm, source: 'stated' };
  return { mm: toleranceByRule(effectiveFocalRatio(train, corrector), halfDiagonal(train)), source: 'rule' };
}
