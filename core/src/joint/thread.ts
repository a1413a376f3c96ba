import { MM_PER_INCH, decimal } from '../units.ts';
import { plainSigns } from './signs.ts';

/** A thread as two numbers: what decides whether it screws in. */
export interface Thread {
  /** Nominal (major) diameter d, mm. */
  diameterMm: number;
  /** Pitch P, mm. */
  pitchMm: number;
  /** How it is written in the trade: `M48×0.75`, `2″-24 UN`. */
  designation: string;
}

/** A thread the field uses, with the names it goes by. */
export interface UsualThread {
  designation: string;
  /** Where it is met, in words. */
  use: string;
  /** Other names that mean exactly this thread, lower case. */
  names: readonly string[];
}

/**
 * Threads in use, thinnest first. A name stands here only if it says diameter *and* pitch to everybody:
 * “M42” does not (common practice, no source).
 */
export const USUAL_THREADS: readonly UsualThread[] = [
  {
    designation: '1″-32 UN',
    use: 'C-mount and CS-mount cameras',
    names: ['c-mount', 'cs-mount', 'c mount', 'cs mount']
  },
  { designation: 'M28.5×0.6', use: '1.25″ filters', names: ['1.25in filter', '1.25" filter', '1.25″ filter'] },
  { designation: 'M42×0.75', use: 'T-thread', names: ['t2', 't-2', 't', 't-mount', 't mount'] },
  { designation: 'M42×1', use: 'old lens mount', names: ['m42 lens', 'm42 lens mount'] },
  {
    designation: 'M48×0.75',
    use: '2″ filters and wide adapters',
    names: ['2in filter', '2" filter', '2″ filter', '2 inch filter']
  },
  {
    designation: '2″-24 UN',
    use: 'Schmidt-Cassegrain back',
    names: ['sct', 'sc', '2in sct', '2" sct', '2″ sct', '2 inch sct']
  },
  { designation: 'M54×0.75', use: 'wheels and large cameras', names: [] },
  { designation: 'M56×1', use: 'rotators', names: [] },
  { designation: 'M63×1', use: 'correctors and focusers', names: [] },
  { designation: 'M68×1', use: 'large correctors', names: [] },
  { designation: 'M72×1', use: 'large correctors', names: [] },
  { designation: 'M82×1', use: 'large focusers', names: [] },
  { designation: '3.25″-16 UN', use: 'large Schmidt-Cassegrain back', names: ['large sct'] }
];

const ALIASES = new Map(
  USUAL_THREADS.flatMap(({ designation, names }) => names.map((name) => [name, designation.toLowerCase()] as const))
);

/** Names of threads, the longest first. */
export const THREAD_NAMES: readonly string[] = [...ALIASES.keys()].sort((a, b) => b.length - a.length);

