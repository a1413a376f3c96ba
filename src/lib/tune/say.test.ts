import type { Cause, FieldReading, FrameFinding } from '@lodestone/core/frame';
import { describe, expect, it } from 'vitest';
import { cornersInWords, figure, headlineOf, stateInWords } from './say.ts';

const finding = (cause: Cause, confidence: number): FrameFinding => ({ cause, confidence, message: '', strength: 2 });
const read = (...findings: FrameFinding[]) => ({
  state: 'read' as const,
  progress: 1,
  message: undefined,
  summary: { field: { findings } } as never
});

describe('the headline', () => {
  it('is the strongest finding, in other words where another cause is as likely', () => {
    expect(headlineOf([finding('tilt', 0.9), finding('light', 0.9)])).toBe('The sensor is tilted');
    expect(headlineOf([finding('tilt', 0.5)])).toBe('The sensor may be tilted');
    expect(headlineOf([])).toBe('Nothing is wrong with this frame.');
  });
});

describe('how a frame stands', () => {
  it('names what was found, with a question mark where that is not sure', () => {
    expect(stateInWords(read(finding('spacing', 0.8), finding('light', 0.4)))).toBe('spacing, light?');
    expect(stateInWords(read())).toBe('nothing wrong');
  });

  it('says how far it is, or why it could not be read', () => {
    const waiting = { progress: 0.426, summary: undefined, message: undefined };
    expect(stateInWords({ ...waiting, state: 'reading' })).toBe('43 %');
    expect(stateInWords({ ...waiting, state: 'failed', message: 'It is no picture.' })).toBe('It is no picture.');
    expect(stateInWords({ ...waiting, state: 'failed' })).toBe('could not be read');
  });
});

describe('the corners', () => {
  const field = (more: Partial<FieldReading>): FieldReading =>
    ({ radial: { corner: -0.004, standard: 0.02 }, cornerSizePct: null, tracking: null, ...more }) as FieldReading;

  it('have no sign where they round to nothing, and no size where none is known', () => {
    expect(cornersInWords(field({}))).toBe('Corners 0.00 ±0.04.');
  });

  it('are told with what all stars share, where that stands above chance', () => {
    const tracking = { ellipticity: 0.2, angleDeg: 34.6, standard: 0.01 };
    expect(cornersInWords(field({ cornerSizePct: -12.4, tracking }))).toBe(
      'Corners 0.00 ±0.04, stars there 12 % smaller; shared by all 0.20 at 35°.'
    );
    expect(cornersInWords(field({ cornerSizePct: 0.3, tracking: { ...tracking, standard: 0.1 } }))).toBe(
      'Corners 0.00 ±0.04, stars there as large as in the middle.'
    );
  });

  it('that nothing is known of are not told', () => expect(cornersInWords(field({ radial: null }))).toBeUndefined());
});

it('a figure that is missing is a dash', () => expect([figure(null, 2), figure(1.005, 1)]).toEqual(['–', '1.0']));
