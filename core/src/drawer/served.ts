import train from '../train/train.schema.json' with { type: 'json' };
import drawer from './drawer.schema.json' with { type: 'json' };

/** Kinds of element that may be parts, by the name of their schema. */
const PARTS = ['BodyElement', 'CameraElement', 'ShimElement'] as const;

/** A part: what an element of its kind has, and what the drawer says of it; its number stands for the element’s id. */
function partSchema(name: (typeof PARTS)[number]): object {
  const { allOf, ...element } = train.$defs[name];
  const named = { $ref: '#/$defs/NamedPart' };
  const parts = allOf.map((each) => (each.$ref === '#/$defs/Named' ? named : each));
  return { ...element, title: name.replace('Element', 'Part'), allOf: [...parts, { $ref: '#/$defs/PartKeys' }] };
}

/**
 * The whole schema of a drawer as one document, for programs of others: {@link drawer} has its own keys, and an element’s
 * stand in the train’s schema.
 */
export function servedDrawerSchema(): object {
  const { Named, ...elements } = train.$defs;
  // A drawer’s part goes by its number; an id beside it is not looked at.
  const properties = { ...Named.properties, id: {} };
  const { additionalProperties: _closed, ...partKeys } = drawer.$defs.PartKeys;
  const { parts } = drawer.properties;
  return {
    ...drawer,
    properties: { ...drawer.properties, parts: { ...parts, items: { $ref: '#/$defs/Part' } } },
    $defs: {
      ...elements,
      ...drawer.$defs,
      PartKeys: partKeys,
      NamedPart: { title: 'NamedPart', type: 'object', required: ['name'], properties },
      ...Object.fromEntries(PARTS.map((name) => [name.replace('Element', 'Part'), partSchema(name)])),
      Part: {
        title: 'Part',
        type: 'object',
        required: ['kind', 'partId'],
        // Which copy of a part stands in a train is said there.
        not: { required: ['copy'] },
        oneOf: PARTS.map((name) => ({ $ref: `#/$defs/${name.replace('Element', 'Part')}` }))
      }
    }
  };
}
