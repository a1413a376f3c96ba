import { assess } from '@lodestone/core/check';
import { layoutOf } from '@lodestone/core/shape';
import { readTrain, type Train } from '@lodestone/core/train';
import { describe, expect, it } from 'vitest';
import longTom from '../../../demo/long-tom.json';
import heron from '../../../demo/heron.json';
import { askedPieces, stairsOf } from './staircase.ts';

function open(document: unknown): { train: Train; assessment: ReturnType<typeof assess> } {
  const reading = readTrain(document);
  if (!reading.ok) throw new Error('the demo must be a train');
  return { train: reading.document, assessment: assess(reading.document) };
}

describe('staircase', () => {
  it.each([heron, longTom])('ends where the sensor is, and what is asked for ends where it should be', (document) => {
    const { train, assessment } = open(document);
    const layout = layoutOf(train, assessment.ledger);
    const stairs = stairsOf(train, assessment, layout);
    expect(stairs.at(-1)?.endMm).toBeCloseTo(layout.sensorMm, 9);
    expect(stairs.reduce((sum, { addsMm }) => sum + addsMm, 0)).toBeCloseTo(layout.sensorMm, 9);
    expect(askedPieces(assessment).at(-1)?.endMm).toBeCloseTo(layout.requiredMm!, 9);
  });

  it('tells measured from published, and shows glass and datum as pieces of their own', () => {
    const { train, assessment } = open(longTom);
    const stairs = stairsOf(train, assessment, layoutOf(train, assessment.ledger));
    expect(stairs.map(({ id, measured }) => [id, measured])).toEqual([
      ['ao', true],
      ['ring-a', true],
      ['guider', false],
      ['wheel', false],
      ['camera', false]
    ]);
    expect(askedPieces(assessment).map(({ kind }) => kind)).toEqual(['back-focus', 'datum', 'glass', 'glass']);
  });
});
