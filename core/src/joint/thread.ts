import { MM_PER_INCH } from '../units.ts';

/** A thread as two numbers: what decides whether it screws in. */
export interface Thread {
  /** Nominal (major) diameter d, mm. */
  diameterMm: number;
  /** Pitch P, mm. */
  pitchMm: number;
  /** How it is written in the trade: `M48×0.75`, `2″-24 UN`. */
  designation: string;
}

/** Names in use for threads that are not written as diameter × pitch (common practice, no source). */
const ALIASES: Readonly<Record<string, string>> = {
  t2: 'm42x0.75',
  't-2': 'm42x0.75',
  't-thread': 'm42x0.75',
  'c-mount': '1in-32',
  sct: '2in-24',
  'large sct': '3.25in-16'
};

const METRIC = /^m\s*(\d+(?:[.,]\d+)?)\s*[x×*]\s*(\d+(?:[.,]\d+)?)$/;
const UNIFIED = /^(\d+(?:\.\d+)?)\s*(?:in|inch|"|″|'')?\s*[-–×x]\s*(\d+)\s*(?:tpi|un|unf|unc|uns)?$/;

const decimal = (text: string): number => Number(text.replace(',', '.'));

/** Designations repeat over a train and over every check of it. */
const parsed = new Map<string, Thread | undefined>();
const REMEMBERED = 1000;

function parse(text: string): Thread | undefined {
  const spelled = text.trim().toLowerCase();
  const plain = Object.hasOwn(ALIASES, spelled) ? ALIASES[spelled]! : spelled;
  const metric = METRIC.exec(plain);
  if (metric) {
    const diameterMm = decimal(metric[1]!);
    const pitchMm = decimal(metric[2]!);
    if (diameterMm <= 0 || pitchMm <= 0 || pitchMm >= diameterMm) return undefined;
    return { diameterMm, pitchMm, designation: `M${diameterMm}×${pitchMm}` };
  }
  const unified = UNIFIED.exec(plain);
  if (unified) {
    const inches = Number(unified[1]);
    const turnsPerInch = Number(unified[2]);
    if (inches <= 0 || turnsPerInch <= 0 || inches * turnsPerInch <= 1) return undefined;
    return {
      diameterMm: inches * MM_PER_INCH,
      pitchMm: MM_PER_INCH / turnsPerInch,
      designation: `${inches}″-${turnsPerInch} UN`
    };
  }
  return undefined;
}

/**
 * Reads a thread designation: `M48x0.75`, `M48×0.75`, `2"-24 UN`, or a usual name such as `T2`.
 *
 * A diameter without its pitch is not a thread: M42 may be ×0.75 or ×1, which ruin each other.
 *
 * @returns the thread, or undefined when the text does not say one
 */
export function parseThread(text: string): Thread | undefined {
  if (!parsed.has(text)) {
    if (parsed.size >= REMEMBERED) parsed.clear();
    parsed.set(text, parse(text));
  }
  return parsed.get(text);
}
