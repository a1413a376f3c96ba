/** Parts that are bought together, as a quick line that may be corrected before it is entered. */
export interface Kit {
  words: string;
  line: string;
}

/** Sets of rings, shims and filters, and what lies in a camera's box (common practice, no source; to be checked). */
export const KITS: readonly Kit[] = [
  { words: 'Kit: rings M42', line: 'M42×0.75 f–m 5, 7.5, 10, 15, 20, 30' },
  { words: 'Kit: rings M48', line: 'M48×0.75 f–m 5, 7.5, 10, 15, 20, 30' },
  { words: 'Kit: rings M54', line: 'M54×0.75 f–m 5, 7.5, 10, 15, 20' },
  { words: 'Kit: shims', line: 'shims 0.1 ×2, 0.2 ×2, 0.3 ×2, 0.5 ×2, 1' },
  {
    words: 'Kit: camera box with adapters to M42 and M48',
    line: 'M42×0.75 f–m 21, adapter M48×0.75 f M42×0.75 m 16.5, adapter M42×0.75 f M42×0.75 f 2'
  },
  { words: 'Kit: four filters 36 mm, L R G B', line: 'filters 36 2 mm ×4' },
  { words: 'Kit: three narrow-band filters 36 mm', line: 'filters 36 2 mm ×3' },
  {
    words: 'Kit: T-ring and M48 ring for DSLR 44.0',
    line: 'T-ring 11 M42×0.75 f DSLR 44.0, T-ring 10 M48×0.75 f DSLR 44.0'
  }
];

/** Words that ask for more than one part. */
const CALLS = /^(?:kit|set|box)/;

/** Kits that are called something: every word begins one of theirs, and one of them is “kit”, “set” or “box”. */
export function kitsCalled(query: string): Kit[] {
  const plain = (text: string): string[] =>
    text
      .toLowerCase()
      .split(/[\s:,]+/)
      .filter(Boolean);
  const asked = plain(query);
  if (!asked.some((word) => CALLS.test(word))) return [];
  return KITS.filter(({ words, line }) => {
    const own = [...plain(words), 'set'];
    return line !== query.trim() && asked.every((word) => own.some((each) => each.startsWith(word)));
  });
}
