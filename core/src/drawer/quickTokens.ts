import { INCH, NUMBER, gendersAt, threadAt } from '../joint/spelled.ts';
import { parseThread } from '../joint/thread.ts';
import { KINDS, type ElementKind, type Gender } from '../train/model.ts';
import { MM_PER_INCH, decimal } from '../units.ts';
import { listed } from '../why/wording.ts';
import { kindOfWord } from './csvWords.ts';

/** Kinds a line can ask for: whatever has a length. */
export type QuickKind = Exclude<ElementKind, 'gap'>;

/** What a line may mean instead: a button's label, and the whole line with it. */
export interface QuickChoice {
  label: string;
  line: string;
}

export interface Refusal {
  ok: false;
  message: string;
  choices: readonly QuickChoice[];
}

/** No line is longer than a hundred parts. */
export const MOST_QUICK = 100;

const LONGEST_MM = 10_000;

/** Words for kinds beside those of the table (common practice, no source). */
const KIND_NAMES: Readonly<Record<string, ElementKind>> = {
  ring: 'spacer',
  rings: 'spacer',
  tube: 'extension-tube',
  wheel: 'filter-wheel',
  drawer: 'filter-drawer',
  guider: 'off-axis-guider',
  oag: 'off-axis-guider',
  washer: 'shim',
  cam: 'camera',
  nose: 'extension-tube',
  't-ring': 'bayonet-adapter',
  't ring': 'bayonet-adapter'
};

const kindNamed = (word: string): QuickKind | undefined => {
  const name = word.toLowerCase();
  const known =
    KIND_NAMES[name] ??
    (Object.entries(KINDS).find(([, { words }]) => words === name || `${words}s` === name)?.[0] as
      ElementKind | undefined);
  return known === 'gap' ? undefined : (known ?? kindOfWord(word));
};

/** Longest words first, so that `filter wheel` is not a filter. */
const KIND_WORDS = [...Object.values(KINDS).map(({ words }) => words), ...Object.keys(KIND_NAMES)].sort(
  (a, b) => b.length - a.length
);
const KIND = new RegExp(`^(${KIND_WORDS.join('|')})s?\\b[\\s:,]*`, 'i');

const UNIT = String.raw`(?:mm|${INCH})(?!\p{L})`;
const PIECES = String.raw`(?:pieces?|pcs?|stk|stück|stueck|pz|pezzi|off)(?!\p{L})\.?`;

/** What a line is made of. Places are those in the line. */
export type Token = { from: number; to: number } & (
  | { is: 'kind'; kind: QuickKind }
  | { is: 'thread'; thread: string }
  | { is: 'gender'; gender: Gender }
  /** By its flange distance, as the catalogue names them: `dslr-44.0`. */
  | { is: 'bayonet'; bayonet: string }
  | { is: 'bolts'; count: number; circleMm: number }
  /** The male thread has a lock ring. */
  | { is: 'lock-ring' }
  | { is: 'joiner' }
  /** How far a male thread goes in; `within` where the length that was said has it in it. */
  | { is: 'thread-length'; mm: number; within: boolean }
  /** Diameter of a filter. */
  | { is: 'across'; mm: number }
  | { is: 'length'; mm: number; quantity: number | undefined; toleranceMm?: number }
);

export const is =
  <Is extends Token['is']>(kind: Is) =>
  (token: Token): token is Token & { is: Is } =>
    token.is === kind;

export const refuse = (message: string, choices: readonly QuickChoice[] = []): Refusal => ({
  ok: false,
  message,
  choices
});

export const withReplaced = (line: string, from: number, to: number, by: string): string =>
  line.slice(0, from) + by + line.slice(to);

const inMm = (number: string, unit: string | undefined): number =>
  Number((decimal(number) * (unit && unit.toLowerCase() !== 'mm' ? MM_PER_INCH : 1)).toFixed(4));

