import { complaintsFrom } from '../train/complain.ts';
import { unstorable, type Reading } from '../train/read.ts';
import { parseJson, withLines } from '../train/readText.ts';
import type { FocusRunFile } from './generated/types.ts';
import { validateFocusRunFile } from './generated/validate.js';

export type { FocusRunFile };

/** Largest run that is read, characters: five thousand points with everything stated. */
const MAX_RUN_CHARS = 2_000_000;

/** Reads a focus run from JSON text. */
export function readFocusRunText(text: string): Reading<FocusRunFile> {
  const parsed = parseJson(text, MAX_RUN_CHARS, 'a focus run');
  if (!parsed.ok) return parsed;
  const candidate = parsed.document;
  const impossible = unstorable(candidate);
  if (impossible) return { ok: false, complaints: withLines([impossible], text) };
  if (validateFocusRunFile(candidate)) return { ok: true, document: candidate };
  return { ok: false, complaints: withLines(complaintsFrom(validateFocusRunFile.errors ?? [], candidate), text) };
}
