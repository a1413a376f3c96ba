import { assess } from '@lodestone/core/check';
import type { Train } from '@lodestone/core/train';
import { expect, it } from 'vitest';
import avocet from '../../../demo/avocet.json' with { type: 'json' };
import { asText } from './asText.ts';

it('a train is told in lines whose figures are those of the screen', () => {
  expect(asText(assess(avocet as Train), 'mm')).toBe(
    [
      'Avocet, Oldmere 135 mm f/2.8 lens: Within tolerance: 0.02 mm long.',
      'Nothing is left to do here.',
      '',
      'From the datum to the sensor',
      '  11.40 mm  Flange for the bare lens',
      '  21.00 mm  Marlfield bolted wheel',
      '  17.50 mm  Marlfield mono 18 × 13',
      '  49.90 mm  in all',
      '',
      'Required, datum to sensor',
      '  44.00 mm  back focus of Oldmere 135 mm f/2.8 lens',
      '  5.20 mm  bayonet mount, taken off Oldmere 135 mm f/2.8 lens',
      '  0.68 mm  Luminance in Marlfield bolted wheel',
      '  49.88 mm  in all',
      ''
    ].join('\n')
  );
});
