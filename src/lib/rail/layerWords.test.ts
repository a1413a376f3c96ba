import { assess } from '@lodestone/core/check';
import { RAIL_LAYERS, layoutOf, type Stop } from '@lodestone/core/shape';
import { readTrain } from '@lodestone/core/train';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import heron from '../../../demo/heron.json';
import longTom from '../../../demo/long-tom.json';
import { fieldOf, layerWords, rowsOfWords, type LayerWord } from './layerWords.ts';

/** The widest average of the demo’s words in the browser: 6.11 px a letter, of “Luminance cuts 48 %”; others 5.34 to 6.06. */
const halfOf = (said: string): number => (said.length * 6.11) / 2;

function expectReadable(words: readonly LayerWord[], widthPx: number): void {
  words.forEach(({ stop: { words: said }, middle, row, leadX }, index) => {
    expect(row).toBeLessThan(rowsOfWords(widthPx));
    expect(middle - halfOf(said)).toBeGreaterThanOrEqual(0);
    expect(middle + halfOf(said)).toBeLessThanOrEqual(widthPx);
    expect(Math.abs(leadX - middle)).toBeLessThanOrEqual(halfOf(said));
    for (const other of words.slice(0, index)) {
      if (other.row !== row) continue;
      expect(Math.abs(other.middle - middle)).toBeGreaterThan(halfOf(said) + halfOf(other.stop.words));
    }
  });
}

describe('words of layers over the rail', () => {
  it('wherever they want to stand, at a laptop’s and a phone’s width: none lies on another, and none outside', () => {
    const stop: fc.Arbitrary<Stop> = fc.record({
      at: fc.string(),
      alongMm: fc.double({ min: -60, max: 180, noNaN: true }),
      acrossMm: fc.double({ min: -60, max: 60, noNaN: true }),
      words: fc.string({ minLength: 4, maxLength: 60 }),
      bad: fc.boolean()
    });
    fc.assert(
      fc.property(fc.array(stop, { maxLength: 12 }), fc.constantFrom(1280, 790, 390), (stops, widthPx) => {
        const x = (mm: number): number => 22 + (mm + 50) * ((widthPx - 126) / 200);
        const words = layerWords(stops, x, widthPx);
        expectReadable(words, widthPx);
        const seen = stops.filter(({ alongMm }) => x(alongMm) >= 0 && x(alongMm) <= widthPx);
        // The first one has its place whatever the others want, and what is wrong comes before what is not.
        const first = seen.find(({ bad }) => bad) ?? seen[0];
        if (first && 6.1 * first.words.length <= widthPx - 8) expect(words[0]?.stop).toBe(first);
      }),
      { numRuns: 500 }
    );
  });

  it.each([
    ['Heron', heron],
    ['Long Tom', longTom]
  ])('of %s, whichever point of the sensor is looked at', (_, file) => {
    const reading = readTrain(file);
    if (!reading.ok) throw new Error('the demo must be a train');
    const { facts, ledger } = assess(reading.document);
    const { extent } = layoutOf(reading.document, ledger);
    let placed = 0;
    for (const widthPx of [1280, 790, 390]) {
      const scale = (widthPx - 126) / (extent.toMm - extent.fromMm);
      for (let share = -1; share <= 1; share += 0.1) {
        const stops = RAIL_LAYERS.flatMap((layer) => layer.stops(facts, fieldOf({ share }, facts)));
        const words = layerWords(stops, (mm) => 22 + (mm - extent.fromMm) * scale, widthPx);
        expectReadable(words, widthPx);
        placed += words.length;
      }
    }
    expect(placed).toBeGreaterThan(30);
  });
});