/** What looks like a thread, wherever it stands: its numbers are no lengths. */
const THREADISH = /m?\s*\d*[.,]?\d+\s*[x×*/]\s*[0-2]?[.,]\d+/gi;

/** What a comma between two digits is, as far as the line says: undefined where it may be either. */
function commaMeans(line: string): 'decimals' | 'next' | undefined {
  const threads = (line.match(THREADISH) ?? []).join(' ');
  const lengths = line.replace(THREADISH, ' ');
  if (/\.\d/.test(lengths)) return 'next';
  const isDecimal =
    /,\d/.test(threads) ||
    // `10,7; 5`, `10,7, 5`, `0,5`: a list has another sign, and no length is 0 mm.
    /\d,\d+\s*(?:;|,\s)|;\s*\d+,\d|,\s+\d+,\d|(?<!\d)0?,\d/i.test(lengths);
  return isDecimal ? 'decimals' : undefined;
}

/** A number of parts times a length, whichever stands first: `10.5 ×2`, `2 x 10 mm`; undefined where both may be either. */
function times(line: string, one: string, oneUnit: string | undefined, other: string, otherUnit: string | undefined) {
  const isCount = (text: string, unit: string | undefined): boolean => unit === undefined && /^\d+$/.test(text);
  const [first, second] = [isCount(one, oneUnit), isCount(other, otherUnit)];
  // The way lines are written here: a length, a space, ×2.
  const isOurs = new RegExp(String.raw`\d\s+[x×*]${other}$`).test(line);
  if (second && (!first || isOurs)) return { mm: inMm(one, oneUnit), quantity: Number(other) };
  if (first && !second) return { mm: inMm(other, otherUnit), quantity: Number(one) };
  return undefined;
}

/** Reads a line from left to right. */
class Scanner {
  readonly tokens: Token[] = [];
  at = 0;
  /** A number of parts whose length comes later: `2 pcs M48×0.75 f–m 10`. */
  pending: string | undefined;

  /** Words that were passed over. */
  readonly others: string[] = [];

  constructor(readonly line: string) {}

  get rest(): string {
    return this.line.slice(this.at);
  }

  /** The match of a pattern here, which is passed over. */
  eat(pattern: RegExp): RegExpExecArray | undefined {
    const match = pattern.exec(this.rest);
    if (match) this.at += match[0].length;
    return match ?? undefined;
  }

  get last(): Token | undefined {
    return this.tokens.at(-1);
  }

  /** Kind, thread, gender or joiner. @returns false where none stands here */
  word(): boolean {
    const from = this.at;
    const put = (length: number, ...tokens: object[]): true => {
      this.at = from + length;
      for (const token of tokens) this.tokens.push({ ...token, from, to: from + length } as Token);
      return true;
    };
    const lockRing = LOCK_RING.exec(this.rest);
    if (lockRing) return put(lockRing[0].length, { is: 'lock-ring' });
    const bayonet = BAYONET.exec(this.rest);
    if (bayonet) return put(bayonet[0].length, { is: 'bayonet', bayonet: bayonetNamed(bayonet[1]!, bayonet[2]!) });
    const [bolts, number, circle] = BOLTS.map((words) => words.exec(this.rest)).find(Boolean) ?? [];
    if (bolts !== undefined) {
      const [count, circleMm] = [Number(number), decimal(circle!)];
      if (count >= 1 && count <= MOST_BOLTS && circleMm > 0) return put(bolts.length, { is: 'bolts', count, circleMm });
    }
    const thread = threadAt(this.rest, !this.tokens.some(is('thread')));
    if (thread !== undefined) return put(thread.length, { is: 'thread', thread: thread.trim() });
    const kindWord = KIND.exec(this.rest);
    const known = kindWord && kindNamed(kindWord[1]!);
    if (known) return put(kindWord[0].length, { is: 'kind', kind: known });
    for (const words of FOREIGN_WORDS) {
      const [text = ''] = words.exec(this.rest) ?? [];
      const kind = kindNamed(text);
      if (kind) return put(text.length, { is: 'kind', kind });
    }
    const genders = gendersAt(this.rest);
    if (genders) return put(genders.length, ...genders.genders.map((gender) => ({ is: 'gender', gender })));
    const joiner = JOINER.exec(this.rest);
    return joiner ? put(joiner[0].length, { is: 'joiner' }) : false;
  }

