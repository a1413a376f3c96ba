const WHOLE = new Intl.NumberFormat('en');
const UNITS = ['B', 'kB', 'MB', 'GB', 'TB', 'PB'] as const;

/** A size as a person reads it, three figures: `1.24 GB`. */
export function sizeInWords(bytes: number): string {
  let [value, unit] = [bytes, 0];
  // What would be rounded to a thousand is one of the next unit.
  while (value >= 999.5 && unit < UNITS.length - 1) [value, unit] = [value / 1000, unit + 1];
  const digits = unit === 0 || value >= 99.95 ? 0 : value >= 9.995 ? 1 : 2;
  return `${value.toFixed(digits)} ${UNITS[unit]}`;
}

/** `1 frame`, `3 frames`. */
export const counted = (count: number, one: string): string => `${WHOLE.format(count)} ${one}${count === 1 ? '' : 's'}`;
