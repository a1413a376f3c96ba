import { complaintsFrom } from '../train/complain.ts';
import { unstorable, type Reading } from '../train/read.ts';
import { parseJson, withLines } from '../train/readText.ts';
import type { ExperimentsFile } from './generated/types.ts';
import { validateExperimentsFile } from './generated/validate.js';

/** Longest file that is read, characters: two thousand experiments with everything stated. */
const MAX_CHARS = 2_000_000;

/** Reads experiments from JSON text. */
export function readExperimentsText(text: string): Reading<ExperimentsFile> {
  const parsed = parseJson(text, MAX_CHARS, 'experiments');
  if (!parsed.ok) return parsed;
  const candidate = parsed.document;
  const impossible = unstorable(candidate);
  if (impossible) return { ok: false, complaints: withLines([impossible], text) };
  if (validateExperimentsFile(candidate)) return { ok: true, document: candidate };
  return { ok: false, complaints: withLines(complaintsFrom(validateExperimentsFile.errors ?? [], candidate), text) };
}
