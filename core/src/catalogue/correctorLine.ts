import { plainSigns } from '../joint/signs.ts';
import type { Corrector } from '../train/model.ts';
import { MM_PER_INCH, decimal } from '../units.ts';
import { LEAST_BACK_FOCUS_MM } from './begun.ts';

/** What a line says of a reducer, flattener or coma corrector. */
export interface CorrectorReading {
  backFocusMm?: number;
  magnification?: number;
  datum?: NonNullable<Corrector['datum']>;
  flattensField?: true;
  /** What is left of the line: a name. */
  name: string;
}

const NUMBER = String.raw`(\d+(?:[.,]\d+)?|[.,]\d+)`;
const TIMES = [
  new RegExp(String.raw`${NUMBER}\s*[x×*](?![\p{L}\d])`, 'iu'),
  new RegExp(String.raw`[x×*]\s*${NUMBER}`, 'i')
];
const LENGTH = new RegExp(String.raw`${NUMBER}\s*(mm|inches|inch|in(?!\p{L})|"|″)?(?![\p{L}\d.,/×])`, 'giu');

/** Words that make a line one of a corrector. */
const CORRECTOR =
  /(?<!\p{L})(?:(?:focal\s+)?reducer|(?:field[\s-]+)?flattener|(?:coma[\s-]+)?corrector|korrektor|bildfeldebner|réducteur|reductor|riduttore)s?(?!\p{L})/iu;
const FLATTENS = /flattener|bildfeldebner/i;
const BACK_FOCUS =
  /(?<!\p{L})(?:back[\s-]?focus|bf|backfokus|distance|requires?|asks?(?:\s+for)?|at|of|to|the|sensor)(?!\p{L})/giu;
const DATUMS = [
  [/(?:from\s+(?:the\s+)?)?(?:thread\s+)?tip(?!\p{L})/iu, 'thread-tip'],
  [/(?:from\s+(?:the\s+)?)?(?:last\s+(?:glass\s+)?surface|last\s+(?:glass|lens)|vertex)(?!\p{L})/iu, 'last-surface'],
  [/(?:from\s+(?:the\s+)?)?shoulder(?!\p{L})/iu, 'shoulder']
] as const;

const LARGEST_MM = 10_000;

/** Whether a line names a kind of corrector. */
export const namesCorrector = (text: string): boolean => CORRECTOR.test(text);

/**
 * Reads what people say of a corrector: `0.79x reducer 58.3`, `0.7x 105`, `flattener 55 from the thread tip`, `reducer
 * 0.63`. A number below {@link LEAST_BACK_FOCUS_MM} is its magnification, the other its back focus.
 *
 * @param text at most 200 letters are looked at
 * @returns undefined where neither is said
 */
export function readCorrectorLine(text: string): CorrectorReading | undefined {
  let rest = ` ${plainSigns(text.slice(0, 200))} `;
  const isNamed = namesCorrector(rest);
  const reading: Omit<CorrectorReading, 'name'> = FLATTENS.test(rest) ? { flattensField: true } : {};
  rest = rest.replace(CORRECTOR, ' ');
  for (const [pattern, datum] of DATUMS) {
    if (!pattern.test(rest)) continue;
    rest = rest.replace(pattern, ' ');
    reading.datum = datum;
    break;
  }
  for (const pattern of TIMES) {
    const [all, number] = pattern.exec(rest) ?? [];
    if (all === undefined || reading.magnification !== undefined) continue;
    reading.magnification = decimal(number!);
    rest = rest.replace(all, ' ');
  }
  let others = 0;
  rest = rest.replace(LENGTH, (all, number: string, unit: string | undefined) => {
    const mm = decimal(number) * (unit && unit.toLowerCase() !== 'mm' ? MM_PER_INCH : 1);
    if (mm < LEAST_BACK_FOCUS_MM && unit === undefined && isNamed && reading.magnification === undefined) {
      reading.magnification = mm;
    } else if (mm >= LEAST_BACK_FOCUS_MM && mm <= LARGEST_MM && reading.backFocusMm === undefined) {
      reading.backFocusMm = Number(mm.toFixed(4));
    } else {
      others++;
      return all;
    }
    return ' ';
  });
  const { backFocusMm, magnification } = reading;
  if (others > 0 || (backFocusMm === undefined && magnification === undefined)) return undefined;
  if (magnification !== undefined && !(magnification > 0 && magnification < LEAST_BACK_FOCUS_MM)) return undefined;
  const name = rest
    .replace(BACK_FOCUS, ' ')
    .replace(/[\s,;:()[\]/]+/g, ' ')
    .trim();
  return { ...reading, name };
}
