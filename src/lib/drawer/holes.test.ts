import { expect, it } from 'vitest';
import { holesIn } from './holes.ts';

const lengths = (...rings: (number | undefined)[]) => rings.map((each, mm) => ({ mm, rings: each }));

it('neighbours that are not made are one stretch', () => {
  expect(holesIn(lengths(0, undefined, undefined, 1, undefined, 2))).toEqual([
    { fromMm: 1, toMm: 2 },
    { fromMm: 4, toMm: 4 }
  ]);
  expect(holesIn(lengths(0, 1))).toEqual([]);
  expect(holesIn([])).toEqual([]);
});
