import { degrees } from '../stats/angles.ts';
import { engagement } from '../joint/seating.ts';
import { portInWords } from '../joint/mate.ts';
import { detachablesOf } from '../train/detachable.ts';
import { findElement, isSolid, nameOf, type Element, type Train } from '../train/model.ts';
import { publishedBy } from '../train/sources.ts';
import type { Explanation, ExplanationLine } from '../why/explanation.ts';
import { mm } from '../why/quantity.ts';
import { formatLength, formatTolerance, listed, type LengthUnit } from '../why/wording.ts';
import { DATUM_WORDS, halfDiagonal, sensorFactor } from './backFocus.ts';
import { dialAnswer, lengthDials } from './dial.ts';
import { indexOf, marginalHalfAngle } from './glass.ts';
import type { GlassTerm } from './glassInBeam.ts';
import type { Entry, Ledger } from './ledger.ts';

type Source = (unit: LengthUnit) => string;

const FROM_WORDS: Readonly<Record<Entry['from'], string>> = {
  published: 'published length',
  measured: 'measured length',
  joint: 'joint opening',
  shim: 'shim',
  recess: 'recessed into its neighbour',
  dial: 'adjuster'
};

const said =
  (words: string): Source =>
  () =>
    words;

const sum = (title: string, lines: ExplanationLine[], resultMm: number): Explanation => ({
  title,
  lines,
  combine: 'sum',
  result: mm(resultMm)
});

function jointSource(ledger: Ledger, id: string): Source {
  const joint = ledger.joints.find(({ cameraId }) => cameraId === id);
  if (!joint) return said('joint');
  if (joint.stated) return said('opening as measured');
  if (joint.rimMm > 0 && !joint.byThread) {
    return (unit) => `rests on the rim of the bore, ${formatLength(joint.rimMm, unit)} from the ring in it`;
  }
  const held = engagement(joint.pair, joint.apartMm);
  const threads = [joint.sky, joint.camera].filter((port) => port !== undefined).map(portInWords);
  return (unit) =>
    `the thread bottoms out: ${threads.join(' into ')}${held === undefined ? '' : `, ${formatLength(held, unit)} engaged`}`;
}

/** What of a part's length is that of pieces that can be taken off it. */
function piecesOn(element: Element | undefined): Source {
  const on = element ? detachablesOf(element).filter((piece) => piece.on && piece.lengthMm > 0) : [];
  return (unit) =>
    on.length === 0
      ? ''
      : `; ${listed(on.map(({ name, lengthMm }) => `${formatLength(lengthMm, unit)} of it ${name}`))}`;
}

function entrySource(train: Train, ledger: Ledger, entry: Entry): Source {
  const group = ledger.groups.inForce.find(({ group: { from } }) => from === entry.id && entry.from === 'measured');
  if (group) {
    const { uncertaintyMm } = group.group;
    return (unit) =>
      `measured together${uncertaintyMm === undefined ? '' : `, ±${formatTolerance(uncertaintyMm, unit)}`}`;
  }
  const element = findElement(train, entry.id);
  const solid = element && isSolid(element) ? element : undefined;
  const withPieces = piecesOn(element);
  switch (entry.from) {
    case 'measured': {
      const uncertaintyMm = solid?.measured?.uncertaintyMm;
      const stated = (unit: LengthUnit): string =>
        uncertaintyMm === undefined ? ', uncertainty not stated' : ` ±${formatTolerance(uncertaintyMm, unit)}`;
      return (unit) =>
        `measured${stated(unit)}; published ${formatLength(solid?.lengthMm ?? entry.mm, unit)}${withPieces(unit)}`;
    }
    case 'published': {
      const toleranceMm = solid?.toleranceMm;
      return (unit) =>
        toleranceMm === undefined
          ? `published, tolerance not stated${withPieces(unit)}`
          : `published ±${formatTolerance(toleranceMm, unit)}${withPieces(unit)}`;
    }
    case 'joint':
      return jointSource(ledger, entry.id);
    case 'recess': {
      const joint = ledger.joints.find(({ cameraId }) => cameraId === entry.id);
      if (!joint) return said('sits inside its neighbour: it adds no length');
      return said(joint.recessTyped ? 'recess as typed' : 'sinks to the bottom of the bore');
    }
    case 'dial':
      return said('as it is set');
    case 'shim':
      return said('between the shoulders');
  }
}

