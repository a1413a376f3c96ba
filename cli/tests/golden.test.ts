import { describe, expect, it } from 'vitest';
import { assess } from '@lodestone/core/check';
import { readTrain } from '@lodestone/core/train';
import { ledgerText } from '../src/ledgerText.ts';
import { REAL_TRAINS } from './realTrains.ts';

describe('what a check says of trains as people build them', () => {
  it.each(REAL_TRAINS.map((train) => [train.name, train] as const))('%s', async (name, train) => {
    expect(readTrain(train)).toMatchObject({ ok: true });
    await expect(ledgerText(assess(train))).toMatchFileSnapshot(`golden/${name.replaceAll(/[^a-z0-9]+/gi, '-')}.txt`);
  });
});
