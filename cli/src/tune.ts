import { readExperimentsText, tuneFrom, type TuneAnswer } from '@lodestone/core/experiment';
import { GOOD, NOT_GOOD, parsed, readDocument } from './input.ts';

const mm = (value: number): string => `${value.toFixed(2)} mm`;

function text({ bestMm, interval95Mm, toleranceMm, outliers, nextMm, why }: TuneAnswer): string {
  const lines = [
    bestMm === null
      ? 'The best spacing is not known yet.'
      : `Best spacing ${mm(bestMm)}${interval95Mm ? `, between ${mm(interval95Mm[0])} and ${mm(interval95Mm[1])}` : ''}`,
    ...(toleranceMm === null ? [] : [`  this corrector forgives ±${mm(toleranceMm)}`]),
    ...(outliers.length === 0 ? [] : [`  left out: experiment ${outliers.map((index) => index + 1).join(', ')}`]),
    ...(nextMm === null ? [] : [`  try next: ${mm(nextMm)}`]),
    `  ${why}`
  ];
  return `${lines.join('\n')}\n`;
}

/** What spacings that were tried say together, and which to try next. */
export async function tune(words: readonly string[]): Promise<number> {
  const { file, values } = parsed(words, { json: { type: 'boolean' } });
  const { experiments, publishedMm } = await readDocument(file, readExperimentsText);
  const answer = tuneFrom(experiments, publishedMm);
  process.stdout.write(values.json ? `${JSON.stringify(answer, null, 2)}\n` : text(answer));
  return answer.enough ? GOOD : NOT_GOOD;
}
