import { describe, expect, it } from 'vitest';
import { suggest } from '../src/finder/index.ts';
import { apply, type Train } from '../src/train/index.ts';
import { checkTrain } from '../src/check/index.ts';
import { drawer, female, male } from './drawer.ts';
import { oneGap } from './gaps.ts';
import { camera, corrector, part, train } from './trains.ts';

/** The sentence, and what the train is once it is done. */
function done(made: Train, parts: ReturnType<typeof drawer>, unit: 'mm' | 'in' = 'mm') {
  const suggestion = suggest(made, { parts, unit });
  const after = suggestion && checkTrain(apply(made, suggestion.operation));
  return [suggestion?.sentence, suggestion?.action, after?.verdict];
}

describe('the one step that a verdict proposes', () => {
  it('names the ring, its length and where it lies', () => {
    const parts = drawer({ partId: 'R-07', lengthMm: 37.5, location: 'Tin 2' });
    expect(done(oneGap(55), parts)).toEqual(['R-07 (37.50 mm, Tin 2) closes it exactly.', 'Put it in', 'on-spec']);
    expect(done(oneGap(55.05), parts)[0]).toBe('R-07 (37.50 mm, Tin 2) closes it to 0.05 mm short.');
    expect(done(oneGap(55), parts, 'in')[0]).toBe('R-07 (1.4764 in, Tin 2) closes it exactly.');
  });

  it('names several, what has to be bought, and how a dial is set', () => {
    const parts = drawer(
      { partId: 'A', lengthMm: 20, location: 'Tin 1' },
      { partId: 'B', lengthMm: 17.5, owned: false }
    );
    expect(done(oneGap(55), parts)).toEqual([
      'A (20.00 mm, Tin 1) and B (17.50 mm, to buy) close it exactly.',
      'Put them in',
      'on-spec'
    ]);
    const dial = { kind: 'variable-spacer', lengthMm: 30, adjust: { minMm: 0, maxMm: 10, setMm: 0 } };
    expect(done(oneGap(55), drawer({ partId: 'V', ...dial }))).toEqual([
      'V (30.00 mm), with V set to 7.50 mm, closes it exactly.',
      'Put it in',
      'on-spec'
    ]);
  });

  it('closes a gap that needs nothing', () => {
    expect(done(oneGap(17.5), [])).toEqual(['What is there closes it exactly.', 'Close the gap', 'on-spec']);
  });

  it('opens a joint where no gap is, takes a nose out, and is silent where nothing helps', () => {
    const rings = { sky: female('M48x0.75'), camera: male('M48x0.75') };
    const closed = (asksMm: number): Train =>
      train([
        corrector({ backFocusMm: asksMm }, { camera: male('M48x0.75') }),
        part('nose', 11, { name: 'Nose', removable: true, ...rings }),
        camera(17.5, { sky: female('M48x0.75') as never })
      ]);
    const parts = drawer({ partId: 'R-07', lengthMm: 2.5 });
    expect(done(closed(31), parts)).toEqual(['Put R-07 between corrector and Nose.', 'Do it', 'on-spec']);
    expect(done(closed(17.5), parts)).toEqual(['Leave Nose out (11.00 mm).', 'Do it', 'on-spec']);
    expect(suggest(closed(5), { unit: 'mm', parts })).toBeUndefined();
    expect(suggest(train([part('tube', 30), camera(17.5)]), { unit: 'mm', parts })).toBeUndefined();
  });
});