function entryLine(train: Train, ledger: Ledger, entry: Entry): ExplanationLine {
  const prefix = entry.from === 'published' || entry.from === 'measured' ? '' : `${FROM_WORDS[entry.from]}: `;
  const group = ledger.groups.inForce.find(({ group: { from } }) => from === entry.id && entry.from === 'measured');
  const name = group ? `${nameOf(train, entry.id)} to ${nameOf(train, group.group.to)}` : nameOf(train, entry.id);
  return {
    label: `${prefix}${name}`,
    quantity: mm(entry.mm),
    source: entrySource(train, ledger, entry),
    ...(prefix === '' ? publishedBy(train, entry.id, 'length') : {})
  };
}

function glassLine(ledger: Ledger, train: Train, { id, plate, shiftMm }: GlassTerm): ExplanationLine {
  const index = indexOf(plate).toFixed(4);
  const source = {
    third: 't/3, rule of thumb',
    paraxial: `t (1 − 1/n), n = ${index}`,
    none: 'not counted, as chosen',
    marginal: `marginal ray, n = ${index}, θ = ${degrees(marginalHalfAngle(ledger.focalRatio)).toFixed(2)}°`
  }[ledger.rule];
  return {
    label: `${plate.name ?? 'glass'} in ${nameOf(train, id)}`,
    quantity: mm(shiftMm),
    source: (unit) => `${formatLength(plate.thicknessMm, unit)} thick: ${source}`,
    ...publishedBy(train, id, 'glass')
  };
}

function baseLine(train: Train, ledger: Ledger): ExplanationLine[] {
  const { required, nominal, datum } = ledger;
  const by = nameOf(train, datum.id);
  const nominalMm = nominal.mm;
  const published = publishedBy(train, datum.id, 'back-focus');
  if (required.tunedMm !== null) {
    const source: Source = (unit) =>
      `found by testing${nominalMm === null ? '' : `; published ${formatLength(nominalMm, unit)}`}`;
    return [{ label: `back focus of ${by}, tuned`, quantity: mm(required.tunedMm), source, ...published }];
  }
  if (nominalMm === null) return [];
  const further = datum.corrector?.published ?? [];
  const source: Source = (unit) => {
    if (nominal.source === 'table') return 'from its table, the row for this host';
    if (nominal.source === 'range') return 'the middle of its range';
    const others = further.map(
      (figure) =>
        `; “${figure.source}”: ${formatLength(figure.backFocusMm, unit)} from ${DATUM_WORDS[figure.datum ?? 'shoulder']}`
    );
    return `published${others.join('')}`;
  };
  return [{ label: `back focus of ${by}`, quantity: mm(nominalMm), source, ...published }];
}

/** Pieces of the host that are taken off. */
const offHost = ({ host }: Train) => (host.detachable ?? []).filter(({ on, lengthMm }) => !on && lengthMm > 0);

function requiredLines(train: Train, ledger: Ledger): ExplanationLine[] {
  const { datumMm, allowedGlassMm } = ledger.required;
  const lines = baseLine(train, ledger);
  const off = datumMm !== null && ledger.datum.index < 0 ? offHost(train) : [];
  const toShoulderMm = (datumMm ?? 0) - off.reduce((total, { lengthMm }) => total + lengthMm, 0);
  for (const { name, lengthMm } of off) {
    lines.push({
      label: `${name}, taken off ${train.host.name}`,
      quantity: mm(lengthMm),
      source: said('its back focus is counted from the face with it on')
    });
  }
  if (Math.abs(toShoulderMm) > 1e-9) {
    const tip = ledger.datum.corrector?.datum === 'thread-tip';
    lines.push({
      label: 'from the stated datum to the shoulder',
      quantity: mm(toShoulderMm),
      source: said(
        tip ? 'measured from the thread tip: + male thread length' : 'measured from the last lens surface: − its depth'
      )
    });
  }
  if (allowedGlassMm !== undefined) {
    lines.push({
      label: 'filter the published figure already allows for',
      quantity: mm(-allowedGlassMm),
      source: said('stated by the maker')
    });
  }
  return [...lines, ...ledger.glass.map((term) => glassLine(ledger, train, term))];
}

function toleranceExplanation(train: Train, ledger: Ledger, result: number): Explanation {
  const half = halfDiagonal(train);
  const factor = sensorFactor(half);
  const bySensor =
    half === undefined ? '' : `, × ${factor.toFixed(2)} for a sensor of ${(2 * half).toFixed(1)} mm diagonal`;
  const source = {
    stated: 'stated by the maker',
    range: 'half the width of the range',
    rule: `rule of thumb for f/${ledger.focalRatio.toFixed(2)}: 0.1 mm at f/4, 1 mm at f/6.3, on a log-log line${bySensor}; within 0.05 to 1.0 mm`
  }[ledger.toleranceSource ?? 'rule'];
  const label = `tolerance of ${nameOf(train, ledger.datum.id)}`;
  const published = ledger.toleranceSource === 'stated' ? publishedBy(train, ledger.datum.id, 'tolerance') : {};
  return sum('How far off it may be', [{ label, quantity: mm(result), source: said(source), ...published }], result);
}

