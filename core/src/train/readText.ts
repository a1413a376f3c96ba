import { parseTree, findNodeAtLocation, printParseErrorCode, visit, type ParseError } from 'jsonc-parser';
import { pointerSteps, toPointer, type Complaint } from './complain.ts';
import type { Train } from './model.ts';
import { MAX_DOCUMENT_CHARS, readTrain, type Reading } from './read.ts';

const refused = (complaints: Complaint[]): { ok: false; complaints: Complaint[] } => ({ ok: false, complaints });

const lineAndColumn = (text: string, offset: number): string => {
  const before = text.slice(0, offset).split('\n');
  return `line ${before.length}, column ${before.at(-1)!.length + 1}`;
};

/** Words for what the parser stumbled over: `ValueExpected` becomes `value expected`. */
const parseErrorWords = (code: ParseError['error']): string =>
  printParseErrorCode(code)
    .replaceAll(/(?<!^)([A-Z])/g, ' $1')
    .toLowerCase();

function malformed(text: string): Complaint {
  let reason = 'is not valid JSON';
  try {
    const errors: ParseError[] = [];
    parseTree(text, errors, { disallowComments: true });
    const [first] = errors;
    if (first) reason = `is not valid JSON: ${parseErrorWords(first.error)} at ${lineAndColumn(text, first.offset)}`;
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    reason = 'is nested too deeply to be read';
  }
  return { pointer: '', place: 'the document', message: reason };
}

/** Where the lines of a text begin. @returns the line an offset is in, counted from 1 */
function lineTable(text: string): (offset: number) => number {
  const begins = [0];
  for (let at = text.indexOf('\n'); at >= 0; at = text.indexOf('\n', at + 1)) begins.push(at + 1);
  return (offset) => {
    let [low, high] = [0, begins.length];
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (begins[middle]! <= offset) low = middle;
      else high = middle;
    }
    return low + 1;
  };
}

/** Adds to each complaint the line of the text it points at. */
export function withLines(complaints: Complaint[], text: string): Complaint[] {
  try {
    const content = text.replace(/^\uFEFF/, '');
    const root = parseTree(content);
    if (!root) return complaints;
    const lineAt = lineTable(content);
    return complaints.map((each) => {
      const steps = pointerSteps(each.pointer);
      const node = findNodeAtLocation(
        root,
        steps.map((step) => (/^\d+$/.test(step) ? Number(step) : step))
      );
      // A key stands where its name does.
      const at = node?.parent?.type === 'property' ? node.parent : node;
      return at ? { ...each, line: lineAt(at.offset) } : each;
    });
  } catch (error) {
    if (error instanceof RangeError) return complaints;
    throw error;
  }
}

/** Whether any object of a valid JSON text has a key twice; a parser that knows places takes eight times as long. */
function hasKeyTwice(text: string): boolean {
  const open: (Set<string> | undefined)[] = [];
  for (let at = 0; at < text.length; at++) {
    const sign = text[at];
    if (sign === '{') open.push(new Set());
    else if (sign === '[') open.push(undefined);
    else if (sign === '}' || sign === ']') open.pop();
    if (sign !== '"') continue;
    let end = text.indexOf('"', at + 1);
    while (endsInBackslashes(text, at + 1, end)) end = text.indexOf('"', end + 1);
    let next = end + 1;
    while (/\s/.test(text[next] ?? '')) next++;
    if (text[next] === ':') {
      const written = text.slice(at + 1, end);
      const key = written.includes('\\') ? (JSON.parse(`"${written}"`) as string) : written;
      const keys = open.at(-1);
      if (keys?.has(key)) return true;
      keys?.add(key);
    }
    at = end;
  }
  return false;
}

/** Whether an odd number of backslashes stands before a place: then what stands there is no end. */
function endsInBackslashes(text: string, from: number, end: number): boolean {
  let at = end;
  while (at > from && text[at - 1] === '\\') at--;
  return (end - at) % 2 === 1;
}

/**
 * The first key that an object has twice: the last one would win, unsaid (RFC 8259, §4).
 *
 * @param text valid JSON
 */
export function duplicateKey(text: string): Complaint | undefined {
  if (!hasKeyTwice(text)) return undefined;
  const objects: Set<string>[] = [];
  let found: Complaint | undefined;
  visit(text, {
    onObjectBegin: () => (found ? false : void objects.push(new Set())),
    onObjectEnd: () => void objects.pop(),
    onObjectProperty: (key, _offset, _length, line, _column, pathOf) => {
      const keys = objects.at(-1);
      if (keys?.has(key) && !found) {
        const steps = [...pathOf(), key];
        found = {
          pointer: toPointer(steps),
          place: steps.join(' → '),
          message: 'is there twice: keep one',
          line: line + 1
        };
      }
      keys?.add(key);
    }
  });
  return found;
}

/**
 * Reads JSON text, as a file, a paste or standard input gives it; a byte order mark at its start is ignored.
 *
 * @param most largest text that is read, characters
 * @param what name of what is expected, as in `a train`
 */
export function parseJson(text: string, most: number, what: string): Reading<unknown> {
  const content = text.replace(/^\uFEFF/, '');
  if (content.trim() === '') return refused([{ pointer: '', place: 'the document', message: 'is empty' }]);
  if (content.length > most) {
    return refused([
      {
        pointer: '',
        place: 'the document',
        message: `is too large: ${content.length} characters, where ${what} may have ${most}`
      }
    ]);
  }
  let document: unknown;
  try {
    document = JSON.parse(content);
  } catch {
    return refused([malformed(content)]);
  }
  const twice = duplicateKey(content);
  return twice ? refused([twice]) : { ok: true, document };
}

/** Reads a train document from text. */
export function readTrainText(text: string): Reading<Train> {
  const parsed = parseJson(text, MAX_DOCUMENT_CHARS, 'a train');
  if (!parsed.ok) return parsed;
  const reading = readTrain(parsed.document);
  return reading.ok ? reading : refused(withLines(reading.complaints, text));
}
