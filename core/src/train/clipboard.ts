import { isRecord } from './isRecord.ts';
import type { Element } from './model.ts';
import { readElement, type Reading } from './read.ts';

const FORMAT = 'parts/1';
/** More is no part of a train that was copied. */
const MOST_PARTS = 100;
const MOST_CHARS = 2_000_000;

/** Parts of a train as text, for another train. */
export const partsAsText = (elements: readonly Element[]): string =>
  JSON.stringify({ lodestone: FORMAT, elements }, null, 2);

/**
 * Parts out of a text that {@link partsAsText} made.
 *
 * @returns undefined where the text is something else: it may be meant for another place
 */
export function readPartsText(text: string): Reading<Element[]> | undefined {
  if (text.length > MOST_CHARS || !/^\s*\{/.test(text)) return undefined;
  let candidate: unknown;
  try {
    candidate = JSON.parse(text);
  } catch {
    return undefined;
  }
  if (!isRecord(candidate) || candidate['lodestone'] !== FORMAT) return undefined;
  const { elements } = candidate;
  const complain = (message: string): Reading<Element[]> => ({
    ok: false,
    complaints: [{ pointer: '/elements', place: 'elements', message }]
  });
  if (!Array.isArray(elements) || elements.length === 0) return complain('must be a list of parts');
  if (elements.length > MOST_PARTS) return complain(`has ${elements.length} parts, more than ${MOST_PARTS}`);
  const read: Element[] = [];
  for (const [at, each] of elements.entries()) {
    const reading = readElement(each);
    if (!reading.ok) {
      const [first] = reading.complaints;
      return complain(`part ${at + 1}: ${first?.place ?? ''} ${first?.message ?? 'is no part'}`);
    }
    read.push(reading.document);
  }
  return { ok: true, document: read };
}
