// The application compiles this file without core's own tsconfig.
// eslint-disable-next-line @typescript-eslint/triple-slash-reference
/// <reference path="./papaparse.d.ts" />
import papaparse from 'papaparse';
import { parseThread, threadQuestion } from '../joint/thread.ts';
import { isRecord } from '../train/isRecord.ts';
import { cameraPort, isElementKind, skyPort, type ElementKind, type Port } from '../train/model.ts';
import { complaintInWords } from '../train/complain.ts';
import { sameJson } from '../train/sameJson.ts';
import { decimal } from '../units.ts';
import { CSV_COLUMNS, FOREIGN_COLUMNS, MEANINGS, type CsvColumn, type OwnColumn } from './csvColumns.ts';
import { HEADINGS, NO, YES, kindOfWord, withoutBrackets, withoutUnit } from './csvWords.ts';
import { GENDER_PATTERN, genderOf, plainWord } from '../joint/spelled.ts';
import { plainSigns } from '../joint/signs.ts';
import { decimalSignOf, factorIn, readNumber, type DecimalSign } from './csvNumbers.ts';
import { usualName } from './naming.ts';
import { freePartId, partToDocument, type Part } from './part.ts';
import { MAX_PARTS, readPart } from './read.ts';

export { CSV_COLUMNS, MEANINGS, type CsvColumn, type DecimalSign };

/** A port as one cell: `M48x0.75 female 4.5`, `bayonet dslr-44.0 male`, `slip 2in male`, `6 bolts on 70`. */
function portCell(port: Port): string {
  if ('thread' in port) {
    return `${port.thread} ${port.gender}${port.lengthMm === undefined ? '' : ` ${port.lengthMm}`}`;
  }
  if ('bayonet' in port) return `bayonet ${port.bayonet} ${port.gender}`;
  if ('slip' in port) return `slip ${port.slip} ${port.gender}`;
  if ('clamp' in port) return `clamp ${port.clamp} ${port.gender}`;
  return `${port.bolts.count} bolts on ${port.bolts.circleMm}`;
}

const LENGTH_BEHIND = '(?:[\\s,]+(\\d+(?:[.,]\\d+)?)\\s*(?:mm)?)?';
const PORT = new RegExp(
  `^(?:(bayonet|slip|clamp)\\s+)?(.+?)[\\s,]*(?<![\\p{L}])[[(]?(${GENDER_PATTERN})[\\])]?\\.?${LENGTH_BEHIND}$`,
  'iu'
);
/** The gender in front: `female M48x0.75`, `AG M54x0.75`. */
const GENDER_FIRST = new RegExp(`^(${GENDER_PATTERN})[\\s:,]+(.+)$`, 'iu');
const BOLTS = /^(\d+)\s+bolts\s+on\s+(\d+(?:[.,]\d+)?)$/i;

/** Reads a port from one cell. A thread without a pitch is asked about, never guessed. */
export function parsePortCell(cell: string): { ok: true; port: Port } | { ok: false; message: string } {
  const plain = plainSigns(cell).trim();
  const before = GENDER_FIRST.exec(plain);
  const text = before && !PORT.test(plain) ? `${before[2]!} ${before[1]!}` : plain;
  const bolts = BOLTS.exec(text);
  if (bolts) return { ok: true, port: { bolts: { count: Number(bolts[1]), circleMm: decimal(bolts[2]!) } } };
  const match = PORT.exec(text);
  if (!match) {
    const question = threadQuestion(text);
    return {
      ok: false,
      message: question ?? `“${text}” has no gender: add male or female`
    };
  }
  const [, holds, name, word, length] = match;
  const gender = genderOf(word!)!;
  if (holds?.toLowerCase() === 'bayonet') return { ok: true, port: { bayonet: name!, gender } };
  if (holds?.toLowerCase() === 'clamp') return { ok: true, port: { clamp: name!, gender } };
  if (holds) return { ok: true, port: { slip: name!, gender } };
  const question = threadQuestion(name!);
  if (question) return { ok: false, message: question };
  const typed = name!.trim();
  // A decimal comma is the file's, not the thread's: a document writes points.
  const spelled = typed.includes(',') ? (parseThread(typed)?.designation ?? typed) : typed;
  return {
    ok: true,
    port: { thread: spelled, gender, ...(length === undefined ? {} : { lengthMm: decimal(length) }) }
  };
}

