import schema from './train.schema.json' with { type: 'json' };

/** Bounds of a number in the document, in its own unit. */
export interface Limits {
  least: number | undefined;
  most: number | undefined;
  /** The lower bound itself is not allowed. */
  above: boolean;
}

interface Node {
  $ref?: string;
  minimum?: number;
  exclusiveMinimum?: number;
  maximum?: number;
  properties?: Record<string, Node>;
}

const DEFINITIONS: Readonly<Record<string, Node>> = schema.$defs as Record<string, Node>;

/**
 * What the schema says about a number, so that a form never states limits of its own.
 *
 * @param definition name in the schema's `$defs`, as in `Glass`
 * @param key name of the property, as in `thicknessMm`
 */
export function limitsOf(definition: string, key: string): Limits {
  const stated = DEFINITIONS[definition]?.properties?.[key];
  const node = stated?.$ref ? DEFINITIONS[stated.$ref.slice('#/$defs/'.length)] : stated;
  return {
    least: node?.exclusiveMinimum ?? node?.minimum,
    most: node?.maximum,
    above: node?.exclusiveMinimum !== undefined
  };
}
