/** A name as it is compared: without regard to case, spaces and how an inch is written. */
const plain = (name: string): string =>
  name
    .toLowerCase()
    .replaceAll(/\s/g, '')
    .replaceAll(/(?<=\d)(?:inch(?:es)?|in|"|″|''|′′)/g, 'in');

/** Whether two names of bayonets, slip fits or clamps mean the same. */
export const sameName = (a: string, b: string): boolean => a === b || plain(a) === plain(b);

const bare = (name: string): string =>
  plain(name)
    .replaceAll(/\.0+(?!\d)/g, '')
    .replaceAll(/[^a-z0-9.]/g, '');

/** Whether two different names may well mean the same: they differ in punctuation or a trailing zero only. */
export const mayBeSame = (a: string, b: string): boolean => !sameName(a, b) && bare(a) === bare(b);
