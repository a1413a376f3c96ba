import type { Train } from './model.ts';
import { TRAIN_SCHEMA, propertiesOf, resolved, type SchemaNode } from './schema.ts';

/** The alternative that knows every key of `record`: a document's kinds differ by their keys. */
function alternativeFor(node: SchemaNode | undefined, record: object): SchemaNode | undefined {
  const meant = resolved(node);
  if (!meant?.oneOf) return meant;
  return meant.oneOf.map(resolved).find((each) => {
    const properties = propertiesOf(each);
    return Object.keys(record).every((key) => properties[key]);
  });
}

/** What an element is, its length and its two faces come before what it is like, and the note last. */
const FIRST = [
  'id',
  'kind',
  'name',
  'lengthMm',
  'minMm',
  'maxMm',
  'wedgeMm',
  'toleranceMm',
  'measured',
  'sky',
  'camera'
];
const LAST = ['note'];

function readingOrder(keys: string[]): string[] {
  if (!['id', 'kind', 'name'].every((key) => keys.includes(key))) return keys;
  const between = keys.filter((key) => !FIRST.includes(key) && !LAST.includes(key));
  return [...FIRST, ...between, ...LAST];
}

function ordered(value: unknown, node: SchemaNode | undefined): unknown {
  if (Array.isArray(value)) {
    const items = resolved(node)?.items;
    return value.map((entry) => ordered(entry, items));
  }
  if (typeof value !== 'object' || value === null) return value;
  const meant = alternativeFor(node, value);
  const properties = propertiesOf(meant);
  const chosen = typeof meant?.additionalProperties === 'object' ? meant.additionalProperties : undefined;
  const rank = readingOrder(Object.keys(properties));
  return Object.fromEntries(
    Object.entries(value)
      .sort(([a], [b]) => rank.indexOf(a) - rank.indexOf(b))
      .map(([key, child]) => [key, ordered(child, properties[key] ?? chosen)])
  );
}

/** A document as text, keys in the schema's order, for people to read and edit. */
export const writeTrain = (train: Train): string => `${JSON.stringify(ordered(train, TRAIN_SCHEMA), null, 2)}\n`;
