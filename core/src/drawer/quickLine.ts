import { parseThread, pitchChoices, threadQuestion } from '../joint/thread.ts';
import { KINDS, type ElementKind, type Gender, type ThreadPort } from '../train/model.ts';
import { MM_PER_INCH, decimal } from '../units.ts';

/** A part that a line asks for. */
export interface QuickEntry {
  kind: Exclude<ElementKind, 'gap'>;
  lengthMm: number;
  quantity: number;
  sky?: ThreadPort;
  camera?: ThreadPort;
}

/** What a line may mean instead: a button's label, and the whole line with it. */
export interface QuickChoice {
  label: string;
  line: string;
}

export type QuickReading =
  { ok: true; entries: QuickEntry[] } | { ok: false; message: string; choices: readonly QuickChoice[] };

/** No line is longer than a hundred parts. */
export const MOST_QUICK = 100;

const LONGEST_MM = 10_000;
const MOST_QUANTITY = 999;

/** Words for kinds beside those of the table (common practice, no source). */
const KIND_NAMES: Readonly<Record<string, ElementKind>> = {
  ring: 'spacer',
  rings: 'spacer',
  tube: 'extension-tube',
  wheel: 'filter-wheel',
  drawer: 'filter-drawer',
  guider: 'off-axis-guider',
  oag: 'off-axis-guider',
  washer: 'shim'
};

const kindNamed = (word: string): QuickEntry['kind'] | undefined => {
  const name = word.toLowerCase();
  const known =
    KIND_NAMES[name] ??
    (Object.entries(KINDS).find(([, { words }]) => words === name || `${words}s` === name)?.[0] as
      ElementKind | undefined);
  return known === 'gap' ? undefined : known;
};

const GENDERS: Readonly<Record<string, Gender>> = {
  m: 'male',
  male: 'male',
  ext: 'male',
  f: 'female',
  female: 'female',
  int: 'female'
};

/** Longest words first, so that `filter wheel` is not a filter. */
const KIND_WORDS = [...Object.values(KINDS).map(({ words }) => words), ...Object.keys(KIND_NAMES)].sort(
  (a, b) => b.length - a.length
);
const KIND = new RegExp(`^(${KIND_WORDS.join('|')})s?\\b[\\s:,]*`, 'i');

const NUMBER = String.raw`(?:\d+(?:[.,]\d+)?|[.,]\d+)`;
/** A thread at the beginning of what is left, and the genders behind it: `M48×0.75 f–m`. */
const THREAD = new RegExp(
  String.raw`^(m\s*${NUMBER}(?:\s*[x×*/]\s*${NUMBER})?|t-?2?(?:[\s-]thread)?(?=[\s,fm–-])|${NUMBER}\s*/\s*${NUMBER}|\d+(?:[.,]\d+)?\s*(?:in|"|″)\s*(?:-\s*\d+(?:\s*un)?|sct)|sct)`,
  'i'
);
const GENDER = /^\s*(female|male|ext|int|f|m)(?![a-z0-9])/i;
const JOINER = /^\s*(?:[-–—/>→]|to\b)+\s*/i;

const LENGTH = new RegExp(String.raw`^(${NUMBER})\s*(mm|in|"|″)?\s*(?:[x×*]\s*(\d+)(?![\d.,]))?`, 'i');

interface Cursor {
  readonly line: string;
  at: number;
}

const rest = ({ line, at }: Cursor): string => line.slice(at);

function eat(cursor: Cursor, pattern: RegExp): RegExpExecArray | undefined {
  const match = pattern.exec(rest(cursor));
  if (match) cursor.at += match[0].length;
  return match ?? undefined;
}

const refuse = (message: string, choices: readonly QuickChoice[] = []): QuickReading & { ok: false } => ({
  ok: false,
  message,
  choices
});

interface Face {
  thread: string;
  /** Where the thread's text stands in the line. */
  from: number;
  to: number;
  gender: Gender | undefined;
}

/** A thread with whatever gender stands behind it. */
function eatFace(cursor: Cursor): Face | undefined {
  const from = cursor.at;
  const match = eat(cursor, THREAD);
  if (!match) return undefined;
  const to = from + match[0].trimEnd().length;
  const gender = eat(cursor, GENDER)?.[1]?.toLowerCase();
  return { thread: match[1]!.trim(), from, to, gender: gender === undefined ? undefined : GENDERS[gender] };
}

const withReplaced = (line: string, from: number, to: number, by: string): string =>
  line.slice(0, from) + by + line.slice(to);

/** Which thread was meant, where its pitch is missing or it says none. */
function faceQuestion(line: string, { thread, from, to }: Face): (QuickReading & { ok: false }) | undefined {
  if (parseThread(thread)) return undefined;
  const choices = pitchChoices(thread).map((each) => ({ label: each, line: withReplaced(line, from, to, each) }));
  return refuse(`${threadQuestion(thread) ?? `“${thread}” is no thread`}${choices.length > 0 ? '?' : '.'}`, choices);
}

const GENDER_PAIRS: readonly [string, string][] = [
  ['f–m', 'female to the sky, male to the camera'],
  ['m–f', 'male to the sky, female to the camera'],
  ['f–f', 'female on both sides'],
  ['m–m', 'male on both sides']
];

