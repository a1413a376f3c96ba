import { explain, nextStep, type Assessment } from '@lodestone/core/check';
import { quantityInWords, type LengthUnit, type Subject } from '@lodestone/core/why';

const SUMS = ['length.actual', 'length.required'] as const satisfies readonly Subject[];

/** A train in a few lines, as somebody would write them into a message: how it is, and the two sums. */
export function asText(assessment: Assessment, unit: LengthUnit): string {
  const { train, facts } = assessment;
  const sums = SUMS.flatMap((subject) => {
    const explanation = explain(facts, subject);
    if (!explanation) return [];
    const { title, lines, result } = explanation;
    return [
      '',
      title,
      ...lines.map(({ label, quantity }) => `  ${quantityInWords(quantity, unit)}  ${label}`),
      `  ${quantityInWords(result, unit)}  in all`
    ];
  });
  return [
    `${train.name}, ${train.host.name}: ${assessment.verdictInWords(unit)}.`,
    nextStep(assessment, unit).sentence,
    ...sums,
    ''
  ].join('\n');
}