/** What a spreadsheet takes for the beginning of a formula, full width included, and the mark that prevents it. */
const FORMULA = "'=+\\-@＝＋－＠";
const DANGEROUS = new RegExp(`^[${FORMULA}\\t\\r]|[;,\\t|]\\s*[${FORMULA}]`);
/** A spreadsheet whose list separator is another one parts the cell there, and what follows is a cell of its own. */
const INNER = new RegExp(`([;,\\t|]\\s*)(?=[${FORMULA}])`, 'g');
const guarded = (cell: string): string => (DANGEROUS.test(cell) ? `'${cell.replace(INNER, "$1'")}` : cell);
const unguarded = (cell: string): string =>
  cell.startsWith("'") ? cell.slice(1).replace(/([;,\t|]\s*)'/g, '$1') : cell;

/** Lengths in mm: none has a thousand of them. */
const isSmall = (column: CsvColumn): boolean => column.endsWith('Mm');

/** Plain columns: the cell is the key's value as text. */
const NUMBERS: readonly OwnColumn[] = ['lengthMm', 'toleranceMm', 'clearMm', 'outerMm', 'massG', 'quantity', 'price'];
const TEXTS: readonly OwnColumn[] = ['partId', 'kind', 'name', 'location', 'state', 'note'];
const TICKS: readonly OwnColumn[] = ['reversible', 'removable', 'owned'];

function rowOf(part: Part): string[] {
  const document = partToDocument(part);
  const cells: Partial<Record<OwnColumn, string>> = {};
  /** Keys that have found a column; the others go together into the last. */
  const placed = new Set<string>();
  const put = (column: OwnColumn, cell: string, key: string = column): void => {
    cells[column] = cell;
    placed.add(key);
  };
  for (const column of [...NUMBERS, ...TEXTS]) {
    const stands = document[column];
    // Text that would not come back as it is, such as “ 5 ”, goes with what has no column.
    if (stands === undefined || (typeof stands === 'string' && stands.trim() !== stands)) continue;
    put(column, String(stands));
  }
  for (const column of TICKS) {
    if (typeof document[column] === 'boolean') put(column, document[column] ? 'yes' : 'no');
  }
  const { measured } = part.element;
  // Its instrument has no column: then all of it goes with what has none.
  if (measured && measured.instrument === undefined && measured.instrumentErrorMm === undefined) {
    put('measuredMm', String(measured.lengthMm), 'measured');
    if (measured.uncertaintyMm !== undefined) cells.measuredUncertaintyMm = String(measured.uncertaintyMm);
  }
  for (const [face, port] of [
    ['sky', skyPort(part.element)],
    ['camera', cameraPort(part.element)]
  ] as const) {
    if (!port) continue;
    const cell = portCell(port);
    const back = parsePortCell(cell);
    if (back.ok && sameJson(back.port, port)) put(face, cell);
  }
  const more = Object.fromEntries(Object.entries(document).filter(([key]) => !placed.has(key)));
  if (Object.keys(more).length > 0) cells.more = JSON.stringify(more);
  return CSV_COLUMNS.map((column) => guarded(cells[column] ?? ''));
}

/** A drawer as CSV: comma, decimal point, CR LF, a heading line; formulas guarded by an apostrophe. */
export const writeCsv = (parts: readonly Part[]): string =>
  `${papaparse.unparse({ fields: CSV_COLUMNS, data: parts.map(rowOf) }, { newline: '\r\n' })}\r\n`;

/** A line of a CSV file, with the number a text editor would show for where it begins. */
export interface CsvRow {
  line: number;
  cells: string[];
}

export interface CsvTable {
  delimiter: string;
  header: string[];
  rows: CsvRow[];
}

/** Something wrong with a CSV file: which line, which column by its heading. */
export interface CsvProblem {
  line: number;
  column?: string;
  message: string;
}

/** The same trouble in one column, told once. */
export interface ProblemGroup {
  column: string | undefined;
  /** Every line that has it, in order. */
  lines: number[];
  /** What is said of the first ones. */
  examples: CsvProblem[];
}

const EXAMPLES = 3;

/** Problems by column, those of most lines first: one thing to mend is one message. */
export function groupProblems(problems: readonly CsvProblem[]): ProblemGroup[] {
  const groups = new Map<string | undefined, ProblemGroup>();
  for (const problem of problems) {
    let group = groups.get(problem.column);
    if (!group) groups.set(problem.column, (group = { column: problem.column, lines: [], examples: [] }));
    if (group.lines.at(-1) !== problem.line) group.lines.push(problem.line);
    const isNew = group.examples.every(({ message }) => message !== problem.message);
    if (isNew && group.examples.length < EXAMPLES) group.examples.push(problem);
  }
  return [...groups.values()].sort((a, b) => b.lines.length - a.lines.length);
}

export interface SplitOptions {
  /** What parts the cells; found out where it is not said. */
  delimiter?: string;
  /** False: the first line is a part already, and its columns are numbered. */
  heading?: boolean;
}

/**
 * Splits CSV text into cells. Comma, semicolon, tab or bar are found out; quotes and line breaks inside them are kept.
 *
 * @throws RangeError when there are more lines than a drawer has parts
 */
export function splitCsv(text: string, { delimiter: said, heading = true }: SplitOptions = {}): CsvTable {
  // A last line that is empty would count as one of a single cell where the delimiter is guessed.
  const whole = text.replace(/^\uFEFF/, '').replace(/\r?\n\s*$/, '');
  // Spreadsheets say in a first line what parts the cells of the others.
  const told = /^"?sep=(.)"?\r?\n/i.exec(whole);
  const content = told ? whole.slice(told[0].length) : whole;
  const rows: CsvRow[] = [];
  let delimiter = ',';
  let cursor = 0;
  let line = told ? 2 : 1;
  papaparse.parse(content, {
    // Our own heading says what parts its cells; what stands in them may mislead a guess.
    delimiter: said ?? told?.[1] ?? (content.startsWith(CSV_COLUMNS.join(',')) ? ',' : ''),
    delimitersToGuess: [',', ';', '\t', '|'],
    step: ({ data, meta }, parser) => {
      ({ delimiter } = meta);
      const began = line;
      for (; cursor < meta.cursor; cursor++) if (content.charCodeAt(cursor) === 10) line++;
      if (data.every((cell) => cell.trim() === '')) return;
      rows.push({ line: began, cells: data });
      if (rows.length > MAX_PARTS + 1) parser.abort();
    }
  });
  if (rows.length > MAX_PARTS + 1) {
    throw new RangeError(`The file has more than ${MAX_PARTS} lines, where a drawer has at most ${MAX_PARTS} parts`);
  }
  if (heading) rows.splice(0, titleLines(rows));
  const header = heading
    ? (rows.shift()?.cells.map((cell) => unguarded(cell.trim())) ?? [])
    : (rows[0]?.cells.map((_cell, index) => `column ${index + 1}`) ?? []);
  return { delimiter, header, rows };
}

/** Lines that are looked at for a heading: titles and dates may stand over it. */
const MOST_TITLES = 5;

/** How many lines stand over the heading: the first of them that names two columns at least is it. */
function titleLines(rows: readonly CsvRow[]): number {
  const known = ({ cells }: CsvRow): number =>
    guessMapping(cells.map((cell) => unguarded(cell.trim()))).filter((column) => column !== undefined).length;
  const filled = ({ cells }: CsvRow): number => cells.filter((cell) => cell.trim() !== '').length;
  const at = rows.slice(0, MOST_TITLES).findIndex((row) => known(row) >= 2);
  return at > 0 && rows.slice(0, at).every((row) => filled(row) <= 2) ? at : 0;
}

/** Which column of the format each heading means; undefined where none is known. */
export function guessMapping(header: readonly string[]): (CsvColumn | undefined)[] {
  const taken = new Set<CsvColumn>();
  return header.map((heading) => {
    const plain = heading.trim() === '#' ? 'number' : plainWord(heading);
    const named = (word: string): CsvColumn | undefined =>
      MEANINGS.find((each) => HEADINGS[each].includes(word) && !taken.has(each));
    const column =
      CSV_COLUMNS.find((each) => each === heading && !taken.has(each)) ??
      named(plain) ??
      named(plainWord(withoutBrackets(heading))) ??
      named(withoutUnit(plain));
    if (column) taken.add(column);
    return column;
  });
}

interface Cells {
  cells: readonly string[];
  mapping: readonly (CsvColumn | undefined)[];
  /** What the numbers of each column are multiplied by. */
  factors: readonly (number | undefined)[];
  options: CsvOptions;
  complain: (column: CsvColumn, message: string) => void;
}

/**
 * Reads one line into the document form of a part. A key whose cell is empty is told apart from one without a column:
 * the one is to go, the other to stay.
 */
function documentOf({ cells, mapping, factors, options, complain }: Cells): {
  made: Record<string, unknown>;
  emptied: Set<string>;
} {
  const made: Record<string, unknown> = {};
  const measured: Record<string, unknown> = {};
  const emptied = new Set<string>();
  const threads: { -readonly [face in (typeof FOREIGN_COLUMNS)[number]]?: string } = {};
  mapping.forEach((column, index) => {
    const raw = cells[index];
    // Spreadsheets drop what is empty at the end of a line: nothing is said of it.
    if (!column || raw === undefined) return;
    const cell = unguarded(raw).trim();
    if (cell === '') {
      emptied.add(column === 'measuredMm' ? 'measured' : column);
      return;
    }
    const number = (): number | undefined => {
      const read = readNumber(cell, options.decimalSign, isSmall(column));
      if (!read.ok) return void complain(column, read.message);
      return Number((read.number * (factors[index] ?? 1)).toPrecision(12));
    };
    if (column === 'measuredMm') measured.lengthMm = number();
    else if (column === 'measuredUncertaintyMm') measured.uncertaintyMm = number();
    else if (column === 'femaleThread' || column === 'maleThread') {
      const question = threadQuestion(cell);
      if (question) complain(column, question);
      else threads[column] = cell;
    } else if ((NUMBERS as readonly string[]).includes(column)) made[column] = number();
    else if ((TICKS as readonly string[]).includes(column)) {
      const word = plainWord(cell);
      if (YES.has(word)) made[column] = true;
      else if (NO.has(word)) made[column] = false;
      else complain(column, `“${cell}” is neither yes nor no`);
    } else if (column === 'sky' || column === 'camera') {
      const reading = parsePortCell(cell);
      if (reading.ok) made[column] = reading.port;
      else complain(column, reading.message);
    } else if (column === 'kind') {
      const kind = cell.toLowerCase().replaceAll(' ', '-');
      const meant = isElementKind(kind) ? kind : (options.kinds?.get(cell.toLowerCase()) ?? kindOfWord(cell));
      if (meant) made.kind = meant;
      else complain(column, `“${cell}” is not a kind of part`);
    } else if (column === 'more') {
      try {
        const more: unknown = JSON.parse(cell);
        if (isRecord(more)) Object.assign(made, more);
        else complain(column, 'is not a JSON object');
      } catch {
        complain(column, 'is not valid JSON');
      }
    } else made[column] = cell;
  });
  // Which face has which is not said: rings are mostly female toward the sky.
  if (threads.femaleThread !== undefined) {
    made.sky ??= { thread: threads.femaleThread, gender: 'female', assumed: true };
  }
  if (threads.maleThread !== undefined) {
    made.camera ??= { thread: threads.maleThread, gender: 'male', assumed: true };
  }
  if (Object.keys(measured).length > 0) made.measured = measured;
  return { made: Object.fromEntries(Object.entries(made).filter(([, entry]) => entry !== undefined)), emptied };
}

/** What a part must have: an empty cell does not take it away. */
const NEEDED: ReadonlySet<string> = new Set(['partId', 'kind', 'name', 'lengthMm']);

const isSameThread = (a: Record<string, unknown>, b: Record<string, unknown>): boolean =>
  a.gender === b.gender &&
  parseThread(String(a.thread))?.designation !== undefined &&
  parseThread(String(a.thread))?.designation === parseThread(String(b.thread))?.designation;

/** A line laid over the part it changes: keys without a column stay, those whose cell is empty go. */
function laidOver(stored: Part, made: Record<string, unknown>, emptied: ReadonlySet<string>): Record<string, unknown> {
  const before = partToDocument(stored);
  const own = new Set<string>([...CSV_COLUMNS, 'measured']);
  // “more” stands for all that has no column of its own.
  const withMore = emptied.has('more') || 'more' in made;
  const kept = Object.entries(before).filter(
    ([key]) => NEEDED.has(key) || !(own.has(key) ? emptied.has(key) : withMore)
  );
  const result = { ...Object.fromEntries(kept), ...made };
  for (const face of ['sky', 'camera'] as const) {
    const [guess, known] = [made[face], before[face]];
    // A guess does not take the place of what somebody has looked at, where it says the same.
    if (isRecord(guess) && guess.assumed && isRecord(known) && isSameThread(guess, known)) result[face] = known;
  }
  const { measured } = made;
  if (isRecord(measured) && isRecord(before.measured)) {
    // Another length is another reading: what the old one was taken with is not known of it.
    const same = measured.lengthMm === undefined || measured.lengthMm === before.measured.lengthMm;
    result.measured = same ? { ...before.measured, ...measured } : measured;
  }
  return result;
}

export interface CsvReading {
  parts: Part[];
  problems: CsvProblem[];
  /** Lines that hold a part, good or bad. */
  lines: number;
}

export interface CsvOptions {
  /** Kind of a line that states none. */
  kind?: Part['element']['kind'];
  /** Part numbers that are taken: a line without a number gets a free one. */
  taken?: ReadonlySet<string>;
  /** Parts that are there already, by number: what a file has no column for stays as it is. */
  stored?: ReadonlyMap<string, Part>;
  /** Kinds by words of the file, lower case, that are in no list of ours. */
  kinds?: ReadonlyMap<string, Part['element']['kind']>;
  /** Found out for the whole file where it is not said. */
  decimalSign?: DecimalSign | undefined;
}

/** Every cell of a file that should be a number. */
function* numberCells(
  rows: readonly CsvRow[],
  mapping: readonly (CsvColumn | undefined)[]
): Generator<{ cell: string; isSmall: boolean }> {
  const columns = mapping.flatMap((column, index) => {
    const isNumber = column?.startsWith('measured') || (NUMBERS as readonly (string | undefined)[]).includes(column);
    return column !== undefined && isNumber ? [{ index, isSmall: isSmall(column) }] : [];
  });
  for (const { cells } of rows) {
    for (const { index, isSmall } of columns) yield { cell: unguarded(cells[index] ?? '').trim(), isSmall };
  }
}

/**
 * Reads the lines of a CSV file into parts. Every bad line is told with its number; it
 * is for the owner to say whether the good ones are kept without it.
 *
 * @param mapping for each column of the file the column of the format it means; undefined: left out
 */
export function readCsv(
  { header, rows }: CsvTable,
  mapping: readonly (CsvColumn | undefined)[] = guessMapping(header),
  options: CsvOptions = {}
): CsvReading {
  const { kind, taken = new Set(), stored } = options;
  const parts: Part[] = [];
  const problems: CsvProblem[] = [];
  const lineOf = new Map<string, number>();
  const used = new Set(taken);
  const headingOf = (column: string): string | undefined => {
    const index = mapping.indexOf(column as CsvColumn);
    return index < 0 ? undefined : header[index];
  };
  const factors = header.map(factorIn);
  const signed = { ...options, decimalSign: options.decimalSign ?? decimalSignOf(numberCells(rows, mapping)) };
  for (const { line, cells } of rows) {
    if (cells.slice(header.length).some((cell) => cell.trim() !== '')) {
      problems.push({ line, message: `has ${cells.length} cells, where the heading has ${header.length}` });
      continue;
    }
    const before = problems.length;
    const complain = (column: CsvColumn, message: string): void => {
      const heading = headingOf(column);
      problems.push({ line, ...(heading === undefined ? {} : { column: heading }), message });
    };
    const read = documentOf({ cells, mapping, factors, options: signed, complain });
    if (problems.length > before) continue;
    const there = typeof read.made.partId === 'string' ? stored?.get(read.made.partId) : undefined;
    const made = there ? laidOver(there, read.made, read.emptied) : read.made;
    if (made.kind === undefined && kind !== undefined) made.kind = kind;
    if (made.partId === undefined && typeof made.kind === 'string' && isElementKind(made.kind) && made.kind !== 'gap') {
      made.partId = freePartId(used, made.kind);
    }
    if (made.name === undefined && isElementKind(String(made.kind)) && typeof made.lengthMm === 'number') {
      made.name = usualName(made.kind as ElementKind, String(made.lengthMm), made.sky as Port | undefined);
    }
    const reading = readPart(made);
    if (!reading.ok) {
      for (const complaint of reading.complaints) {
        const heading = headingOf(complaint.pointer.split('/')[1] ?? '');
        problems.push({
          line,
          ...(heading === undefined ? {} : { column: heading }),
          message: complaintInWords(complaint)
        });
      }
      continue;
    }
    const { partId } = reading.document;
    const earlier = lineOf.get(partId);
    if (earlier !== undefined) {
      problems.push({ line, message: `“${partId}” is already the number of the part in line ${earlier}` });
      continue;
    }
    lineOf.set(partId, line);
    used.add(partId);
    parts.push(reading.document);
  }
  return { parts, problems, lines: rows.length };
}
