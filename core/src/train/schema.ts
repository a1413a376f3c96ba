import schema from './train.schema.json' with { type: 'json' };

/** As much of a JSON Schema as is asked here. */
export interface SchemaNode {
  $ref?: string;
  allOf?: SchemaNode[];
  oneOf?: SchemaNode[];
  properties?: Record<string, SchemaNode>;
  items?: SchemaNode;
  /** What stands under keys that whoever wrote the document chose. */
  additionalProperties?: boolean | SchemaNode;
  title?: string;
  type?: string;
  minimum?: number;
  exclusiveMinimum?: number;
  maximum?: number;
}

export const TRAIN_SCHEMA = schema as SchemaNode;

export const DEFINITIONS: Readonly<Record<string, SchemaNode>> = schema.$defs as Record<string, SchemaNode>;

/** Name of the definition a node refers to. */
export const referredName = ({ $ref }: SchemaNode): string | undefined => $ref?.slice('#/$defs/'.length);

/** The node itself, or the definition it refers to. */
export const resolved = (node: SchemaNode | undefined): SchemaNode | undefined => {
  const name = node && referredName(node);
  return name === undefined ? node : DEFINITIONS[name];
};

/** Every key of an object, those of its facets first. */
export function propertiesOf(node: SchemaNode | undefined): Record<string, SchemaNode> {
  const facets = (node?.allOf ?? []).map((facet) => propertiesOf(resolved(facet)));
  return Object.assign({}, ...facets, node?.properties ?? {}) as Record<string, SchemaNode>;
}
