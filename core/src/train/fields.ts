import { DEFINITIONS, TRAIN_SCHEMA, propertiesOf, referredName } from './schema.ts';

/** Bounds of a number in the document, in its own unit. */
export interface Limits {
  least: number | undefined;
  most: number | undefined;
  /** The lower bound itself is not allowed. */
  above: boolean;
}

/** What a form has to know of a key of the document. */
export interface FieldOfSchema {
  /** Its words, as messages and labels use them. */
  title: string | undefined;
  kind: 'length' | 'number' | 'whole' | 'text' | 'tick' | 'other';
  /** What a number that is no length is counted in. */
  unit: string | undefined;
  limits: Limits;
}

/** Definitions that are lengths, in mm. */
const LENGTHS: ReadonlySet<string | undefined> = new Set(['Length', 'PositiveLength', 'SignedLength', 'FocalLength']);

/** Units by what the key ends with, where it is no length. */
const UNITS: readonly (readonly [RegExp, string])[] = [
  [/Um$/, 'µm'],
  [/Deg$/, '°'],
  [/G$/, 'g'],
  [/Kg$/, 'kg']
];

const KINDS_BY_TYPE: Readonly<Record<string, FieldOfSchema['kind']>> = {
  number: 'number',
  integer: 'whole',
  string: 'text',
  boolean: 'tick'
};

/**
 * What the schema says about a key, so that a form never states limits, units or words of its own.
 *
 * @param definition name in the schema's `$defs`, as in `Glass`
 * @param key name of the property, as in `thicknessMm`
 */
export function fieldOf(definition: string, key: string): FieldOfSchema {
  const stated = propertiesOf(DEFINITIONS[definition])[key] ?? {};
  const referred = referredName(stated);
  const node = referred === undefined ? stated : (DEFINITIONS[referred] ?? {});
  const kind = LENGTHS.has(referred) ? 'length' : (KINDS_BY_TYPE[node.type ?? ''] ?? 'other');
  return {
    title: stated.title,
    kind,
    unit: kind === 'length' ? undefined : UNITS.find(([ending]) => ending.test(key))?.[1],
    limits: {
      least: node.exclusiveMinimum ?? node.minimum,
      most: node.maximum,
      above: node.exclusiveMinimum !== undefined
    }
  };
}

/** Elements come first: where several things have a key of one name, it mostly means theirs. */
const ORDER = ['BodyElement', 'CameraElement', 'ShimElement', ...Object.keys(DEFINITIONS)];

/** Words for every key that has some, whatever it is a key of. */
export const KEY_WORDS: ReadonlyMap<string, string> = new Map(
  [TRAIN_SCHEMA, ...ORDER.map((name) => DEFINITIONS[name])]
    .flatMap((node) => Object.entries(propertiesOf(node)))
    .flatMap(([key, { title }]) => (title === undefined ? [] : [[key, title] as const]))
    .reverse()
);
