import { beforeEach, expect, it } from 'vitest';
import { Remembered, forgetOwner, rememberWhile } from './remembered.ts';

let heard = true;
let now = 0;
rememberWhile(() => heard);
beforeEach(() => {
  heard = true;
  now = 0;
});

/** One that counts how often it is read. */
function counting() {
  const remembered = new Remembered<number>(() => now);
  let reads = 0;
  const get = (key = 'a', owner = 'ada') => remembered.get(key, () => Promise.resolve({ value: ++reads, owner }));
  return { remembered, get, reads: () => reads };
}

it('asks once, until it is forgotten or too old', async () => {
  const { get } = counting();
  expect([await get(), await get()]).toEqual([1, 1]);
  forgetOwner('bo');
  expect(await get()).toBe(1);
  forgetOwner('ada');
  expect(await get()).toBe(2);
  now = 59_999;
  expect(await get()).toBe(2);
  now = 60_001;
  expect(await get()).toBe(3);
});

it('asks each time while changes are not heard', async () => {
  const { get } = counting();
  await get();
  heard = false;
  expect([await get(), await get()]).toEqual([2, 3]);
});

it('does not keep what was read before it changed', async () => {
  const remembered = new Remembered<string>(() => now);
  let answer = (_: { value: string; owner: string }): void => undefined;
  const reading = remembered.get('a', () => new Promise((done) => (answer = done)));
  forgetOwner('ada');
  answer({ value: 'of before', owner: 'ada' });
  expect(await reading).toBe('of before');
  expect(await remembered.get('a', () => Promise.resolve({ value: 'of now', owner: 'ada' }))).toBe('of now');
});

it('does not remember that there is nothing', async () => {
  const remembered = new Remembered<number>(() => now);
  expect(await remembered.get('a', () => Promise.resolve(undefined))).toBeUndefined();
  expect(await remembered.get('a', () => Promise.resolve({ value: 1, owner: 'ada' }))).toBe(1);
});
