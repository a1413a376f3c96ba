import { CONTROL } from './complain.ts';
import { isRecord } from './isRecord.ts';

/** Turns a document of one tag into one of the next. */
type Upgrade = (older: Record<string, unknown>) => Record<string, unknown>;

/** By the tag they start from. `train/1` is the first there is, so that none stands here yet. */
const UPGRADES: Readonly<Record<string, Upgrade>> = {};

/**
 * Brings a stored train document to the newest tag, step by step; what it does not know it leaves alone, for the
 * reader to refuse by name.
 *
 * @param candidate any JSON value
 */
export function upgrade(candidate: unknown, upgrades = UPGRADES): unknown {
  let current = candidate;
  for (let steps = 0; steps <= Object.keys(upgrades).length; steps++) {
    if (!isRecord(current) || typeof current.lodestone !== 'string') return current;
    const next = Object.hasOwn(upgrades, current.lodestone) ? upgrades[current.lodestone] : undefined;
    if (!next) break;
    current = next(current);
  }
  return withPlainTexts(withSteps(current));
}

const CONTROLS = new RegExp(`${CONTROL.source}+`, 'g');

/** Controls in texts, and names of nothing but blanks, were taken once: the texts without them, the same object where there are none. */
export function withPlainTexts(candidate: unknown, key?: string): unknown {
  if (typeof candidate === 'string') {
    const plain = candidate.replace(CONTROLS, ' ');
    return key === 'name' && plain !== '' && plain.trim() === '' ? 'without a name' : plain;
  }
  if (Array.isArray(candidate)) {
    const plain = candidate.map((each: unknown) => withPlainTexts(each));
    return plain.some((each, at) => each !== candidate[at]) ? plain : candidate;
  }
  if (!isRecord(candidate)) return candidate;
  const entries = Object.entries(candidate).map(([name, each]) => [name, withPlainTexts(each, name)] as const);
  return entries.some(([name, each]) => each !== candidate[name]) ? Object.fromEntries(entries) : candidate;
}

/** Steps that are done were a list once; nothing is known of the joints they closed then. */
function withSteps(candidate: unknown): unknown {
  if (!isRecord(candidate) || !isRecord(candidate.assembly) || !Array.isArray(candidate.assembly.done))
    return candidate;
  const { done, ...assembly } = candidate.assembly;
  const steps = Object.fromEntries((done as unknown[]).map((key) => [String(key), { as: '' }]));
  return { ...candidate, assembly: { ...assembly, steps } };
}
