import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { whenThere } from './reach.ts';

let there: boolean;
let asked: number;
const page = new EventTarget();

beforeEach(() => {
  vi.useFakeTimers();
  there = false;
  asked = 0;
  vi.stubGlobal('fetch', () => {
    asked++;
    return there ? Promise.resolve(new Response('{}')) : Promise.reject(new TypeError('Failed to fetch'));
  });
  vi.stubGlobal('addEventListener', page.addEventListener.bind(page));
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

it('looks less often the longer it takes, and says once that the server is there', async () => {
  const then = vi.fn();
  whenThere(then);
  await vi.advanceTimersByTimeAsync(60_000);
  // After 2, 6, 14, 24, 34, 44 and 54 s.
  expect(asked).toBe(7);
  there = true;
  await vi.advanceTimersByTimeAsync(60_000);
  expect(then).toHaveBeenCalledOnce();
  expect(asked).toBe(8);
});

it('looks at once where the network comes back, and not at all once it is stopped', async () => {
  const then = vi.fn();
  const stop = whenThere(then);
  there = true;
  page.dispatchEvent(new Event('online'));
  await vi.advanceTimersByTimeAsync(0);
  expect(then).toHaveBeenCalledOnce();
  stop();
  const other = vi.fn();
  whenThere(other)();
  page.dispatchEvent(new Event('online'));
  await vi.advanceTimersByTimeAsync(60_000);
  expect(other).not.toHaveBeenCalled();
});
