import { portInWords } from '../joint/mate.ts';
import { isRecord } from '../train/isRecord.ts';
import { sameJson } from '../train/sameJson.ts';
import type { Port } from '../train/model.ts';
import { partToDocument, type Part } from './part.ts';

/** One thing that two states of a part differ in, in words. */
export interface PartDifference {
  /** What it is: `sky face`, `length`. */
  what: string;
  /** What stood there; undefined where there was nothing. */
  from: string | undefined;
  to: string | undefined;
  /** Something that was there is gone, and nothing stands in its place. */
  lost: boolean;
}

const WORDS: Readonly<Record<string, string>> = {
  sky: 'sky face',
  camera: 'camera face',
  lengthMm: 'length',
  toleranceMm: 'tolerance',
  clearMm: 'clear diameter',
  outerMm: 'outer diameter',
  massG: 'mass',
  measured: 'measured length',
  measurements: 'readings',
  location: 'place',
  owned: 'owned',
  adjust: 'dial',
  corrector: 'back focus',
  glass: 'glass'
};

const UNITS: Readonly<Record<string, string>> = {
  lengthMm: ' mm',
  toleranceMm: ' mm',
  clearMm: ' mm',
  outerMm: ' mm',
  massG: ' g'
};

const LONGEST_WORDS = 60;

function inWords(key: string, stands: unknown): string {
  if (key === 'measurements' && Array.isArray(stands)) {
    return `${stands.length} ${stands.length === 1 ? 'reading' : 'readings'}`;
  }
  if (key === 'measured' && isRecord(stands)) {
    const { lengthMm, uncertaintyMm } = stands;
    return `${String(lengthMm)}${uncertaintyMm === undefined ? '' : ` ±${String(uncertaintyMm)}`} mm`;
  }
  if ((key === 'sky' || key === 'camera') && isRecord(stands)) return portInWords(stands as unknown as Port);
  if (typeof stands === 'boolean') return stands ? 'yes' : 'no';
  if (typeof stands === 'string' || typeof stands === 'number') return `${stands}${UNITS[key] ?? ''}`;
  const text = JSON.stringify(stands);
  return text.length > LONGEST_WORDS ? `${text.slice(0, LONGEST_WORDS)}…` : text;
}

/** Keys whose default is written by leaving them out: their going is a change, not a loss. */
const DEFAULTS: Readonly<Record<string, string>> = { quantity: '1', owned: 'yes', state: 'spare' };

const isFewer = (before: unknown, after: unknown): boolean =>
  Array.isArray(before) && Array.isArray(after) && after.length < before.length;

/** What is different between two states of a part, what is lost first. */
export function differencesOf(before: Part, after: Part): PartDifference[] {
  const [from, to] = [partToDocument(before), partToDocument(after)];
  return [...new Set([...Object.keys(from), ...Object.keys(to)])]
    .filter((key) => !sameJson(from[key], to[key]))
    .map((key): PartDifference => {
      const words = (stands: unknown): string | undefined =>
        stands === undefined ? DEFAULTS[key] : inWords(key, stands);
      const gone = to[key] === undefined && DEFAULTS[key] === undefined;
      return {
        what: WORDS[key] ?? key,
        from: words(from[key]),
        to: words(to[key]),
        lost: gone || isFewer(from[key], to[key])
      };
    })
    .sort((a, b) => Number(b.lost) - Number(a.lost));
}
