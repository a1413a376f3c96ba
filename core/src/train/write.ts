import schema from './train.schema.json' with { type: 'json' };
import type { Train } from './model.ts';

interface Node {
  $ref?: string;
  oneOf?: Node[];
  properties?: Record<string, Node>;
  items?: Node;
  const?: unknown;
  enum?: unknown[];
}

const DEFINITIONS: Readonly<Record<string, Node>> = schema.$defs as Record<string, Node>;

const resolve = (node: Node | undefined): Node | undefined =>
  node?.$ref ? DEFINITIONS[node.$ref.slice('#/$defs/'.length)] : node;

/** The alternative that knows every key of `record`: a document's kinds differ by their keys. */
function alternativeFor(node: Node | undefined, record: object): Node | undefined {
  const resolved = resolve(node);
  if (!resolved?.oneOf) return resolved;
  return resolved.oneOf.map(resolve).find((each) => Object.keys(record).every((key) => each?.properties?.[key]));
}

function ordered(value: unknown, node: Node | undefined): unknown {
  if (Array.isArray(value)) {
    const items = resolve(node)?.items;
    return value.map((entry) => ordered(entry, items));
  }
  if (typeof value !== 'object' || value === null) return value;
  const properties = alternativeFor(node, value)?.properties ?? {};
  const rank = Object.keys(properties);
  return Object.fromEntries(
    Object.entries(value)
      .sort(([a], [b]) => rank.indexOf(a) - rank.indexOf(b))
      .map(([key, child]) => [key, ordered(child, properties[key])])
  );
}

/** A document as text, keys in the schema's order, for people to read and edit. */
export const writeTrain = (train: Train): string => `${JSON.stringify(ordered(train, schema), null, 2)}\n`;
