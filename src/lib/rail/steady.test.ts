import { describe, expect, it } from 'vitest';
import { Steady } from './steady.ts';

describe('steady', () => {
  it('gives back the object it knows while nothing in it differs, by its name', () => {
    const steady = new Steady<{ mm: number[] }>();
    const first = steady.keep('a', { mm: [1, 2] });
    expect(steady.keep('a', { mm: [1, 2] })).toBe(first);
    expect(steady.keep('b', { mm: [1, 2] })).not.toBe(first);
    const other = { mm: [1, 3] };
    expect(steady.keep('a', other)).toBe(other);
    expect(steady.keep('a', { mm: [1, 2] })).not.toBe(first);
  });
});
