import type { Train } from '@lodestone/core/train';
import { beforeEach, describe, expect, it } from 'vitest';
import { FakePage, stubBrowser } from '$lib/testing/sync.ts';
import { TrainSession } from '$lib/train/session.svelte.ts';
import longTom from '../../../demo/long-tom.json' with { type: 'json' };
import { FrameForm } from './frameForm.svelte.ts';
import { GuideRun } from './guideRun.svelte.ts';

let train: TrainSession;
let run: GuideRun;

beforeEach(() => {
  stubBrowser();
  train = new TrainSession(
    {
      id: 'long-tom',
      state: 'active',
      revision: { number: 1, hash: 'h', savedAt: '2026-11-22T00:00:00Z' },
      document: longTom as unknown as Train
    },
    new FakePage()
  );
  run = new GuideRun(train);
});

describe('the guide camera is focused by itself', () => {
  it('begins at the stop of its helical, and leaves the run of the main camera alone', () => {
    expect(run.next).toEqual({ position: 0, way: 'out' });
    const main = train.document.focusing?.run;
    const form = new FrameForm(run, () => run.next);
    form.hfr = '6';
    expect(form.add(undefined)).toBe(true);
    expect(run.points).toEqual([{ position: 0, hfrPx: 6, direction: 'out' }]);
    expect(train.document.focusing?.run).toEqual(main);
    expect(train.undoLabel).toBe('Add a guide frame at 0');
  });

  it('finds the smallest star of a curve, and says where to lock it', () => {
    // A half-flux curve about mark 5 (HFR = a √(1 + ((x − x₀)/b)²)).
    const hfrAt = (mark: number): number => 2 * Math.sqrt(1 + ((mark - 5) / 1.5) ** 2);
    for (let mark = 0; mark <= 10 && !run.answer.enough; mark++) {
      expect(
        run.add({ position: mark, hfrPx: Number(hfrAt(mark).toFixed(3)), direction: 'out' }, 'hand')
      ).toBeUndefined();
    }
    expect(run.answer.bestPosition).toBeCloseTo(5, 0);
    expect(run.headline).toMatch(/^Smallest at 5\.\d ±/);
    run.startAgain();
    expect(run.points).toEqual([]);
    expect(train.document.focusing?.guideRun).toBeUndefined();
  });
});
