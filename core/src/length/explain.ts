import { engagement } from '../joint/joints.ts';
import { portInWords } from '../joint/mate.ts';
import { findElement, focalRatio, isSolid, nameOf, type Train } from '../train/model.ts';
import { DATUM_WORDS } from './backFocus.ts';
import { dialAnswer } from './dial.ts';
import { indexOf, marginalHalfAngle } from './glass.ts';
import { ASSUMED_CALIPER_MM, type Entry, type GlassTerm, type Ledger } from './ledger.ts';
import { uncertaintyOf } from './uncertainty.ts';
import { plainMm } from './wording.ts';

/** A number of the verdict or the ledger that a person can ask "why?" of. */
export type Subject =
  | { of: 'actual' }
  | { of: 'required' }
  | { of: 'residual' }
  | { of: 'tolerance' }
  | { of: 'glass' }
  | { of: 'part'; id: string }
  | { of: 'slot'; slot: number }
  | { of: 'dial' }
  | { of: 'worst-case' }
  | { of: 'standard' }
  | { of: 'probability' };

export interface ExplanationLine {
  label: string;
  /** Signed, mm. */
  mm: number;
  /** Where this number comes from. */
  source: string;
}

/** How a number came about: lines that combine to `result`. */
export interface Explanation {
  title: string;
  lines: ExplanationLine[];
  /** `sum`: lines add up to the result. `quadrature`: the root of their squares does. `formula`: see `formula`. */
  combine: 'sum' | 'quadrature' | 'formula';
  formula?: string;
  result: number;
  unit: 'mm' | 'probability';
}

const FROM_WORDS: Readonly<Record<Entry['from'], string>> = {
  published: 'published length',
  measured: 'measured length',
  joint: 'joint opening',
  shim: 'shim',
  recess: 'recessed into its neighbour',
  dial: 'dial setting'
};

function jointSource(ledger: Ledger, id: string): string {
  const joint = ledger.joints.find(({ cameraId }) => cameraId === id);
  if (!joint) return 'joint';
  if (joint.stated) return 'opening as measured';
  const held = engagement(joint);
  const threads = [joint.sky, joint.camera].filter((port) => port !== undefined).map(portInWords);
  return `the thread bottoms: ${threads.join(' into ')}${held === undefined ? '' : `, ${plainMm(held)} holds`}`;
}

function entrySource(train: Train, ledger: Ledger, entry: Entry): string {
  const element = findElement(train, entry.id);
  switch (entry.from) {
    case 'measured': {
      const measured = element && isSolid(element) ? element.measured : undefined;
      const off = element && isSolid(element) ? entry.mm - element.lengthMm : 0;
      return `measured ±${plainMm(measured?.uncertaintyMm ?? ASSUMED_CALIPER_MM)}; published ${plainMm(entry.mm - off)}`;
    }
    case 'published': {
      const tolerance = element && isSolid(element) ? element.toleranceMm : undefined;
      return tolerance === undefined ? 'published, tolerance not stated' : `published ±${plainMm(tolerance)}`;
    }
    case 'joint':
      return jointSource(ledger, entry.id);
    default:
      return FROM_WORDS[entry.from];
  }
}

function entryLine(train: Train, ledger: Ledger, entry: Entry): ExplanationLine {
  const prefix = entry.from === 'published' || entry.from === 'measured' ? '' : `${FROM_WORDS[entry.from]}: `;
  return {
    label: `${prefix}${nameOf(train, entry.id)}`,
    mm: entry.mm,
    source: entrySource(train, ledger, entry)
  };
}

function glassLine(ledger: Ledger, train: Train, { id, plate, shiftMm }: GlassTerm): ExplanationLine {
  const label = `${plate.name ?? 'glass'}, ${plainMm(plate.thicknessMm)} thick, in ${nameOf(train, id)}`;
  const index = indexOf(plate).toFixed(4);
  const source =
    ledger.rule === 'third'
      ? 't/3, rule of thumb'
      : ledger.rule === 'paraxial'
        ? `t (1 − 1/n), n = ${index}`
        : `marginal ray, n = ${index}, θ = ${((marginalHalfAngle(ledger.focalRatio) * 180) / Math.PI).toFixed(2)}°`;
  return { label, mm: shiftMm, source };
}