  /** A length with its unit, count and tolerance. @returns false where none stands here, or why it is none */
  length(commasPart: boolean): boolean | Refusal {
    const number = commasPart ? NUMBER.replaceAll('[.,]', '[.]') : NUMBER;
    const from = this.at;
    const several = this.eat(new RegExp(String.raw`^(\d+)\s*${PIECES}(?:\s*(?:of|à|x|×)(?!\p{L}))?\s*`, 'iu'));
    const previous = this.last;
    if (several && previous?.is === 'length' && previous.quantity === undefined && !/of|à|x|×/.test(several[0])) {
      previous.quantity = Number(several[1]);
      return true;
    }
    const inches = this.eat(new RegExp(String.raw`^(?:(\d+)\s+)?(\d+)/(\d+)\s*${INCH}`, 'iu'));
    if (inches) {
      const [, whole = '0', over, under] = inches;
      return this.put(from, (Number(whole) + Number(over) / Number(under)) * MM_PER_INCH, several?.[1]);
    }
    const product = this.eat(
      new RegExp(String.raw`^(${number})\s*(${UNIT})?\s*[x×*]\s*(${number})\s*(${UNIT})?`, 'iu')
    );
    if (product) {
      const [text, one, oneUnit, other, otherUnit] = product;
      const known = times(text.trimEnd(), one!, oneUnit, other!, otherUnit);
      if (known) return this.put(from, known.mm, String(known.quantity));
      if (!/^\d+$/.test(one!) || !/^\d+$/.test(other!))
        return refuse(`“${text.trim()}” is not a length, and no number of them.`);
      const choice = (count: string, mm: string): QuickChoice => ({
        label: `${count} of ${mm} mm`,
        line: withReplaced(this.line, from, from + text.trimEnd().length, `${mm} ×${count}`)
      });
      const thread = parseThread(text.trim());
      const mayBeThread = thread && thread.diameterMm >= 25 && thread.pitchMm <= 2 && !this.tokens.some(is('thread'));
      const asThread = mayBeThread
        ? [
            {
              label: thread.designation,
              line: withReplaced(this.line, from, from + text.trimEnd().length, thread.designation)
            }
          ]
        : [];
      return refuse(`“${text.trim()}” is not understood.`, [...asThread, choice(one!, other!), choice(other!, one!)]);
    }
    const plain = this.eat(
      new RegExp(String.raw`^(?:(?:length|thickness|long|l)\s*[=:]?\s*)?(${number})\s*(${UNIT})?`, 'iu')
    );
    if (!plain) {
      this.pending = several?.[1] ?? this.pending;
      return several !== undefined;
    }
    return this.put(from, inMm(plain[1]!, plain[2]), several?.[1]);
  }

  /** A length of thread or a diameter, told by the word at it. @returns whether there was one */
  figure(): boolean {
    const from = this.at;
    for (const { pattern, ...figure } of FIGURES) {
      const match = this.eat(pattern);
      if (!match) continue;
      const [, number, unit] = match;
      this.tokens.push({ ...figure, mm: inMm(number!, unit), from, to: this.at });
      return true;
    }
    return false;
  }

