import fc from 'fast-check';
import { scaleUtc } from 'd3-scale';
import { expect, it } from 'vitest';
import { dayTicks } from './ticks.ts';

const at = (day: string): number => Date.parse(day);
const words = (ticks: readonly number[]): string[] => ticks.map((tick) => new Date(tick).toISOString().slice(0, 10));

it('marks days, weeks or first days of months, as many as fit', () => {
  expect(words(dayTicks(at('2026-11-01'), at('2026-11-04'), 5))).toEqual([
    '2026-11-01',
    '2026-11-02',
    '2026-11-03',
    '2026-11-04'
  ]);
  expect(words(dayTicks(at('2026-08-20'), at('2026-12-02'), 4))).toEqual([
    '2026-09-01',
    '2026-10-01',
    '2026-11-01',
    '2026-12-01'
  ]);
  // Months are those of d3's own scale of time, which shares no line with this.
  const year = [at('2026-01-20'), at('2026-12-20')] as const;
  expect(dayTicks(...year, 12)).toEqual(
    scaleUtc(year, [0, 1])
      .ticks(12)
      .map((tick) => tick.getTime())
  );
});

it('never marks more than fit below sixty years, and only midnights between the ends', () => {
  const moment = fc.integer({ min: at('2000-01-01'), max: at('2060-01-01') });
  fc.assert(
    fc.property(moment, moment, fc.integer({ min: 2, max: 20 }), (one, other, most) => {
      const [from, to] = [Math.min(one, other), Math.max(one, other)];
      const ticks = dayTicks(from, to, most);
      expect(ticks.length).toBeLessThanOrEqual(Math.max(most + 1, (to - from) / 86_400_000 / 365 + 1));
      for (const tick of ticks) {
        expect(tick % 86_400_000).toBe(0);
        expect(tick >= from && tick <= to).toBe(true);
      }
    })
  );
});
