import { isBody } from '@lodestone/core/train';
import { readPart, type Part } from '@lodestone/core/drawer';
import { describe, expect, it } from 'vitest';
import { cameraChoices, correctorChoices, hostChoices } from './choices.ts';

function part(document: Record<string, unknown>): Part {
  const reading = readPart(document);
  if (!reading.ok) throw new Error('the part of the test must be valid');
  return reading.document;
}
const parts = [
  part({ partId: 'RED-1', kind: 'corrector', name: 'Osmere reducer', lengthMm: 40, corrector: { backFocusMm: 58.3 } }),
  part({ partId: 'C-01', kind: 'camera', name: 'Harnwick mono', lengthMm: 12.5 }),
  part({ partId: 'R-01', kind: 'spacer', name: 'Ring', lengthMm: 5 })
];

describe('what a train is begun with', () => {
  it('one’s own stand before usual ones, and what is typed leaves only what has it', () => {
    const all = correctorChoices('', parts, 'refractor');
    expect(all[0]).toMatchObject({ label: 'Osmere reducer', group: 'In your drawer' });
    expect(all.at(-1)?.of).toEqual({ kind: 'none' });
    expect(correctorChoices('0,8×', parts, 'refractor').map(({ label }) => label)).toEqual(['Reducer-flattener 0.8×']);
    expect(correctorChoices('osmere', parts, 'refractor')).toHaveLength(1);
  });

  it('the part itself is taken, with its number', () => {
    const [own] = correctorChoices('osmere', parts, 'refractor');
    expect(own?.of).toMatchObject({ kind: 'element', element: { partId: 'RED-1' } });
    expect(cameraChoices('mono', parts)[0]?.of).toMatchObject({ partId: 'C-01', id: 'camera', lengthMm: 12.5 });
  });

  it('behind a camera lens its mounts come first', () => {
    expect(correctorChoices('', [], 'camera-lens')[0]?.of.kind).toBe('lens');
    const [first] = correctorChoices('', [], 'newtonian');
    expect(first?.of.kind === 'element' && isBody(first.of.element)).toBe(true);
  });

  it('usual cameras are found by their flange distance or their kind', () => {
    expect(cameraChoices('17.5', []).map(({ label }) => label)).toContain('Cooled camera');
    expect(cameraChoices('dslr 44.5', [])).toHaveLength(1);
  });

  it('telescopes come out of one’s own trains', () => {
    const host = {
      name: 'Heron',
      kind: 'refractor' as const,
      apertureMm: 115,
      focalLengthMm: 805,
      camera: { slip: '2in', gender: 'female' as const }
    };
    expect(hostChoices('heron', [host])[0]).toMatchObject({ label: 'Heron', hint: '115 mm f/7.0' });
    expect(hostChoices('other', [host])).toEqual([]);
  });
});
