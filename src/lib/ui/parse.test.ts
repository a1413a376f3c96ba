import { describe, expect, it } from 'vitest';
import { numberText, parseFactor, parseNumber } from './parse.ts';

describe('numbers as people type them', () => {
  it.each([
    ['17.5', 'mm', 17.5],
    ['17,5', 'mm', 17.5],
    ['.5', 'mm', 0.5],
    ['-2', 'mm', -2],
    ['−2', 'mm', -2],
    ['0.5 in', 'mm', 12.7],
    ['12.7mm', 'in', 12.7],
    ['1"', 'mm', 25.4],
    ['0.5', 'in', 12.7],
    ['  3 ', 'mm', 3],
    // Handbook §3: 12 long, 3.5 of it screws in.
    ['12 - 3.5', 'mm', 8.5],
    ['12−3,5', 'mm', 8.5],
    ['17.5+2+0.1', 'mm', 19.6],
    ['1 in - 0.4 mm', 'mm', 25],
    ['25.4 mm + 1', 'in', 50.8],
    ['0.1+0.2', 'mm', 0.3],
    ['-1 + 3', 'mm', 2]
  ] as const)('%s in %s', (text, unit, mm) => {
    expect(parseNumber(text, unit)).toEqual({ ok: true, parsed: mm });
  });

  it('nothing typed is nothing, not zero', () => {
    expect(parseNumber('  ', 'mm')).toEqual({ ok: true, parsed: undefined });
  });

  it.each([
    'abc',
    '1.2.3',
    '1e5',
    '--2',
    'NaN',
    'Infinity',
    '12 cm',
    '12 -',
    '12 3',
    '12 - - 3',
    '12*2',
    '12 - 3.5 cm',
    '1 mm mm'
  ])('“%s” is refused', (text) => {
    expect(parseNumber(text, 'mm').ok).toBe(false);
  });

  it('a bare number takes no unit', () => {
    expect(parseNumber('0.79')).toEqual({ ok: true, parsed: 0.79 });
    expect(parseNumber('0.79 mm').ok).toBe(false);
    expect(parseNumber('1 - 0.21')).toEqual({ ok: true, parsed: 0.79 });
    expect(parseNumber('1 - 0.21 in').ok).toBe(false);
  });

  it('shows what was typed, without trailing zeros', () => {
    expect(numberText(17.2)).toBe('17.2');
    expect(numberText(0.1 + 0.2)).toBe('0.3');
    expect(numberText(12.7, 'in')).toBe('0.5');
    expect(numberText(undefined)).toBe('');
  });
});

it.each([
  ['0.8', 0.8],
  ['0,8×', 0.8],
  ['0.8x', 0.8],
  ['0.79 ×', 0.79],
  ['', undefined]
])('a factor may be written %s', (text, parsed) => {
  expect(parseFactor(text)).toEqual({ ok: true, parsed });
});

it.each(['eight', '0', '-1'])('%s is no factor, and it is said', (text) => {
  expect(parseFactor(text).ok).toBe(false);
});
