import { isRecord } from '../train/isRecord.ts';
import { MOST_COMPLAINTS, complaintsFrom, placeInWords, toPointer, type Complaint } from '../train/complain.ts';
import type { SolidElement } from '../train/model.ts';
import { readElement, unstorable, type Reading } from '../train/read.ts';
import { validateDrawerFile, validatePartKeys } from './generated/validate.js';
import schema from './drawer.schema.json' with { type: 'json' };
import { tidyLocation, type Part, type PartKeys } from './part.ts';

/** Largest drawer read, characters: twenty thousand full parts. */
export const MAX_DRAWER_CHARS = 24_000_000;

/** Most parts a drawer holds. */
export const MAX_PARTS = schema.properties.parts.maxItems;

const PART_KEYS = new Set(Object.keys(schema.$defs.PartKeys.properties));

/** Most values a drawer may hold: twenty thousand full parts and their readings. */
const MAX_DRAWER_VALUES = 4_000_000;

/** Whether a date of the form YYYY-MM-DD is in the calendar (Gregorian, from the year 1 on; ISO 8601). */
export function isCalendarDate(date: string): boolean {
  const [year, month, day] = date.split('-').map(Number);
  if (!year || !month || !day || month > 12) return false;
  const leap = year % 4 === 0 && (year % 100 !== 0 || year % 400 === 0);
  return day <= [31, leap ? 29 : 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31][month - 1]!;
}

/** What the schema cannot say of readings: dates that exist, ids that are there once. */
function readingComplaints(keys: PartKeys): Complaint[] {
  const found: Complaint[] = [];
  const seen = new Set<string>();
  (keys.measurements ?? []).forEach(({ id, date }, index) => {
    const complain = (key: string, message: string): void => {
      const pointer = toPointer(['measurements', index, key]);
      found.push({ pointer, place: placeInWords(keys, pointer), message });
    };
    if (date !== undefined && !isCalendarDate(date)) complain('date', `“${date}” is not in the calendar`);
    if (id !== undefined && seen.has(id)) complain('id', `“${id}” is already the id of another reading`);
    if (id !== undefined) seen.add(id);
  });
  return found;
}

/** `set aside` is read as `set-aside`. */
const hyphenated = (state: unknown): unknown => (typeof state === 'string' ? state.trim().replaceAll(' ', '-') : state);

/** Complaints about a piece, told as about the whole it was taken from. */
const within = (root: unknown, base: string, complaints: readonly Complaint[]): Complaint[] =>
  complaints.map(({ pointer, message }) => ({
    pointer: base + pointer,
    place: placeInWords(root, base + pointer),
    message
  }));

/**
 * Checks one part as it stands in a drawer document.
 *
 * @param candidate any JSON value
 * @returns complaints point into the part itself
 */
export function readPart(candidate: unknown): Reading<Part> {
  if (!isRecord(candidate)) {
    return { ok: false, complaints: [{ pointer: '', place: 'the part', message: 'must be an object' }] };
  }
  const entries = Object.entries(candidate);
  const keys: unknown = Object.fromEntries(
    entries
      .filter(([key]) => PART_KEYS.has(key))
      .map(([key, entry]) => [key, key === 'state' ? hyphenated(entry) : entry])
  );
  if (!validatePartKeys(keys)) return { ok: false, complaints: complaintsFrom(validatePartKeys.errors ?? [], keys) };
  const impossible = readingComplaints(keys);
  if (impossible.length > 0) return { ok: false, complaints: impossible };
  const { partId, quantity = 1, owned = true, price, location = '', state = 'spare', measurements = [] } = keys;
  if (candidate.kind === 'gap') {
    return {
      ok: false,
      complaints: [{ pointer: '/kind', place: 'kind', message: 'cannot be a gap: a gap is not a part' }]
    };
  }
  const { copy, ...own } = Object.fromEntries(entries.filter(([key]) => !PART_KEYS.has(key)));
  if (copy !== undefined) {
    return {
      ok: false,
      complaints: [{ pointer: '/copy', place: 'copy', message: 'belongs in a train; a drawer has quantity' }]
    };
  }
  const reading = readElement({ ...own, id: partId });
  if (!reading.ok) return reading;
  return {
    ok: true,
    document: {
      partId,
      // A gap was refused above.
      element: reading.document as SolidElement,
      quantity,
      owned,
      ...(price === undefined ? {} : { price }),
      location: tidyLocation(location),
      state,
      measurements
    }
  };
}

/**
 * Checks that something read from outside is a drawer document.
 *
 * @returns its parts, defaults filled in, or every complaint about it
 */
export function readDrawer(candidate: unknown): Reading<Part[]> {
  const impossible = unstorable(candidate, MAX_DRAWER_VALUES);
  if (impossible) return { ok: false, complaints: [impossible] };
  if (isRecord(candidate) && typeof candidate.lodestone === 'string' && candidate.lodestone !== 'drawer/1') {
    const message = `must be "drawer/1", but is the text “${candidate.lodestone.slice(0, 40)}”: this is another kind of document`;
    return { ok: false, complaints: [{ pointer: '/lodestone', place: 'format tag', message }] };
  }
  if (!validateDrawerFile(candidate)) {
    return { ok: false, complaints: complaintsFrom(validateDrawerFile.errors ?? [], candidate) };
  }
  const complaints: Complaint[] = [];
  const parts: Part[] = [];
  const firstWith = new Map<string, number>();
  for (const [index, entry] of candidate.parts.entries()) {
    if (complaints.length >= MOST_COMPLAINTS) {
      complaints.push({
        pointer: toPointer(['parts', index]),
        place: 'the document',
        message: 'is not read on from here'
      });
      break;
    }
    const base = toPointer(['parts', index]);
    const reading = readPart(entry);
    if (!reading.ok) {
      complaints.push(...within(candidate, base, reading.complaints));
      continue;
    }
    const { partId } = reading.document;
    const earlier = firstWith.get(partId);
    if (earlier !== undefined) {
      complaints.push(
        ...within(candidate, base, [
          { pointer: '/partId', place: '', message: `“${partId}” is already the number of part ${earlier + 1}` }
        ])
      );
    }
    firstWith.set(partId, index);
    parts.push(reading.document);
  }
  return complaints.length > 0 ? { ok: false, complaints } : { ok: true, document: parts };
}
