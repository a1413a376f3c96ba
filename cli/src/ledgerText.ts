import {
  capitalised,
  formatLength,
  formatTolerance,
  plainMm,
  residualInWords,
  type Explanation
} from '@lodestone/core/why';
import { explain, filledInWords, nextStep, type Assessment, type Finding } from '@lodestone/core/check';
import type { FocusAnswer } from '@lodestone/core/focus';

const NUMBER_WIDTH = 9;
const LABEL_WIDTH = 44;

const shorten = (text: string): string => (text.length > LABEL_WIDTH ? `${text.slice(0, LABEL_WIDTH - 1)}…` : text);

const row = (label: string, mm: number, source = ''): string =>
  `  ${shorten(label).padEnd(LABEL_WIDTH)} ${plainMm(mm).padStart(NUMBER_WIDTH)}  ${source}`.trimEnd();

const rule = `  ${' '.repeat(LABEL_WIDTH)} ${'─'.repeat(NUMBER_WIDTH)}`;

function sumText(heading: string, sum: Explanation | undefined, total: string): string[] {
  if (!sum) return [];
  return [
    heading,
    ...sum.lines.map(({ label, quantity, source }) => row(label, quantity.value, source('mm'))),
    rule,
    row(total, sum.result.value),
    ''
  ];
}

/** Verdict and next step in one line. */
function verdictText(assessment: Assessment): string {
  const { required, toleranceSource } = assessment.ledger;
  const assumed = toleranceSource === 'rule' ? ' assumed' : '';
  const tolerance = required.toleranceMm === null ? '' : ` (tolerance ±${plainMm(required.toleranceMm)}${assumed})`;
  return `${assessment.verdictInWords('mm')}${tolerance}. ${nextStep(assessment, 'mm').sentence}`;
}

function uncertaintyText({ facts, uncertainty, chanceInWords }: Assessment): string {
  const likely = chanceInWords === null ? '' : ` · ${chanceInWords}`;
  return `Uncertainty of the length ±${formatTolerance(facts.spread.halfWidth95Mm, 'mm')} (95 %); worst case ±${formatTolerance(uncertainty.worstCaseMm, 'mm')}${likely}`;
}

const LEVEL_WORDS: Readonly<Record<Finding['level'], string>> = {
  error: 'error',
  warning: 'warning',
  'not-known': 'not known',
  assumed: 'assumed',
  passed: ''
};

const share = (of: number): string => `${(of * 100).toFixed(0)} %`;

/** What light, guiding, load and focus are judged of, where the train has gaps. */
function filledText({ facts }: Assessment): string[] {
  const rests = filledInWords(facts, 'mm');
  return rests === undefined ? [] : ['', `${capitalised(rests)}:`];
}

/** What reaches the sensor, in two lines. */
function lightText({ facts, report: { light } }: Assessment): string[] {
  if (!light) return [];
  const { focalLengthMm, fRatio, magnification, scaleArcsecPerPx, fieldDeg, depthOfFocusMm, illumination } = light;
  const by = magnification ? ` (${magnification.reckoned.toFixed(3)}×, thin-lens estimate)` : '';
  const field = fieldDeg.map((degrees) => `${degrees.toFixed(2)}°`).join(' × ');
  return [
    '',
    `Light     ${focalLengthMm.toFixed(0)} mm at f/${fRatio.toFixed(2)}${by}; ${scaleArcsecPerPx.toFixed(2)} ″/px, field ${field}; depth of focus ±${formatLength(depthOfFocusMm, 'mm', 3)}`,
    `          centre ${share(illumination.centre)}, edge ${share(illumination.edge)}, corner ${share(illumination.corner)} of the light${facts.light?.isPartlyKnown ? ', as far as openings are stated' : ''}`
  ];
}

const GUIDE_WORDS = {
  reaches: 'reaches',
  short: 'cannot go so far out',
  long: 'cannot come so near',
  unknown: 'whether it reaches is not known'
} as const;

