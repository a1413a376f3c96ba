import type { Train } from '@lodestone/core/train';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Frames, TestFrame } from '$lib/frames/frames.svelte.ts';
import type { Sweep } from '$lib/frames/sweep.svelte.ts';
import { FakePage } from '$lib/testing/sync.ts';
import { TrainSession } from '$lib/train/session.svelte.ts';
import heron from '../../../demo/heron.json' with { type: 'json' };
import longTom from '../../../demo/long-tom.json' with { type: 'json' };
import { TuneDesk } from './desk.svelte.ts';
import type { Tuning } from './tuning.svelte.ts';

interface Taken {
  name: string;
  shot: { binning: number; focuserAt?: number; truth: { seeingPx?: number; defocusUm?: number } };
}

const frame = (name: string, widthPx = 10, state = 'read'): TestFrame =>
  ({ name, state, summary: { widthPx, heightPx: 10 } }) as unknown as TestFrame;

let taken: Taken[];
let frames: { list: TestFrame[]; chosen?: TestFrame; other?: TestFrame; together: readonly TestFrame[] } & Record<
  'compare' | 'simulate',
  unknown
>;
let sweep: { inSteps?: object; taken?: readonly TestFrame[]; isSweep: boolean; asked: string; readAs: string };

beforeEach(() => {
  taken = [];
  frames = {
    list: [],
    together: [],
    compare: (other: TestFrame | undefined) => {
      delete frames.other;
      if (other) frames.other = other;
    },
    simulate: (_train: Train, shots: Taken[]) => {
      taken.push(...shots);
      return (frames.together = shots.map(({ name }) => frame(name)));
    }
  };
  sweep = { isSweep: false, asked: '', readAs: '' };
});

function desk(document: unknown = longTom, experiments: readonly unknown[] = []): TuneDesk {
  const train = new TrainSession(
    {
      id: 'here',
      state: 'active',
      revision: { number: 1, hash: 'h', savedAt: '2026-11-25T00:00:00Z' },
      document: document as Train
    },
    new FakePage()
  );
  const asSweep = Object.assign(sweep, {
    take: (all: readonly TestFrame[]) => (sweep.taken = all),
    takeIfSweep: () => sweep.isSweep
  });
  const tuning = { experiments, addFrames: vi.fn(() => 'It is of another camera.') };
  return new TuneDesk(train, frames as unknown as Frames, asSweep as unknown as Sweep, tuning as unknown as Tuning);
}

describe('the lists', () => {
  it('begin with what was tried, where there is no frame to look at', () => {
    expect(desk(longTom, [{}]).list).toBe('experiments');
    expect(desk().list).toBe('frames');
    frames.chosen = frame('a');
    expect(desk(longTom, [{}]).list).toBe('frames');
  });

  it('turn to the frames when one comes, and to the sweep when several together are one', () => {
    const at = desk(longTom, [{}]);
    at.lookForNew();
    expect(at.list).toBe('experiments');
    frames.list = [frame('a')];
    at.lookForNew();
    expect(at.list).toBe('frames');

    sweep.isSweep = true;
    frames.together = [frame('a'), frame('b', 10, 'reading')];
    at.takeTogether();
    expect(at.list).toBe('frames');
    frames.together = [frame('a'), frame('b')];
    at.takeTogether();
    expect(at.list).toBe('sweep');
    // Looked at once: somebody who turns back is left there.
    at.list = 'frames';
    at.takeTogether();
    expect(at.list).toBe('frames');
  });

  it('a sweep that was read just now turns the face, one that stood there does not', () => {
    sweep.inSteps = {};
    const at = desk();
    at.showSweep();
    expect(at.layer).toBe('stars');
    sweep.inSteps = {};
    at.showSweep();
    expect(at.layer).toBe('tilt');
  });
});

describe('the simulated camera', () => {
  it('bins as far as a frame stays quick, and takes a sweep through focus', () => {
    const at = desk();
    const { widthMm, heightMm, pixelUm } = at.sensor as { widthMm: number; heightMm: number; pixelUm: number };
    at.simulate();
    const [{ shot }] = taken as [Taken];
    const pixels = (widthMm * heightMm * 1e6) / pixelUm ** 2 / shot.binning ** 2;
    expect(pixels).toBeLessThanOrEqual(7e6);
    expect(shot.truth.seeingPx).toBeCloseTo(2.3 * shot.binning, 9);

    taken = [];
    at.nightId = 'focus';
    at.simulateSweep();
    expect(taken).toHaveLength(9);
    expect(new Set(taken.map((each) => each.shot.focuserAt)).size).toBe(9);
    // The night is out of focus: the middle of the sweep is as far out as it is.
    const middle = taken.map((each) => each.shot.truth.defocusUm!).sort((a, b) => a - b)[4];
    expect(middle).toBeCloseTo(320, 6);
    expect([at.list, sweep.taken?.length]).toEqual(['sweep', 9]);
    // It is a sweep by being asked for one, not by what its frames say.
    at.list = 'frames';
    sweep.isSweep = true;
    at.takeTogether();
    expect(at.list).toBe('frames');
  });

  it('needs a sensor', () => {
    const elements = heron.elements.map((element) =>
      element.kind === 'camera' ? { ...element, sensor: undefined } : element
    );
    expect(desk({ ...heron, elements }).hasSensor).toBe(false);
    expect(desk().hasSensor).toBe(true);
  });
});

describe('comparing', () => {
  it('takes the next frame of the same size in the list, round its end, and lets it go again', () => {
    const all = [frame('a'), frame('b', 20), frame('c')];
    Object.assign(frames, { list: all, chosen: all[2] });
    const at = desk();
    expect(at.compare()).toBeUndefined();
    expect(frames.other?.name).toBe('a');
    at.compare();
    expect(frames.other).toBeUndefined();
    frames.chosen = all[1]!;
    expect(at.compare()).toMatch(/no other frame of this size/);
  });

  it('keeping what a frame says shows what was tried, and why it cannot be kept', () => {
    expect(desk().keep()).toBeUndefined();
    frames.chosen = frame('a');
    const at = desk();
    expect(at.keep()).toBe('It is of another camera.');
    expect(at.list).toBe('experiments');
  });
});
