// The application compiles this file without core's own tsconfig.
// eslint-disable-next-line @typescript-eslint/triple-slash-reference
/// <reference path="./papaparse.d.ts" />
import papaparse from 'papaparse';
import { threadQuestion } from '../joint/thread.ts';
import { isRecord } from '../train/isRecord.ts';
import { cameraPort, isElementKind, skyPort, type Port } from '../train/model.ts';
import { complaintInWords } from '../train/complain.ts';
import { sameJson } from '../train/sameJson.ts';
import { freePartId, partToDocument, type Part } from './part.ts';
import { MAX_PARTS, readPart } from './read.ts';

/** Columns of the format, in the order they are written. */
export const CSV_COLUMNS = [
  'partId',
  'kind',
  'name',
  'lengthMm',
  'toleranceMm',
  'measuredMm',
  'measuredUncertaintyMm',
  'sky',
  'camera',
  'clearMm',
  'outerMm',
  'massG',
  'reversible',
  'removable',
  'quantity',
  'owned',
  'price',
  'location',
  'state',
  'note',
  'more'
] as const;
export type CsvColumn = (typeof CSV_COLUMNS)[number];

/** Headings people use, lower case without marks, for the columns of the format (common practice, no source). */
const HEADINGS: Readonly<Record<CsvColumn, readonly string[]>> = {
  partId: ['partid', 'id', 'part', 'no', 'nr', 'number', 'partnumber', 'label'],
  kind: ['kind', 'type', 'category'],
  name: ['name', 'description', 'title'],
  lengthMm: ['lengthmm', 'length', 'opticallength', 'thickness', 'backfocusused', 'mm', 'published'],
  toleranceMm: ['tolerancemm', 'tolerance', 'tol'],
  measuredMm: ['measuredmm', 'measured', 'reading'],
  measuredUncertaintyMm: ['measureduncertaintymm', 'uncertainty', 'u'],
  sky: ['sky', 'skyface', 'telescopeside', 'scopeside', 'front'],
  camera: ['camera', 'cameraface', 'cameraside', 'back'],
  clearMm: ['clearmm', 'clear', 'clearaperture', 'innerdiameter', 'idmm'],
  outerMm: ['outermm', 'outer', 'outerdiameter', 'od'],
  massG: ['massg', 'mass', 'weight', 'weightg'],
  reversible: ['reversible'],
  removable: ['removable'],
  quantity: ['quantity', 'qty', 'count', 'pieces'],
  owned: ['owned', 'have'],
  price: ['price', 'cost'],
  location: ['location', 'place', 'where', 'tin', 'box'],
  state: ['state', 'status'],
  note: ['note', 'notes', 'comment', 'remarks'],
  more: ['more']
};

/** A port as one cell: `M48x0.75 female 4.5`, `bayonet dslr-44.0 male`, `slip 2in male`, `6 bolts on 70`. */
export function portCell(port: Port): string {
  if ('thread' in port) {
    return `${port.thread} ${port.gender}${port.lengthMm === undefined ? '' : ` ${port.lengthMm}`}`;
  }
  if ('bayonet' in port) return `bayonet ${port.bayonet} ${port.gender}`;
  if ('slip' in port) return `slip ${port.slip} ${port.gender}`;
  if ('clamp' in port) return `clamp ${port.clamp} ${port.gender}`;
  return `${port.bolts.count} bolts on ${port.bolts.circleMm}`;
}

const PORT = /^(?:(bayonet|slip|clamp)\s+)?(.+?)[\s,]+(male|female|m|f)(?:[\s,]+(\d+(?:[.,]\d+)?)\s*(?:mm)?)?$/i;
const BOLTS = /^(\d+)\s+bolts\s+on\s+(\d+(?:[.,]\d+)?)$/i;

const decimal = (text: string): number => Number(text.replace(',', '.'));

