import type { Reading } from '../train/read.ts';
import { parseJson, withLines } from '../train/readText.ts';
import type { Part } from './part.ts';
import { MAX_DRAWER_CHARS, readDrawer } from './read.ts';

/** Reads a drawer document from text. */
export function readDrawerText(text: string): Reading<Part[]> {
  const parsed = parseJson(text, MAX_DRAWER_CHARS, 'a drawer');
  if (!parsed.ok) return parsed;
  const reading = readDrawer(parsed.document);
  return reading.ok ? reading : { ok: false, complaints: withLines(reading.complaints, text) };
}