  /** What stands behind a length and says more of it. @returns whether there was any */
  behind(): boolean {
    const last = this.last;
    if (last?.is !== 'length') return false;
    const within = this.eat(new RegExp(String.raw`^(?:±|\+\s*/?\s*-)\s*(${NUMBER})\s*(${UNIT})?`, 'iu'));
    if (within) {
      last.toleranceMm = inMm(within[1]!, within[2]);
      return true;
    }
    const count = this.eat(/^[x×*]\s*(\d+)(?![\d.,])/i);
    if (count) last.quantity = Number(count[1]);
    return count !== undefined || this.eat(/^(?:long|thick|lang|dick)(?!\p{L})/iu) !== undefined;
  }

  private put(from: number, mm: number, said: string | undefined): boolean | Refusal {
    const count = said ?? this.pending;
    this.pending = undefined;
    const quantity = count === undefined ? undefined : Number(count);
    const text = this.line.slice(from, this.at).trim();
    if (!(mm > 0 && mm <= LONGEST_MM)) return refuse(`${text} is not the length of a part.`);
    this.tokens.push({ is: 'length', mm: Number(mm.toFixed(4)), quantity, from, to: this.at });
    return true;
  }
}

const AMOUNT = String.raw`(${NUMBER})\s*(${UNIT})?`;
const SCREWS_IN = String.raw`(?:(?:male\s+)?thread|screws?\s+in)(?!\p{L})`;
const WHICH = String.raw`of\s+(?:it|which|that|them)`;
const figure = (pattern: string): RegExp => new RegExp(`^${pattern}`, 'iu');

/** Numbers that are no lengths of a part, by what stands at them. */
const FIGURES = [
  { is: 'thread-length', within: true, pattern: figure(String.raw`${AMOUNT}\s*${WHICH}\s+(?:is\s+)?${SCREWS_IN}`) },
  {
    is: 'thread-length',
    within: true,
    pattern: figure(String.raw`(?:${WHICH}|incl(?:uding|\.)?)\s*${AMOUNT}\s*(?:of\s+|is\s+)?${SCREWS_IN}`)
  },
  { is: 'thread-length', within: false, pattern: figure(String.raw`${AMOUNT}\s*(?:of\s+|long\s+)?${SCREWS_IN}`) },
  {
    is: 'thread-length',
    within: false,
    pattern: figure(String.raw`(?:with\s+)?(?:male\s+)?thread\s+(?:of\s+|length\s+)?${AMOUNT}(?![\d.,]*\s*[x×*/])`)
  },
  { is: 'across', pattern: figure(String.raw`(?:[øØ⌀]|dia(?:m|meter)?\.?)\s*${AMOUNT}`) },
  { is: 'across', pattern: figure(String.raw`${AMOUNT}\s*(?:across|dia(?:m|meter)?)(?!\p{L})`) }
] as const;

const LOCK_RING = /^(?:with\s+(?:a\s+)?)?lock(?:ing)?[\s-]?ring(?!\p{L})/iu;
const BAYONET = new RegExp(String.raw`^(dslr|mirrorless)[\s-]*(?:bayonet\s*)?(${NUMBER})(?:\s*mm)?(?![\p{L}\d])`, 'iu');
/** `6 bolts on 62`, `bolts 6 on 62`, `4 screws on a circle of 60`. */
const BOLTS = [
  String.raw`(\d+)\s*[x×]?\s*(?:bolts?|screws?)\s+on\s+(?:a\s+circle\s+of\s+|Ø\s*)?(${NUMBER})(?:\s*mm)?(?![\p{L}\d])`,
  String.raw`(?:bolts?|screws?)\s+(\d+)\s+on\s+(?:a\s+circle\s+of\s+|Ø\s*)?(${NUMBER})(?:\s*mm)?(?![\p{L}\d])`
].map((words) => new RegExp(`^${words}`, 'iu'));
const MOST_BOLTS = 36;

/** A bayonet by its flange distance, as the catalogue writes it. */
const bayonetNamed = (family: string, flange: string): string => {
  const mm = decimal(flange);
  return `${family.toLowerCase()}-${Number.isInteger(mm) ? mm.toFixed(1) : mm}`;
};

