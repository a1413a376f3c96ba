import { expect, it } from 'vitest';
import { counted, sizeInWords } from './size.ts';

it.each([
  [0, '0 B'],
  [999, '999 B'],
  [1000, '1.00 kB'],
  [9994, '9.99 kB'],
  [9996, '10.0 kB'],
  [99_960, '100 kB'],
  [999_499, '999 kB'],
  [999_600, '1.00 MB'],
  [8e9, '8.00 GB'],
  [1e18, '1000 PB']
])('%d bytes are %s', (bytes, words) => {
  expect(sizeInWords(bytes)).toBe(words);
});

it('counts', () => {
  expect(counted(1, 'frame')).toBe('1 frame');
  expect(counted(0, 'frame')).toBe('0 frames');
  expect(counted(12_345, 'frame')).toBe('12,345 frames');
});