const NUMBER = String.raw`(\d+(?:[.,]\d+)?|[.,]\d+)`;
/** `M48×0.75`, `m48x.75`, `48/0,75`, `M 48 x 0.75 mm`. */
const METRIC = new RegExp(`^(?:m\\s*)?${NUMBER}\\s*[x×*/]\\s*${NUMBER}(?:\\s*mm)?$`);
/** `2"-24 UN`, `3.25in-16`, `3 1/4-16 UN`, `7/8″-20`. */
const UNIFIED =
  /^(?:(\d+(?:[.,]\d+)?)|(?:(\d+)[\s-])?(\d+)\/(\d+))\s*(?:in|inch|"|″|'')?(?:\s*[-–×x]\s*|\s*(?=\d+\s*(?:tpi|un)))(\d+)\s*(?:tpi|un|unf|unc|uns|unef)?$/;

/** No thread in an imaging train is anywhere near; what is larger is a slip of the key. */
const LARGEST_DIAMETER_MM = 1000;

/** What people add to a name without meaning anything more by it. */
const NOISE = /[\s-]*\b(?:thread|threaded)$/;

/** Designations repeat over a train and over every check of it. */
const parsed = new Map<string, Thread | undefined>();
const REMEMBERED = 1000;

function parse(text: string): Thread | undefined {
  const spelled = plainSigns(text).trim().toLowerCase().replace(/\s+/g, ' ').replace(NOISE, '');
  // `M48-0.75`: a dash before a pitch, where a length would have no M.
  const plain = ALIASES.get(spelled) ?? spelled.replace(/^(m\s*[\d.,]+)\s*-\s*(?=[01]?[.,]\d)/, '$1x');
  const metric = METRIC.exec(plain);
  if (metric) {
    const diameterMm = decimal(metric[1]!);
    const pitchMm = decimal(metric[2]!);
    if (!(diameterMm <= LARGEST_DIAMETER_MM && pitchMm > 0 && pitchMm < diameterMm)) return undefined;
    return { diameterMm, pitchMm, designation: `M${diameterMm}×${pitchMm}` };
  }
  const unified = UNIFIED.exec(plain);
  if (unified) {
    const [, whole, extra, over, under, turns] = unified;
    const inches = whole === undefined ? Number(extra ?? 0) + Number(over) / Number(under) : decimal(whole);
    const turnsPerInch = Number(turns);
    if (!(inches * MM_PER_INCH <= LARGEST_DIAMETER_MM && turnsPerInch > 0 && inches * turnsPerInch > 1))
      return undefined;
    return {
      diameterMm: inches * MM_PER_INCH,
      pitchMm: MM_PER_INCH / turnsPerInch,
      designation: `${inches}″-${turnsPerInch} UN`
    };
  }
  return undefined;
}

/**
 * Reads a thread designation: `M48x0.75`, `M48×0.75`, `2"-24 UN`, `3 1/4-16 UN`, or a usual name such as `T2`.
 *
 * A diameter without its pitch is not a thread: M42 may be ×0.75 or ×1, which ruin each other.
 *
 * @returns the thread, or undefined when the text does not say one
 */
export function parseThread(text: string): Thread | undefined {
  const known = parsed.get(text);
  if (known || parsed.has(text)) return known;
  if (parsed.size >= REMEMBERED) parsed.clear();
  const thread = parse(text);
  parsed.set(text, thread);
  return thread;
}

const withoutNoise = (text: string): string =>
  text
    .trim()
    .toLowerCase()
    .replace(/[?!.]+$/, '')
    .replace(NOISE, '');

/** A diameter whose pitch is missing, as in `M42` or `2in`: what has to be asked. */
const PITCHLESS = /^(?:m\s*(\d+(?:[.,]\d+)?)|(\d+(?:\.\d+)?)\s*(?:in|inch|"|″))$/i;

/**
 * Threads that a diameter without its pitch may mean, `M42`: those in use. Empty where the text is a thread, or no
 * diameter of one.
 */
export function pitchChoices(text: string): string[] {
  const match = parseThread(text) ? null : PITCHLESS.exec(withoutNoise(text));
  if (!match) return [];
  const diameterMm = match[1] === undefined ? Number(match[2]) * MM_PER_INCH : decimal(match[1]);
  // A thread may also be called by the size of the barrel or filter it belongs to.
  const called = match[2] === undefined ? undefined : `${match[2]}" `;
  return USUAL_THREADS.filter(
    ({ designation, names }) =>
      Math.abs(parseThread(designation)!.diameterMm - diameterMm) < 0.1 ||
      (called !== undefined && names.some((name) => name.startsWith(called)))
  ).map(({ designation }) => designation);
}

/**
 * What to ask about a text that is not a thread: which pitch, where only the pitch is missing.
 *
 * @returns a question in words; undefined when the text is a thread
 */
export function threadQuestion(text: string): string | undefined {
  if (parseThread(text)) return undefined;
  const shown = text.trim();
  if (!PITCHLESS.test(withoutNoise(shown))) return `“${shown}” has no diameter and pitch, as M48×0.75 or 2″-24 UN have`;
  const known = pitchChoices(shown);
  const choice = known.length > 0 ? ` ${known.join(' or ')}` : ' As in M48×0.75';
  return `“${shown}” has no pitch, and a wrong one binds. Which pitch?${choice}`;
}

/**
 * Pitch diameter of a 60° profile, d₂ = d − 0.649519·P, mm.
 *
 * @see ISO 68-1 / ISO 724, ASME B1.1 (from memory)
 */
export const pitchDiameter = ({ diameterMm, pitchMm }: Thread): number => diameterMm - 0.649519 * pitchMm;

/**
 * Minor diameter of the internal thread of a 60° profile, D₁ = d − 1.082532·P, mm: what a male must pass.
 *
 * @see ISO 68-1 / ISO 724, ASME B1.1 (from memory)
 */
export const minorDiameter = ({ diameterMm, pitchMm }: Thread): number => diameterMm - 1.082532 * pitchMm;

const micrometres = (mm: number): number => Math.round(mm * 1000);

export const sameDiameter = (a: Thread, b: Thread): boolean => micrometres(a.diameterMm) === micrometres(b.diameterMm);
export const samePitch = (a: Thread, b: Thread): boolean => micrometres(a.pitchMm) === micrometres(b.pitchMm);

/** Black rings whose diameters differ by less than this share are taken for each other (common practice, no source). */
const LOOKALIKE_SHARE = 0.04;

/**
 * Whether two different threads are easily taken for each other: `pitch` where only the pitch differs,
 * `diameter` where the diameters are within 4 %.
 */
export function lookalike(a: Thread, b: Thread): 'pitch' | 'diameter' | undefined {
  if (sameDiameter(a, b)) return samePitch(a, b) ? undefined : 'pitch';
  const larger = Math.max(a.diameterMm, b.diameterMm);
  return Math.abs(a.diameterMm - b.diameterMm) <= LOOKALIKE_SHARE * larger ? 'diameter' : undefined;
}
