import {
  chanceInWords,
  explain,
  formatLength,
  nextStep,
  plainMm,
  residualInWords,
  verdictInWords,
  type Assessment,
  type Explanation,
  type Finding
} from '@lodestone/core';

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
  const { ledger, verdict, isBackFocusKnown, errors } = assessment;
  const { residualMm, required } = ledger;
  const allowed =
    required.toleranceMm === null
      ? ''
      : verdict === 'on-spec'
        ? ` (±${plainMm(required.toleranceMm)} allowed)`
        : ` (tolerance ±${plainMm(required.toleranceMm)})`;
  return `${verdictInWords(verdict, residualMm, 'mm', isBackFocusKnown, errors.length === 0)}${allowed}. ${nextStep(assessment).sentence}`;
}

function uncertaintyText({ facts, uncertainty }: Assessment): string {
  const chance = uncertainty.probabilityInTolerance;
  const likely = chance === null ? '' : ` · ${chanceInWords(chance)} within tolerance`;
  return `Uncertainty of the length ±${formatLength(facts.spread.halfWidth95Mm)} (95 %); worst case ±${formatLength(uncertainty.worstCaseMm)}${likely}`;
}

const LEVEL_WORDS: Readonly<Record<Finding['level'], string>> = {
  error: 'error',
  warning: 'warning',
  'not-known': 'not known',
  assumed: 'assumed',
  passed: ''
};

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
              : row(`${slot}  ${name}`, requiredMm, residualInWords(residualMm))
          )
        ]),
    ...(told.length === 0
      ? []
      : ['', 'Findings', ...told.map(({ level, say }) => `  ${LEVEL_WORDS[level].padEnd(9)}  ${say('mm')}`)]),
    ''
  ].join('\n');
}
