import { describe, expect, it } from 'vitest';
import { Notes } from './notes.svelte.ts';

const written = (text: string): Notes => {
  const notes = new Notes();
  notes.text = text;
  return notes;
};

describe('a train from notes', () => {
  it('has a place for what is missing behind its corrector, and none where nothing is', () => {
    const short = written('115 f/7, reducer 0.79x 58.3, wheel 21.6, cam 12.5');
    expect(short.train?.elements.map(({ kind }) => kind)).toEqual(['corrector', 'gap', 'filter-wheel', 'camera']);
    expect(short.preview?.assessment.verdictInWords('mm')).toBe('24.20 mm short');
    const whole = written('115 f/7, flattener 55, ring 37.5, cam 17.5');
    expect(whole.train?.elements.map(({ kind }) => kind)).toEqual(['corrector', 'spacer', 'camera']);
    expect(whole.preview?.assessment.report.verdict).toBe('on-spec');
  });

  it('says what is missing, one thing after the other', () => {
    expect(written('').missing).toBe('the telescope, as 115 f/7');
    expect(written('115 f/7').missing).toBe('the camera, as cam 17.5');
    expect(written('115 f/7, dew heater, cam 17.5').missing).toBe('an answer to “dew heater”');
    expect(written('115 f/7, dew heater, hello, cam 17.5').missing).toBe('answers to 2 pieces');
    expect(written('115 f/7, cam 17.5').missing).toBeUndefined();
  });

  it('has the name it is given, or that of its telescope', () => {
    const notes = written('Heron 100 f/6, cam 17.5');
    expect(notes.train?.name).toBe('Heron');
    notes.name = 'Wide field';
    expect(notes.train?.name).toBe('Wide field');
  });
});
