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

/** What an element is comes before what it is like. */
const FIRST = ['id', 'kind', 'name'];

function ordered(value: unknown, node: SchemaNode | undefined): unknown {
  if (Array.isArray(value)) {
    const items = resolved(node)?.items;
    return value.map((entry) => ordered(entry, items));
  }
  if (typeof value !== 'object' || value === null) return value;
  const properties = propertiesOf(alternativeFor(node, value));
  const first = FIRST.every((key) => properties[key]) ? FIRST : [];
  const rank = [...first, ...Object.keys(properties).filter((key) => !first.includes(key))];
  return Object.fromEntries(
    Object.entries(value)
      .sort(([a], [b]) => rank.indexOf(a) - rank.indexOf(b))
      .map(([key, child]) => [key, ordered(child, properties[key])])
  );
}

/** A document as text, keys in the schema's order, for people to read and edit. */
export const writeTrain = (train: Train): string => `${JSON.stringify(ordered(train, TRAIN_SCHEMA), null, 2)}\n`;
