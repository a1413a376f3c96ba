import schema from './train.schema.json' with { type: 'json' };
import type { Train } from './model.ts';

/** Rank of every key, in the order the schema lists them: the order a person writes a document in. */
const RANK: ReadonlyMap<string, number> = new Map(
  [
    ...Object.keys(schema.properties),
    ...Object.values(schema.$defs).flatMap((each) => ('properties' in each ? Object.keys(each.properties) : []))
  ]
    .reverse()
    .map((key, rank) => [key, -rank] as const)
);

function ordered(node: unknown): unknown {
  if (Array.isArray(node)) return node.map(ordered);
  if (typeof node !== 'object' || node === null) return node;
  return Object.fromEntries(
    Object.entries(node)
      .sort(([a], [b]) => (RANK.get(a) ?? 0) - (RANK.get(b) ?? 0))
      .map(([key, child]) => [key, ordered(child)])
  );
}

/** A document as text, keys in the schema's order, for people to read and edit. */
export const writeTrain = (train: Train): string => `${JSON.stringify(ordered(train), null, 2)}\n`;