/** Where the guide camera has to stand, in a line. */
function guideText({ report: { guide } }: Assessment): string[] {
  if (!guide) return [];
  const at = guide.atMm === null ? '' : `, its shoulder ${formatLength(guide.atMm, 'mm')} from the axis`;
  return [
    `Guiding   guide sensor ${formatLength(guide.requiredMm, 'mm')} from the reflecting point${at}: ${GUIDE_WORDS[guide.verdict]}`
  ];
}

/** What hangs on the host, in a line. */
function loadText({ report: { load } }: Assessment): string[] {
  if (load.massG === 0) return [];
  const least = load.unweighed.length > 0 ? 'at least ' : '';
  const centre =
    load.centreOfMassMm === null
      ? ''
      : `, centre of mass ${formatLength(load.centreOfMassMm, 'mm', 0)} behind the host’s face`;
  return [`Load      ${least}${(load.massG / 1000).toFixed(2)} kg${centre}: ${load.momentNm.toFixed(2)} N·m`];
}

const FOCUS_WORDS = {
  reaches: 'reaches',
  'no-inward': 'cannot go so far in',
  'no-outward': 'cannot come so far out',
  unknown: 'whether it reaches is not known'
} as const;

/** Where the draw tube has to stand, in a line. */
function reachText({ report: { focus } }: Assessment): string[] {
  if (!focus) return [];
  const { extensionMm, travelMm, verdict, tubeMm } = focus;
  const at = extensionMm === null ? '' : `in focus with the draw tube ${formatLength(extensionMm, 'mm')} out, `;
  const of = travelMm === null ? 'travel not stated' : `of ${formatLength(travelMm, 'mm')}`;
  const tube = tubeMm === null ? '' : `; a tube of ${formatLength(tubeMm, 'mm', 0)} would bring it to the middle`;
  return [`Focus     ${at}${of}: ${FOCUS_WORDS[verdict]}${tube}`];
}

/** What a run says of the focus, for a terminal. */
export function focusText({
  bestPosition,
  standard,
  minHfrPx,
  used,
  left,
  nextPosition,
  enough,
  why
}: FocusAnswer): string {
  const next = nextPosition === null ? [] : [`${enough ? 'Go to' : 'Try next'}  ${nextPosition}`];
  return [
    bestPosition === null || standard === null || minHfrPx === null
      ? `No best position: ${why ?? ''}`
      : `Best position ${bestPosition.toFixed(1)} ±${standard.toFixed(1)} (u), smallest HFR ${minHfrPx.toFixed(2)} px, from ${used.length} points`,
    ...next,
    ...(enough ? ['Enough: another frame does not improve it.'] : []),
    ...left.map(({ index, why: reason }) => `excluded  point ${index + 1}: ${reason}`),
    ''
  ].join('\n');
}

/** The ledger of a train for a terminal: both sums, verdict, slots, uncertainty, findings. Lengths in mm. */
export function ledgerText(assessment: Assessment): string {
  const { facts, findings, ledger } = assessment;
  const told = findings.filter(({ level, code }) => level !== 'passed' && code !== 'length');
  return [
    `${facts.train.name}, lengths in mm`,
    '',
    ...sumText('Actual', explain(facts, 'length.actual'), 'from the datum to the sensor'),
    ...sumText('Required', explain(facts, 'length.required'), 'required, datum to sensor'),
    verdictText(assessment),
    uncertaintyText(assessment),
    ...(ledger.slots.length === 0
      ? []
      : [
          '',
          'Slots',
          ...ledger.slots.map(({ slot, name, requiredMm, residualMm }) =>
            requiredMm === null || residualMm === null
              ? `  ${slot}  ${name}`
              : row(`${slot}  ${name}`, requiredMm, residualInWords(residualMm, 'mm'))
          )
        ]),
    ...filledText(assessment),
    ...lightText(assessment),
    ...guideText(assessment),
    ...loadText(assessment),
    ...reachText(assessment),
    ...(told.length === 0
      ? []
      : ['', 'Findings', ...told.map(({ level, say }) => `  ${LEVEL_WORDS[level].padEnd(9)}  ${say('mm')}`)]),
    ''
  ].join('\n');
}