/** The bayonet that is named somewhere in a line. */
export function bayonetIn(line: string): { text: string; bayonet: string } | undefined {
  const match = new RegExp(String.raw`(?<!\p{L})${BAYONET.source.slice(1)}`, 'iu').exec(line);
  return match ? { text: match[0], bayonet: bayonetNamed(match[1]!, match[2]!) } : undefined;
}

/** Kinds of other languages have up to four words: `roue à filtres`. */
const FOREIGN_WORDS = [3, 2, 1, 0].map(
  (more) => new RegExp(String.raw`^\p{L}[\p{L}-]*(?:[\s']+\p{L}[\p{L}-]*){${more}}(?!\p{L})`, 'u')
);
const JOINER = /^(?:[-–—/>→]+|(?:to|on|auf|zu|vers)(?!\p{L})|x(?=\s+m\s*\d))/iu;
const BETWEEN = /^(?:[\s,;:()[\]&]|\+(?!\s*\/?\s*-)|(?:and|und|et|y|e)(?!\p{L}))+/iu;

/** What to ask where digits have commas between them, from a place on. */
function commaRefusal(line: string, at: number, doubtful: string): Refusal {
  const choice = (label: string, each: (numbers: string[]) => string): QuickChoice => ({
    label,
    line: line.slice(0, at) + line.slice(at).replace(/\d+(?:,\d+)+/g, (run) => each(run.split(',')))
  });
  const numbers = doubtful.split(',');
  const pairs = (all: string[]): string[] =>
    all.flatMap((number, index) => (index % 2 === 0 ? [all.slice(index, index + 2).join('.')] : []));
  const inWords = (lengths: string[]): string => listed(lengths.map((length) => `${length} mm`));
  const apart = choice(inWords(numbers), (all) => all.join(', '));
  if (numbers.length % 2 > 0)
    return refuse(`“${doubtful}” may be read in several ways; part lengths with a comma and a space.`, [apart]);
  return refuse(`How many lengths is “${doubtful}”?`, [
    choice(inWords(pairs(numbers)), (all) => pairs(all).join(', ')),
    apart
  ]);
}

/** A name, with whatever figures are in it: `X26-pro`. */
const OTHER_WORD = /^\p{L}[\p{L}\p{N}'’._-]*/u;

/** All that a line says, in its order. @param loose passes over words that say nothing, a maker's or a model's */
export function tokensOf(line: string, loose = false): { tokens: Token[]; others: string } | Refusal {
  const comma = commaMeans(line);
  const scanner = new Scanner(line);
  let lengths = 0;
  for (scanner.eat(BETWEEN); scanner.rest !== ''; scanner.eat(BETWEEN)) {
    if (scanner.behind() || scanner.figure() || scanner.word()) continue;
    const [doubtful] = comma === undefined ? (/^\d+(?:,\d+)+/.exec(scanner.rest) ?? []) : [];
    if (doubtful !== undefined) return commaRefusal(scanner.line, scanner.at, doubtful);
    const found = scanner.length(comma === 'next');
    if (typeof found === 'object') return found;
    const [other] = found || !loose ? [] : (OTHER_WORD.exec(scanner.rest) ?? []);
    if (other !== undefined) {
      scanner.others.push(other);
      scanner.at += other.length;
      continue;
    }
    if (!found) {
      const odd = scanner.rest.split(/[\s,;]/)[0]!;
      return refuse(`“${odd}” is no kind of part, thread, face or length. As in M48×0.75 f–m 10, 7.5, 16.5 ×2.`);
    }
    lengths++;
    if (lengths > MOST_QUICK) return refuse(`A line may have ${MOST_QUICK} lengths.`);
  }
  if (scanner.pending !== undefined) return refuse(`Of what length are the ${scanner.pending}?`);
  return { tokens: scanner.tokens, others: scanner.others.join(' ') };
}
