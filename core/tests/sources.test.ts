import { describe, expect, it } from 'vitest';
import { assess, explain } from '../src/check/index.ts';
import { readTrain, sourceInWords, type Source, type Train } from '../src/train/index.ts';
import type { Subject } from '../src/why/index.ts';
import { camera, corrector, part, train } from './trains.ts';

const SCAN = 'a'.repeat(64);
const sources: Source[] = [
  {
    of: 'back-focus',
    by: 'the maker',
    where: 'leaflet, page 3',
    on: '2026-05-01',
    scan: SCAN,
    scanName: 'leaflet.pdf'
  },
  { of: 'length', where: 'drawing 12' },
  { of: 'mass' }
];
const of = (more: Source[]): Train => {
  const lens = corrector({ backFocusMm: 55 });
  return train([{ ...lens, sources: more, massG: 400 } as typeof lens, part('ring', 37.5), camera(17.5)]);
};
const said = (made: Train, subject: Subject) =>
  explain(assess(made).facts, subject)!.lines.flatMap(({ published = [] }) => published);

describe('sources of published figures', () => {
  it('stand beside the figure they are of, and beside no other', () => {
    const made = of(sources);
    expect(readTrain(made).ok).toBe(true);
    expect(said(made, 'length.required')).toEqual([
      { words: 'the maker, leaflet, page 3', on: '2026-05-01', scan: SCAN, scanName: 'leaflet.pdf' }
    ]);
    // The corrector is ahead of its datum: its own length is not among what is added up.
    expect(said(made, 'length.actual')).toEqual([]);
    expect(said(made, 'load.mass')).toMatchObject([{ words: undefined }]);
    const ring = { ...made.elements[1]!, sources } as (typeof made.elements)[number];
    expect(said({ ...made, elements: made.elements.with(1, ring) }, 'length.actual')).toMatchObject([
      { words: 'drawing 12' }
    ]);
  });

  it('change no figure', () => {
    const [without, beside] = [assess(of([])), assess(of(sources))];
    expect(beside.report).toEqual(without.report);
    expect(beside.uncertainty).toEqual(without.uncertainty);
  });

  it('are words only as far as somebody wrote them down', () => {
    expect(sourceInWords({ of: 'other' })).toBeUndefined();
    expect(sourceInWords({ of: 'other', by: 'a seller' })).toBe('a seller');
  });

  it.each([
    [{ of: 'colour' }, /figure/],
    [{ of: 'length', scan: 'A'.repeat(64) }, /scan/],
    [{ of: 'length', scan: '../../etc' }, /scan/],
    [{ of: 'length', on: 'May' }, /day/],
    [{ by: 'nobody' }, /source/]
  ])('%j is refused with its place', (wrong, place) => {
    const reading = readTrain(of([wrong as Source]));
    expect(reading.ok).toBe(false);
    if (!reading.ok) expect(`${reading.complaints[0]!.place} ${reading.complaints[0]!.message}`).toMatch(place);
  });
});