/** @param named `slot@element id` */
function slotExplanation(ledger: Ledger, named: string): Explanation | undefined {
  const [slot, ...id] = named.split('@');
  const wanted = ledger.slots.find((each) => each.slot === Number(slot) && each.id === id.join('@'));
  const { totalMm } = ledger.required;
  if (!wanted || wanted.requiredMm === null || totalMm === null) return undefined;
  return sum(
    `Back focus required by slot ${wanted.slot}, ${wanted.name}`,
    [
      {
        label: 'with the design slot',
        quantity: mm(totalMm),
        source: said('back focus, datum and glass'),
        why: 'length.required'
      },
      {
        label: 'this slot’s glass instead',
        quantity: mm(wanted.requiredMm - totalMm),
        source: said('difference of the two focus shifts')
      }
    ],
    wanted.requiredMm
  );
}

function dialExplanation(train: Train, ledger: Ledger): Explanation | undefined {
  const answer = dialAnswer(train, ledger);
  const { residualMm } = ledger;
  const dial =
    answer &&
    lengthDials(train, ledger).find(
      ({ id, kind }) => id === answer.id && (kind === 'lock-ring') === (answer.lockRing === true)
    );
  if (!answer || !dial || residualMm === null) return undefined;
  const { minMm, maxMm, stepMm, setMm } = dial;
  return sum(
    dial.kind === 'lock-ring'
      ? `How far to unscrew ${nameOf(train, dial.id)}`
      : `Where to set ${nameOf(train, dial.id)}`,
    [
      { label: 'set now', quantity: mm(setMm), source: said('in the document') },
      {
        label: 'take the residual off',
        quantity: mm(-residualMm),
        source: said('actual minus required'),
        why: 'length.residual'
      },
      {
        label: 'rounded to its step and kept on its scale',
        quantity: mm(answer.setMm - (setMm - residualMm)),
        source: (unit) =>
          `${formatLength(minMm, unit)} to ${formatLength(maxMm, unit)}${stepMm === undefined ? '' : ` in steps of ${formatLength(stepMm, unit)}`}`
      }
    ],
    answer.setMm
  );
}

/** Numbers of the length that can be asked: `length.part.ID`, `length.slot.NUMBER@ID` and those below. */
export type LengthSubject =
  | `length.${'actual' | 'required' | 'residual' | 'tolerance' | 'glass' | 'dial'}`
  | `length.part.${string}`
  | `length.slot.${string}`;

/**
 * The sum behind a length, line by line; the lines combine to exactly the number that is shown.
 *
 * @returns undefined where the train has no such number
 */
export function explainLength(train: Train, ledger: Ledger, subject: LengthSubject): Explanation | undefined {
  const { required, residualMm, actualMm } = ledger;
  const [, of, ...rest] = subject.split('.');
  const named = rest.join('.');
  switch (of) {
    case 'actual':
      return sum(
        'From the datum to the sensor',
        ledger.entries.map((entry) => entryLine(train, ledger, entry)),
        actualMm
      );
    case 'part': {
      const entries = ledger.entries.filter(({ id }) => id === named);
      if (entries.length === 0) return undefined;
      return sum(
        `What ${nameOf(train, named)} adds`,
        entries.map((entry) => entryLine(train, ledger, entry)),
        entries.reduce((total, entry) => total + entry.mm, 0)
      );
    }
    case 'required':
      if (required.totalMm === null) return undefined;
      return sum('Required, datum to sensor', requiredLines(train, ledger), required.totalMm);
    case 'glass':
      if (required.glassMm === null) return undefined;
      return sum(
        'Focus shift of the glass in the beam',
        ledger.glass.map((term) => glassLine(ledger, train, term)),
        required.glassMm
      );
    case 'residual':
      if (residualMm === null || required.totalMm === null) return undefined;
      return sum(
        'Actual minus required',
        [
          {
            label: 'the train measures',
            quantity: mm(actualMm),
            source: said('sum of its parts from the datum'),
            why: 'length.actual'
          },
          {
            label: 'required, datum to sensor',
            quantity: mm(-required.totalMm),
            source: said('back focus, datum and glass'),
            why: 'length.required'
          }
        ],
        residualMm
      );
    case 'tolerance':
      return required.toleranceMm === null ? undefined : toleranceExplanation(train, ledger, required.toleranceMm);
    case 'slot':
      return slotExplanation(ledger, named);
    case 'dial':
      return dialExplanation(train, ledger);
    default:
      return undefined;
  }
}
