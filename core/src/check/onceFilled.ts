import { capitalised, formatLength, type LengthUnit } from '../why/wording.ts';
import type { Facts } from './facts.ts';
import type { Finding } from './finding.ts';

/**
 * What an answer rests on where a train has gaps, as the beginning of a sentence: what is judged is the train as it will
 * stand, or, where nobody knows how much goes in, as it stands. Undefined where no gap matters.
 */
export function filledInWords({ train, filled, ledger }: Facts, unit: LengthUnit): string | undefined {
  const gaps = train.elements.filter(({ kind }) => kind === 'gap').length;
  const [gap, is] = gaps === 1 ? ['the gap', 'is'] : ['the gaps', 'are'];
  if (filled) return `once ${gap} ${is} filled with ${formatLength(filled.totalMm, unit)}`;
  return gaps > 0 && ledger.residualMm === null ? `with ${gap} empty` : undefined;
}

/** Words that begin a sentence and are nobody's name. */
const PLAIN = /^(The|It|Corner|Whether|At|With|What|Of|Of what|Guide|How|A|An|Nothing|As) ?\b/;

/** Puts what an answer rests on before its sentence. */
const onceFilledWords = (rests: string, sentence: string): string =>
  `${capitalised(rests)}: ${PLAIN.test(sentence) ? sentence[0]!.toLowerCase() + sentence.slice(1) : sentence}`;

/** Findings of what stands behind a gap: each says that it is judged of the filled train. */
export function onceFilled(facts: Facts, findings: readonly Finding[]): Finding[] {
  if (filledInWords(facts, 'mm') === undefined) return [...findings];
  return findings.map((finding) => ({
    ...finding,
    say: (unit) => onceFilledWords(filledInWords(facts, unit)!, finding.say(unit))
  }));
}
