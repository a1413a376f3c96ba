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
  if (validateFocusRunFile(candidate)) {
    const silent = candidate.points.findIndex(({ hfrPx, seen }) => hfrPx === undefined && seen === undefined);
    if (silent < 0) return { ok: true, document: candidate };
    const complaint = {
      pointer: `/points/${silent}`,
      place: `point ${silent + 1}`,
      message: 'needs hfrPx, or what was seen'
    };
    return { ok: false, complaints: withLines([complaint], text) };
  }
  return { ok: false, complaints: withLines(complaintsFrom(validateFocusRunFile.errors ?? [], candidate), text) };
}