function baseLine(train: Train, ledger: Ledger): ExplanationLine[] {
  const { required, nominal, datum } = ledger;
  const by = nameOf(train, datum.id);
  if (required.tunedMm !== null) {
    const published = nominal.mm === null ? '' : `; published ${plainMm(nominal.mm)}`;
    return [{ label: `back focus of ${by}, tuned`, mm: required.tunedMm, source: `found by testing${published}` }];
  }
  if (nominal.mm === null) return [];
  const others = (datum.corrector?.published ?? []).map(
    ({ source, backFocusMm, datum: from = 'shoulder' }) =>
      `; “${source}”: ${plainMm(backFocusMm)} from ${DATUM_WORDS[from]}`
  );
  const source = {
    published: `published${others.join('')}`,
    table: 'from its table, the row for this host',
    range: 'the middle of its range',
    free: '',
    none: ''
  }[nominal.source];
  return [{ label: `back focus of ${by}`, mm: nominal.mm, source }];
}

function requiredLines(train: Train, ledger: Ledger): ExplanationLine[] {
  const { datumMm } = ledger.required;
  const correction =
    datumMm === null || datumMm === 0
      ? []
      : [
          {
            label: 'from the stated datum to the shoulder',
            mm: datumMm,
            source:
              ledger.datum.corrector?.datum === 'thread-tip'
                ? 'counted from the thread tip: + male thread length'
                : 'counted from the last surface: − its depth'
          }
        ];
  return [...baseLine(train, ledger), ...correction, ...ledger.glass.map((term) => glassLine(ledger, train, term))];
}

function toleranceExplanation(train: Train, ledger: Ledger, result: number): Explanation {
  const source = {
    stated: 'stated by the maker',
    range: 'half the width of the range',
    rule: `rule of thumb for f/${ledger.focalRatio.toFixed(2)}: 0.1 at f/4, 1 at f/6.3, on a log-log line`
  }[ledger.toleranceSource ?? 'rule'];
  return {
    title: 'How far off it may be',
    lines: [{ label: `tolerance of ${nameOf(train, ledger.datum.id)}`, mm: result, source }],
    combine: 'sum',
    result,
    unit: 'mm'
  };
}

function slotExplanation(train: Train, ledger: Ledger, slot: number): Explanation | undefined {
  const wanted = ledger.slots.find((each) => each.slot === slot);
  const { totalMm } = ledger.required;
  if (!wanted || wanted.requiredMm === null || totalMm === null) return undefined;
  const sum = (title: string, lines: ExplanationLine[], result: number): Explanation => ({
    title,
    lines,
    combine: 'sum',
    result,
    unit: 'mm'
  });
  return sum(
    `What slot ${slot}, ${wanted.name}, asks for`,
    [
      { label: 'with the design slot', mm: totalMm, source: `f/${focalRatio(train).toFixed(2)} host` },
      {
        label: 'this slot’s glass instead',
        mm: wanted.requiredMm - totalMm,
        source: 'difference of the two focus shifts'
      }
    ],
    wanted.requiredMm
  );
}

const DOUBT_WORDS = {
  stated: 'published tolerance',
  assumed: 'not stated, assumed',
  measured: 'measurement, U (k = 2)'
} as const;

/**
 * The sum behind a number, line by line; the lines combine to exactly the number that is shown.
 *
 * @returns undefined where the train has no such number
 */
