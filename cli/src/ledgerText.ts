import {
  assess,
  explain,
  nextStep,
  plainMm,
  verdictInWords,
  type CheckReport,
  type Explanation,
  type Train
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
    ...sum.lines.map(({ label, mm, source }) => row(label, mm, source)),
    rule,
    row(total, sum.result),
    ''
  ];
}

/** The ledger of a train for a terminal: both sums, verdict, slots, doubt, problems. Lengths in mm. */
export function ledgerText(train: Train, report: CheckReport): string {
  const assessment = assess(train);
  const { ledger } = assessment;
  const { uncertainty, problems, slots, required } = report;
  const inTolerance =
    uncertainty.probabilityInTolerance === null
      ? ''
      : ` · chance of being in tolerance ${Math.round(uncertainty.probabilityInTolerance * 100)} %`;
  return [
    `${train.name}, lengths in mm`,
    '',
    ...sumText('Actual', explain(train, ledger, { of: 'actual' }), 'from the datum to the sensor'),
    ...sumText('Required', explain(train, ledger, { of: 'required' }), 'what it has to measure'),
    `${verdictInWords(report.verdict, report.residualMm)}${required.toleranceMm === null ? '' : ` (tolerance ±${plainMm(required.toleranceMm)})`}. ${nextStep(train, assessment).sentence}`,
    `Doubt of the sum ±${plainMm(2 * uncertainty.standardMm)} (worst case ${plainMm(uncertainty.worstCaseMm)})${inTolerance}`,
    ...(slots.length === 0
      ? []
      : [
          '',
          'Slots',
          ...slots.map(({ slot, name, requiredMm, residualMm }) =>
            requiredMm === null || residualMm === null
              ? `  ${slot}  ${name}`
              : row(`${slot}  ${name}`, requiredMm, verdictInWords(residualMm < 0 ? 'short' : 'long', residualMm))
          )
        ]),
    ...(problems.length === 0
      ? []
      : ['', 'Problems', ...problems.map(({ severity, message }) => `  ${severity.padEnd(7)}  ${message}`)]),
    ''
  ].join('\n');
}