/** Reads a port from one cell. A thread without a pitch is asked about, never guessed. */
export function parsePortCell(cell: string): { ok: true; port: Port } | { ok: false; message: string } {
  const text = cell.trim();
  const bolts = BOLTS.exec(text);
  if (bolts) return { ok: true, port: { bolts: { count: Number(bolts[1]), circleMm: decimal(bolts[2]!) } } };
  const match = PORT.exec(text);
  if (!match) {
    const question = threadQuestion(text);
    return {
      ok: false,
      message: question ?? `“${text}” does not say whether it is male or female`
    };
  }
  const [, holds, name, word, length] = match;
  const gender = word!.toLowerCase().startsWith('m') ? ('male' as const) : ('female' as const);
  if (holds?.toLowerCase() === 'bayonet') return { ok: true, port: { bayonet: name!, gender } };
  if (holds?.toLowerCase() === 'clamp') return { ok: true, port: { clamp: name!, gender } };
  if (holds) return { ok: true, port: { slip: name!, gender } };
  const question = threadQuestion(name!);
  if (question) return { ok: false, message: question };
  return {
    ok: true,
    port: { thread: name!.trim(), gender, ...(length === undefined ? {} : { lengthMm: decimal(length) }) }
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

/** Plain columns: the cell is the key's value as text. */
const NUMBERS: readonly CsvColumn[] = ['lengthMm', 'toleranceMm', 'clearMm', 'outerMm', 'massG', 'quantity', 'price'];
const TEXTS: readonly CsvColumn[] = ['partId', 'kind', 'name', 'location', 'state', 'note'];
const TICKS: readonly CsvColumn[] = ['reversible', 'removable', 'owned'];

function rowOf(part: Part): string[] {
  const document = partToDocument(part);
  const cells: Partial<Record<CsvColumn, string>> = {};
  /** Keys that have found a column; the others go together into the last. */
  const placed = new Set<string>();
  const put = (column: CsvColumn, cell: string, key: string = column): void => {
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

/**
 * Splits CSV text into cells. Comma, semicolon, tab or bar are found out; quotes and line breaks inside them are kept.
 *
 * @throws RangeError when there are more lines than a drawer has parts
 */
export function splitCsv(text: string): CsvTable {
  const content = text.replace(/^\uFEFF/, '');
  const rows: CsvRow[] = [];
  let delimiter = ',';
  let cursor = 0;
  let line = 1;
  papaparse.parse(content, {
    // Our own heading says what parts its cells; what stands in them may mislead a guess.
    delimiter: content.startsWith(CSV_COLUMNS.join(',')) ? ',' : '',
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
  const header = rows.shift()?.cells.map((cell) => unguarded(cell.trim())) ?? [];
  return { delimiter, header, rows };
}

/** Which column of the format each heading means; undefined where none is known. */
export function guessMapping(header: readonly string[]): (CsvColumn | undefined)[] {
  const taken = new Set<CsvColumn>();
  return header.map((heading) => {
    const plain = heading.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, '');
    const column =
      CSV_COLUMNS.find((each) => each === heading && !taken.has(each)) ??
      CSV_COLUMNS.find((each) => HEADINGS[each].includes(plain) && !taken.has(each));
    if (column) taken.add(column);
    return column;
  });
}

const YES = new Set(['yes', 'y', 'true', '1', 'x']);
const NO = new Set(['no', 'n', 'false', '0']);
const NUMBER = /^[+−-]?(?:\d+(?:[.,]\d*)?|[.,]\d+)$/;

/** Reads one line into the document form of a part. */
function documentOf(
  cells: readonly string[],
  mapping: readonly (CsvColumn | undefined)[],
  complain: (column: CsvColumn, message: string) => void
): Record<string, unknown> {
  const made: Record<string, unknown> = {};
  const measured: Record<string, unknown> = {};
  mapping.forEach((column, index) => {
    const cell = unguarded(cells[index] ?? '').trim();
    if (!column || cell === '') return;
    const number = (): number | undefined => {
      const text = cell.replace(/\s*mm$/i, '').replace('−', '-');
      if (NUMBER.test(text)) return decimal(text);
      complain(column, `“${cell}” is not a number`);
      return undefined;
    };
    if (column === 'measuredMm') measured.lengthMm = number();
    else if (column === 'measuredUncertaintyMm') measured.uncertaintyMm = number();
    else if (NUMBERS.includes(column)) made[column] = number();
    else if (TICKS.includes(column)) {
      const word = cell.toLowerCase();
      if (YES.has(word)) made[column] = true;
      else if (NO.has(word)) made[column] = false;
      else complain(column, `“${cell}” is neither yes nor no`);
    } else if (column === 'sky' || column === 'camera') {
      const reading = parsePortCell(cell);
      if (reading.ok) made[column] = reading.port;
      else complain(column, reading.message);
    } else if (column === 'kind') {
      const kind = cell.toLowerCase().replaceAll(' ', '-');
      if (isElementKind(kind)) made.kind = kind;
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
  if (Object.keys(measured).length > 0) made.measured = measured;
  return Object.fromEntries(Object.entries(made).filter(([, entry]) => entry !== undefined));
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
}

/**
 * Reads the lines of a CSV file into parts. Every bad line is told with its number; nothing of a file with bad
 * lines should be kept.
 *
 * @param mapping for each column of the file the column of the format it means; undefined: left out
 */
export function readCsv(
  { header, rows }: CsvTable,
  mapping: readonly (CsvColumn | undefined)[] = guessMapping(header),
  { kind, taken = new Set() }: CsvOptions = {}
): CsvReading {
  const parts: Part[] = [];
  const problems: CsvProblem[] = [];
  const lineOf = new Map<string, number>();
  const used = new Set(taken);
  const headingOf = (column: string): string | undefined => {
    const index = mapping.indexOf(column as CsvColumn);
    return index < 0 ? undefined : header[index];
  };
  for (const { line, cells } of rows) {
    if (cells.length !== header.length) {
      problems.push({ line, message: `has ${cells.length} cells, where the heading has ${header.length}` });
      continue;
    }
    const before = problems.length;
    const made = documentOf(cells, mapping, (column, message) => {
      const heading = headingOf(column);
      problems.push({ line, ...(heading === undefined ? {} : { column: heading }), message });
    });
    if (problems.length > before) continue;
    if (made.kind === undefined && kind !== undefined) made.kind = kind;
    if (made.partId === undefined && typeof made.kind === 'string' && isElementKind(made.kind) && made.kind !== 'gap') {
      made.partId = freePartId(used, made.kind);
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