export function explain(train: Train, ledger: Ledger, subject: Subject): Explanation | undefined {
  const { required, residualMm, actualMm } = ledger;
  switch (subject.of) {
    case 'actual':
      return {
        title: `From the datum to the sensor`,
        lines: ledger.entries.map((entry) => entryLine(train, ledger, entry)),
        combine: 'sum',
        result: actualMm,
        unit: 'mm'
      };
    case 'part': {
      const entries = ledger.entries.filter(({ id }) => id === subject.id);
      if (entries.length === 0) return undefined;
      return {
        title: `What ${nameOf(train, subject.id)} adds`,
        lines: entries.map((entry) => entryLine(train, ledger, entry)),
        combine: 'sum',
        result: entries.reduce((sum, { mm }) => sum + mm, 0),
        unit: 'mm'
      };
    }
    case 'required':
      if (required.totalMm === null) return undefined;
      return {
        title: 'What the train has to measure',
        lines: requiredLines(train, ledger),
        combine: 'sum',
        result: required.totalMm,
        unit: 'mm'
      };
    case 'glass':
      if (required.glassMm === null) return undefined;
      return {
        title: 'Focus shift of the glass in the beam',
        lines: ledger.glass.map((term) => glassLine(ledger, train, term)),
        combine: 'sum',
        result: required.glassMm,
        unit: 'mm'
      };
    case 'residual':
      if (residualMm === null || required.totalMm === null) return undefined;
      return {
        title: 'Actual minus required',
        lines: [
          { label: 'the train measures', mm: actualMm, source: 'sum of its parts from the datum' },
          { label: 'it has to measure', mm: -required.totalMm, source: 'back focus, datum and glass' }
        ],
        combine: 'sum',
        result: residualMm,
        unit: 'mm'
      };
    case 'tolerance':
      return required.toleranceMm === null ? undefined : toleranceExplanation(train, ledger, required.toleranceMm);
    case 'slot':
      return slotExplanation(train, ledger, subject.slot);
    case 'dial': {
      const dial = dialAnswer(train, ledger);
      const element = dial && findElement(train, dial.id);
      if (!dial || !element || residualMm === null || !('adjust' in element) || !element.adjust) return undefined;
      const exact = element.adjust.setMm - residualMm;
      return {
        title: `Where to set ${element.name}`,
        lines: [
          { label: 'set now', mm: element.adjust.setMm, source: 'in the document' },
          { label: 'take the residual off', mm: -residualMm, source: 'actual minus required' },
          {
            label: 'rounded to its step and kept on its scale',
            mm: dial.setMm - exact,
            source: `${element.adjust.minMm} to ${element.adjust.maxMm}${element.adjust.stepMm ? ` in steps of ${element.adjust.stepMm}` : ''}`
          }
        ],
        combine: 'sum',
        result: dial.setMm,
        unit: 'mm'
      };
    }
    case 'worst-case':
    case 'standard':
    case 'probability':
      return doubtExplanation(train, ledger, subject.of);
  }
}

function doubtExplanation(
  train: Train,
  ledger: Ledger,
  of: 'worst-case' | 'standard' | 'probability'
): Explanation | undefined {
  const { worstCaseMm, standardMm, probabilityInTolerance } = uncertaintyOf(
    ledger.doubts,
    ledger.residualMm,
    ledger.required.toleranceMm
  );
  if (of === 'probability') {
    if (probabilityInTolerance === null || ledger.residualMm === null) return undefined;
    return {
      title: 'Chance that the true length is inside the tolerance',
      lines: [
        { label: 'residual', mm: ledger.residualMm, source: 'actual minus required' },
        { label: 'tolerance, either way', mm: ledger.required.toleranceMm ?? 0, source: 'of the back focus' },
        { label: 'standard uncertainty', mm: standardMm, source: 'of the sum of lengths' }
      ],
      combine: 'formula',
      formula: 'area of a normal curve between the two ends of the tolerance',
      result: probabilityInTolerance,
      unit: 'probability'
    };
  }
  return {
    title:
      of === 'worst-case' ? 'All doubts in the same direction' : 'Doubts combined as independent (JCGM 100 §5.1.2)',
    lines: ledger.doubts.map(({ id, halfWidthMm, standardMm: u, kind }) => ({
      label: nameOf(train, id),
      mm: of === 'worst-case' ? halfWidthMm : u,
      source:
        of === 'worst-case'
          ? DOUBT_WORDS[kind]
          : kind === 'measured'
            ? 'U/2'
            : `±${plainMm(halfWidthMm)} ${findMeasured(train, id) ? '/ 2' : '/ √3'}`
    })),
    combine: of === 'worst-case' ? 'sum' : 'quadrature',
    result: of === 'worst-case' ? worstCaseMm : standardMm,
    unit: 'mm'
  };
}

function findMeasured(train: Train, id: string): boolean {
  const element = findElement(train, id);
  return element !== undefined && isSolid(element) && element.measured !== undefined;
}
