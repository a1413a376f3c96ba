import { describe, expect, it } from 'vitest';
import { widthOf } from './pdf.ts';

describe('letters on paper', () => {
  /** What stands for a letter that no font has is narrow: a middle dot. */
  const dot = widthOf('·', 1, 400);

  it.each([
    ['Latin', 'ẞ'],
    ['Greek', 'Ω'],
    ['Cyrillic', 'Ж'],
    ['Han', '鏡'],
    ['kana', 'な'],
    ['Hangul', '한'],
    ['Thai', 'ก'],
    ['Devanagari', 'क'],
    ['Hebrew', 'א']
  ])('there are letters of %s', (_script, letter) => {
    expect(widthOf(letter, 1, 400)).not.toBeCloseTo(dot, 6);
    expect(widthOf(letter, 1, 400)).toBeGreaterThan(0.3);
  });

  it('a letter of East Asia is as wide as it is high', () => {
    // Full width: one em (Unicode Standard Annex 11).
    expect(widthOf('鏡', 10, 400)).toBeCloseTo(10, 1);
  });
});
