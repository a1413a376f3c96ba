/** Equality of JSON values whatever the order of their keys: a database keeps an order of its own. */
export function sameJson(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  const keys = Object.keys(a);
  return (
    Array.isArray(a) === Array.isArray(b) &&
    keys.length === Object.keys(b).length &&
    keys.every((key) => Object.hasOwn(b, key) && sameJson(a[key as keyof typeof a], b[key as keyof typeof b]))
  );
}

/** Keys by which two objects differ, but those left out: the first's before what only the second has. */
export const differingKeys = (a: object, b: object, but?: ReadonlySet<string>): string[] =>
  [...new Set([...Object.keys(a), ...Object.keys(b)])].filter(
    (key) => !but?.has(key) && !sameJson(a[key as keyof typeof a], b[key as keyof typeof b])
  );
