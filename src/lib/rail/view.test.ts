import { describe, expect, it } from 'vitest';
import { niceStep } from './view.svelte.ts';

describe('steps of the graduation', () => {
  it.each([
    [0.9, 1],
    [1, 1],
    [1.1, 2],
    [2.3, 5],
    [7, 10],
    [0.03, 0.05],
    [46, 50]
  ])('%f is followed by %f', (least, step) => {
    expect(niceStep(least)).toBeCloseTo(step, 12);
  });
});
