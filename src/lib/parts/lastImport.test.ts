import { readPart, type Part } from '@lodestone/core/drawer';
import { expect, it } from 'vitest';
import { takingBack } from './lastImport.ts';

function ring(partId: string, lengthMm: number): Part {
  const reading = readPart({ partId, kind: 'spacer', name: 'Ring', lengthMm });
  if (!reading.ok) throw new Error('the part of the test must be valid');
  return reading.document;
}

it('an import is taken back part by part, but for what was changed since', () => {
  const last = {
    fileName: 'rings.csv',
    at: 0,
    changes: [
      { before: undefined, after: ring('R-1', 5) },
      { before: ring('R-2', 7), after: ring('R-2', 8) },
      { before: ring('R-3', 9), after: ring('R-3', 10) },
      { before: undefined, after: ring('R-4', 11) }
    ]
  };
  const now = new Map([
    ['R-1', ring('R-1', 5)],
    ['R-2', ring('R-2', 8)],
    ['R-3', ring('R-3', 10.5)]
  ]);
  expect(takingBack(last, (partId) => now.get(partId))).toEqual({
    put: [ring('R-2', 7)],
    remove: ['R-1'],
    left: ['R-3', 'R-4']
  });
});
