import type { Gender } from '../train/model.ts';
import { THREAD_NAMES, USUAL_THREADS, parseThread } from './thread.ts';

/** A word as headings and cells are compared: lower case, `Länge (mm)` and `laenge mm` alike but for their vowels. */
export const plainWord = (text: string): string =>
  text
    .toLowerCase()
    .replaceAll('ß', 'ss')
    .normalize('NFD')
    .replace(/[^\p{L}\p{N}]+/gu, '');

/** Words for male and female in English, German, French, Spanish and Italian, as {@link plainWord} leaves them. */
const GENDER_WORDS: Readonly<Record<Gender, readonly string[]>> = {
  male: `male m ag aussen aussengewinde mannlich maennlich males masculin macho maschio ext external externe externo
    exterior esterno esterna`.split(/\s+/),
  female: `female f ig innen innengewinde weiblich femelle feminin hembra femmina females int internal interne interno
    interior interna h w`.split(/\s+/)
};

/** Words for male and female, longest first, for a pattern. */
export const GENDER_PATTERN = [
  ...GENDER_WORDS.male,
  ...GENDER_WORDS.female,
  ...['außen', 'außengewinde', 'männlich', 'mâle', 'féminin']
]
  .sort((a, b) => b.length - a.length)
  .join('|');

/** What a word says of a thread’s gender; undefined where it is none of them. */
export function genderOf(word: string): Gender | undefined {
  const plain = plainWord(word);
  return (['male', 'female'] as const).find((gender) => GENDER_WORDS[gender].includes(plain));
}

const escaped = (name: string): string => name.replace(/[.*+?^${}()|[\]\\]/g, '\\$&').replaceAll(' ', '[\\s-]+');
/** A number without its sign, and the marks of inches, for a pattern. */
export const NUMBER = String.raw`(?:\d+(?:[.,]\d+)?|[.,]\d+)`;
export const INCH = String.raw`(?:in(?:ch)?|"|″|'')`;
const DECIMAL_PITCH = '[0-2]?[.,]\\d+';

/** A way a thread is written, and what else has to be so for it to be one. */
interface Spelling {
  pattern: RegExp;
  /** Where what is written could be a length and a count, only a thread that may be met is one. */
  isSure: boolean;
  /** Only where no other thread stands before: `f–m 16.5 ×2` has a gender and lengths. */
  first: boolean;
}

const spelling = (pattern: string, { isSure = true, first = false } = {}): Spelling => ({
  pattern: new RegExp(`^${pattern}(?:\\s*mm(?!\\p{L}))?(?!\\p{N})`, 'iu'),
  isSure,
  first
});

/** Ways a thread is written, the most telling first. */
const SPELLINGS: readonly Spelling[] = [
  // Names: `T2`, `C-mount`, `2″ filter`; a T alone only where something of a thread follows.
  ...THREAD_NAMES.filter((name) => name !== 't').map((name) => spelling(`${escaped(name)}(?:[\\s-]thread)?(?!\\p{L})`)),
  spelling(String.raw`t(?:[\s-]thread)?(?=\s*[,(]|\s+\d|\s*[-–—/]?\s*(?:${GENDER_PATTERN})(?![\p{L}\p{N}]))(?!\p{L})`),
  spelling(String.raw`m${NUMBER}\s*[x×*/]\s*${NUMBER}`),
  spelling(String.raw`m${NUMBER}\s*-\s*${DECIMAL_PITCH}`),
  spelling(String.raw`m\s+${NUMBER}\s*[x×*/]\s*${DECIMAL_PITCH}`, { isSure: false }),
  spelling(String.raw`m\s+${NUMBER}\s*[x×*/]\s*${NUMBER}`, { first: true }),
  // Without its M: `48x0.75`, `48/0,75`.
  spelling(String.raw`${NUMBER}\s*[x×*/]\s*${DECIMAL_PITCH}`, { isSure: false }),
  spelling(String.raw`(?:\d+\s+)?\d+/\d+\s*${INCH}?\s*-\s*\d+(?:\s*(?:un[cfs]?|unef|tpi))?`),
  spelling(
    String.raw`\d+(?:[.,]\d+)?\s*(?:${INCH}\s*-?\s*\d+\s*(?:un[cfs]?|unef|tpi)|${INCH}\s*-\s*\d+|-\s*\d+\s*(?:un[cfs]?|unef|tpi))(?!\p{L})`
  ),
  spelling(String.raw`m${NUMBER}`),
  spelling(String.raw`m\s+${NUMBER}`, { first: true })
];

/** Inches that are a thread only because a gender follows: `2″ f–m`; and bare inches and turns of a usual thread: `2-24`. */
const INCHES = new RegExp(
  String.raw`^\d+(?:[.,]\d+)?\s*${INCH}(?=\s*[(]?\s*(?:${GENDER_PATTERN})(?![\p{L}\p{N}]))`,
  'iu'
);
const BARE_UNIFIED = /^\d+(?:[.,]\d+)?-\d+(?![\d.,])/;

/** Thinner ones are no part of an imaging train (common practice, no source). */
const THINNEST_MM = 25;

/**
 * The thread that a text begins with, as it is written there; undefined where it begins with none. What is found may be
 * a diameter without its pitch: {@link pitchChoices} has what it may mean.
 *
 * @param text with plain signs
 * @param isFirst whether no thread stands before
 */
export function threadAt(text: string, isFirst: boolean): string | undefined {
  for (const { pattern, isSure, first } of SPELLINGS) {
    if (first && !isFirst) continue;
    const found = pattern.exec(text)?.[0];
    if (found === undefined) continue;
    const thread = parseThread(found);
    if (!isSure && !(thread && (thread.diameterMm >= THINNEST_MM || isUsual(found)))) continue;
    return found;
  }
  const inches = INCHES.exec(text)?.[0];
  if (inches !== undefined) return inches;
  const bare = BARE_UNIFIED.exec(text)?.[0];
  return bare !== undefined && isUsual(bare) ? bare : undefined;
}

const isUsual = (text: string): boolean => {
  const designation = parseThread(text)?.designation;
  return USUAL_THREADS.some((usual) => usual.designation === designation);
};

const GENDER_AT = new RegExp(String.raw`^(?:${GENDER_PATTERN})(?![\p{L}\p{N}])`, 'iu');
/** Both faces in one word; `mm` is a unit. */
const BOTH_AT = /^(?:fm|mf|ff)(?![\p{L}\p{N}])/iu;

/** Genders that a text begins with, one, or two as `fm`; and how long they are. */
export function gendersAt(text: string): { genders: Gender[]; length: number } | undefined {
  const [both] = BOTH_AT.exec(text) ?? [];
  if (both) return { genders: [...both].map((letter) => genderOf(letter)!), length: both.length };
  const [word] = GENDER_AT.exec(text) ?? [];
  return word === undefined ? undefined : { genders: [genderOf(word)!], length: word.length };
}
