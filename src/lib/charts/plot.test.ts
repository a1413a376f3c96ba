import { describe, expect, it } from 'vitest';
import { evenly, lineThrough, plotOf, signed } from './plot.ts';

describe('a plot', () => {
  const margins = { left: 40, right: 10, top: 16, foot: 30 };

  it('has its scales within its margins, y upward', () => {
    const { x, y, right, bottom } = plotOf(340, 170, margins, [0, 1], [-1, 1]);
    expect([x(0), x(1), right]).toEqual([40, 330, 330]);
    expect([y(-1), y(1), bottom]).toEqual([140, 16, 140]);
  });

  it('is empty where there is no room, and never turned round', () => {
    const { x, y, left, right, top, bottom } = plotOf(0, 0, margins, [0, 1], [0, 1]);
    expect(right - left).toBe(0);
    expect(bottom - top).toBe(0);
    expect([x(1), y(1)]).toEqual([40, 16]);
  });
});

it('a line begins where its first point is', () => {
  expect(
    lineThrough([
      [1, 2],
      [3.14159, -4]
    ])
  ).toBe('M1.0 2.0L3.1 -4.0');
  expect(lineThrough([])).toBe('');
});

it('places are even, ends included', () => expect(evenly(1, 2, 4)).toEqual([1, 1.25, 1.5, 1.75, 2]));

it('a number has its sign, and nothing has none', () =>
  expect([0.1, -0.1, 0].map(signed)).toEqual(['+0.1', '−0.1', '0']));
