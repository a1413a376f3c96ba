import { describe, expect, it } from 'vitest';
import {
  USUAL_THREADS,
  lookalike,
  minorDiameter,
  parseThread,
  pitchDiameter,
  threadQuestion,
  type Thread
} from '../src/joint/index.ts';

const thread = (text: string): Thread => {
  const found = parseThread(text);
  if (!found) throw new Error(`${text} is not a thread`);
  return found;
};

describe('thread geometry', () => {
  // Basic dimensions of ISO 724, mm (from memory).
  it.each([
    ['M6x1', 5.35, 4.917],
    ['M8x1.25', 7.188, 6.647],
    ['M10x1.5', 9.026, 8.376],
    ['M12x1.75', 10.863, 10.106],
    ['M20x2.5', 18.376, 17.294],
    ['M42x1.5', 41.026, 40.376]
  ])('%s has the pitch and minor diameter of ISO 724', (text, d2, d1) => {
    expect(pitchDiameter(thread(text))).toBeCloseTo(d2, 3);
    expect(minorDiameter(thread(text))).toBeCloseTo(d1, 3);
  });

  // Basic pitch diameter and minor diameter of the internal thread, ASME B1.1, inches (from memory).
  it.each([
    ['1/4-20 UNC', 0.2175, 0.1959],
    ['3/8-16 UNC', 0.3344, 0.3073],
    ['1/2-13 UNC', 0.45, 0.4167],
    ['1in-8 UNC', 0.9188, 0.8647]
  ])('%s has those of ASME B1.1', (text, pitchIn, minorIn) => {
    expect(pitchDiameter(thread(text)) / 25.4).toBeCloseTo(pitchIn, 4);
    expect(minorDiameter(thread(text)) / 25.4).toBeCloseTo(minorIn, 4);
  });

  it('fractions are read as decimals are', () => {
    expect(parseThread('3 1/4-16 UN')).toEqual(parseThread('3.25in-16 UN'));
    expect(parseThread('1/0-20')).toBeUndefined();
  });
});

describe('the registry', () => {
  it('reads every designation and every name in it', () => {
    for (const { designation, names } of USUAL_THREADS) {
      for (const name of [designation, ...names, ...names.map((each) => each.toUpperCase())]) {
        expect(parseThread(name)?.designation, name).toBe(designation);
      }
    }
  });

  it('asks for a pitch that is missing, and names the candidates', () => {
    expect(threadQuestion('M42')).toMatch(/M42×0\.75 or M42×1/);
    expect(threadQuestion('2in')).toMatch(/2″-24 UN/);
    expect(threadQuestion('T2?')).toMatch(/has no diameter and pitch/);
    expect(threadQuestion('M48x0.75')).toBeUndefined();
  });
});

describe('lookalikes (common practice, no source)', () => {
  it.each([
    ['M42x0.75', 'M42x1', 'pitch'],
    ['M54x0.75', 'M56x1', 'diameter'],
    ['2in-24 UN', 'M50x1', 'diameter'],
    ['M42x0.75', 'M48x0.75', undefined],
    ['M48x0.75', 'M48×0.75', undefined]
  ])('%s and %s: %s', (a, b, expected) => {
    expect(lookalike(thread(a), thread(b))).toBe(expected);
    expect(lookalike(thread(b), thread(a))).toBe(expected);
  });
});
