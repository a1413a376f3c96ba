import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { Counts } from './counts.svelte.ts';

const kept = new Map<string, string>();
beforeEach(() => {
  kept.clear();
  vi.stubGlobal('localStorage', {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => kept.set(key, value)
  });
});
afterEach(() => vi.unstubAllGlobals());

it('what counts is said row by row, and is there again the next time', () => {
  const counts = new Counts();
  counts.recall();
  expect(counts.list).toEqual([]);
  counts.toggle('mass');
  counts.toggle('price');
  counts.toggle('mass');
  expect([counts.has('mass'), counts.has('price')]).toEqual([false, true]);
  const again = new Counts();
  again.recall();
  expect(again.list).toEqual(['price']);
});

it('what was kept and cannot be read is left alone', () => {
  for (const nonsense of ['{', '7', '{"a":1}', '[1, null]']) {
    kept.set('lodestone.counts', nonsense);
    const counts = new Counts();
    counts.recall();
    expect(counts.list).toEqual([]);
  }
});
