import type { Train } from '@lodestone/core/train';
import { beforeEach, describe, expect, it } from 'vitest';
import { FakePage, stubBrowser } from '$lib/testing/sync.ts';
import { TrainSession } from '$lib/train/session.svelte.ts';
import { thisEvening } from '$lib/ui/time.ts';
import heron from '../../../demo/heron.json' with { type: 'json' };
import { NightForm } from './nights.svelte.ts';

/** As it came, before the first night. */
const { nights: _nights, ...document } = heron;
let train: TrainSession;
let form: NightForm;

beforeEach(() => {
  stubBrowser();
  train = new TrainSession(
    {
      id: 'heron',
      state: 'active',
      revision: { number: 1, hash: 'h', savedAt: '2026-11-22T00:00:00Z' },
      document: document as Train
    },
    new FakePage()
  );
  form = new NightForm(train);
});

describe('what frames say', () => {
  const arrived = {
    on: '2026-11-30',
    frames: 3,
    hours: { Luminance: 0.15, Comet: 0.0125 },
    hfrPx: 2.31,
    temperatureC: undefined
  };

  it('is taken over, and what is typed already stays', () => {
    form.figures.hfrPx = '2.5';
    form.hours = { Luminance: '2' };
    form.fill(arrived);
    expect(form.on).toBe('2026-11-30');
    expect(form.filters).toContain('Comet');
    form.balance = 'weight 3 mm out';
    expect(form.keep()).toBe(true);
    expect(form.nights[0]).toMatchObject({
      on: '2026-11-30',
      hours: { Luminance: 2, Comet: 0.01 },
      hfrPx: 2.5,
      balance: 'weight 3 mm out'
    });
    expect(form.filters).not.toContain('Comet');
  });
});

describe('a night', () => {
  it('after midnight is that of the evening before, after noon the next', () => {
    expect(thisEvening(new Date(2026, 10, 23, 2, 30))).toBe('2026-11-22');
    expect(thisEvening(new Date(2026, 10, 23, 13, 0))).toBe('2026-11-23');
  });

  it('is kept with the train as it is typed, corrected, removed, and undone', () => {
    form.on = '2026-11-22';
    form.figures.guideRmsArcsec = '0,72';
    form.hours = { Luminance: '2.5', Red: '' };
    form.wrong = ' Dew at four ';
    expect(form.keep()).toBe(true);
    const [night] = form.nights;
    expect(night).toMatchObject({
      on: '2026-11-22',
      guideRmsArcsec: 0.72,
      hours: { Luminance: 2.5 },
      wrong: 'Dew at four'
    });
    expect(form.figures.guideRmsArcsec).toBe('');
    form.edit(night!);
    form.figures.guideRmsArcsec = '0.8';
    expect(form.keep()).toBe(true);
    expect(form.nights).toHaveLength(1);
    expect(form.nights[0]!.guideRmsArcsec).toBe(0.8);
    form.remove(night!.id);
    expect(form.nights).toEqual([]);
    train.undo();
    expect(form.nights).toHaveLength(1);
  });

  it.each([
    ['nothing typed', () => undefined, /at least one figure/],
    ['no number', () => void (form.figures.hfrPx = 'small'), /^HFR/],
    ['more hours than a day has', () => void (form.hours = { Red: '30' }), /Red|hours|24/],
    ['a guiding error of nothing', () => void (form.figures.guideRmsArcsec = '0'), /guiding/i]
  ])('%s is refused, and what was typed stays', (_what, type, why) => {
    type();
    expect(form.keep()).toBe(false);
    expect(form.message).toMatch(why);
    expect(form.nights).toEqual([]);
  });

  it('offers the filters of the train, and one line where it has none', () => {
    expect(form.filters[0]).toBe('Luminance');
    const plain = {
      ...heron,
      elements: (heron as Train).elements.map((element) => ({ ...element, glass: undefined }))
    };
    const other = new TrainSession(
      {
        id: 'plain',
        state: 'active',
        revision: { number: 1, hash: 'h', savedAt: '2026-11-22T00:00:00Z' },
        document: JSON.parse(JSON.stringify(plain)) as Train
      },
      new FakePage()
    );
    expect(new NightForm(other).filters).toEqual(['No filter']);
  });
});