/** Lengths, with how many of each: `10, 7.5, 16.5 ×2`. */
function eatLengths(cursor: Cursor): { lengths: { mm: number; quantity: number }[] } | (QuickReading & { ok: false }) {
  const lengths: { mm: number; quantity: number }[] = [];
  // `10,7.5` has its decimals behind points: its commas part numbers.
  const commasPart = /\d,\d*\.\d/.test(rest(cursor));
  for (eat(cursor, /^[\s,;:]+/); rest(cursor) !== ''; eat(cursor, /^[\s,;+]+/)) {
    const found = eat(cursor, commasPart ? new RegExp(LENGTH.source.replaceAll('[.,]', '[.]'), 'i') : LENGTH);
    if (!found) {
      const odd = rest(cursor).split(/[\s,;]/)[0]!;
      return refuse(`“${odd}” is not a length. Lengths come last, as in M48×0.75 f–m 10, 7.5, 16.5 ×2.`);
    }
    const [, number, unit, times] = found;
    const mm = Number((decimal(number!) * (unit && unit.toLowerCase() !== 'mm' ? MM_PER_INCH : 1)).toFixed(4));
    const quantity = times === undefined ? 1 : Number(times);
    if (!(mm > 0 && mm <= LONGEST_MM)) return refuse(`${number} is not the length of a part.`);
    if (!(quantity >= 1 && quantity <= MOST_QUANTITY)) return refuse(`${times} is not a number of parts.`);
    lengths.push({ mm, quantity });
    if (lengths.length > MOST_QUICK) return refuse(`A line may have ${MOST_QUICK} lengths.`);
  }
  return { lengths };
}

/**
 * Reads a line of shorthand: a kind where it is no ring, threads with the face to the sky first, lengths, how many.
 * `M48×0.75 f–m 10, 7.5, 16.5 ×2` is three entries; `shims 0.1 ×3 0.3`, `M54×0.75 f – M48×0.75 m 4` and `wheel 20`
 * are others. A pitch or a gender that is missing is asked for, never guessed; without a thread faces stay unknown.
 *
 * @param text at most 500 letters are looked at
 */
export function readQuickLine(text: string): QuickReading {
  const line = text.slice(0, 500).trim();
  const cursor: Cursor = { line, at: 0 };
  const word = eat(cursor, KIND)?.[1];
  const named = word === undefined ? undefined : kindNamed(word);
  const first = eatFace(cursor);
  let second: Face | undefined;
  let secondGender: Gender | undefined;
  if (first) {
    const before = cursor.at;
    if (eat(cursor, JOINER)) {
      // A letter that stands alone is a gender, not the M of a thread.
      const gender = eat(cursor, GENDER)?.[1]?.toLowerCase();
      if (gender !== undefined) secondGender = GENDERS[gender];
      else {
        second = eatFace(cursor);
        if (!second) cursor.at = before;
      }
    }
    for (const face of second ? [first, second] : [first]) {
      const question = faceQuestion(line, face);
      if (question) return question;
    }
  }
  const gendersFrom = first?.to ?? cursor.at;
  const gendersTo = cursor.at;
  const eaten = eatLengths(cursor);
  if ('ok' in eaten) return eaten;
  const { lengths } = eaten;
  if (lengths.length === 0) {
    return refuse(line === '' ? 'Type what it is: M48×0.75 f–m 10, 7.5, 16.5 ×2.' : 'Its length is missing.');
  }
  const isCamera = named === 'camera';
  if (first && !second && named !== 'shim') {
    if (isCamera && first.gender === undefined) {
      return refuse(
        `Is the camera’s ${parseThread(first.thread)!.designation} male or female?`,
        ['female', 'male'].map((gender) => ({
          label: gender,
          line: withReplaced(line, gendersFrom, gendersTo, ` ${gender}`)
        }))
      );
    }
    if (!isCamera && (first.gender === undefined || secondGender === undefined)) {
      return refuse(
        `Which way is ${parseThread(first.thread)!.designation} cut on its two faces, sky side first?`,
        GENDER_PAIRS.map(([pair, words]) => ({
          label: `${pair}: ${words}`,
          line: withReplaced(line, gendersFrom, gendersTo, ` ${pair}`)
        }))
      );
    }
  }
  if (second && (first!.gender === undefined || second.gender === undefined)) {
    const open = first!.gender === undefined ? first! : second;
    return refuse(
      `Is ${parseThread(open.thread)!.designation} male or female?`,
      ['female', 'male'].map((gender) => ({
        label: gender,
        line: withReplaced(line, open.to, open.to, ` ${gender}`)
      }))
    );
  }
  const face = (thread: string, gender: Gender): ThreadPort => ({ thread: parseThread(thread)!.designation, gender });
  const sky = first && named !== 'shim' ? face(first.thread, first.gender!) : undefined;
  const camera =
    !first || isCamera || named === 'shim'
      ? undefined
      : second
        ? face(second.thread, second.gender!)
        : face(first.thread, secondGender!);
  const kind = named ?? (sky && camera && sky.thread !== camera.thread ? 'adapter' : 'spacer');
  const entries = lengths.map(({ mm, quantity }): QuickEntry => ({
    kind,
    lengthMm: mm,
    quantity,
    ...(sky ? { sky } : {}),
    ...(camera ? { camera } : {})
  }));
  return { ok: true, entries };
}
