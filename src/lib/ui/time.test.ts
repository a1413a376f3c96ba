import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { dayOf, minuteOf } from './time.ts';

describe('a time is that of the reader', () => {
  const before = process.env.TZ;
  beforeEach(() => void (process.env.TZ = 'America/Los_Angeles'));
  afterEach(() => {
    if (before === undefined) delete process.env.TZ;
    else process.env.TZ = before;
  });

  it('an evening in the Americas is no tomorrow', () => {
    expect(dayOf('2026-12-01T04:30:00.000Z')).toBe('30 Nov 2026');
    expect(minuteOf('2026-12-01T04:30:00.000Z')).toBe('30 Nov 2026, 20:30');
  });

  it('a day alone is that day, and what is no time stays as it was written', () => {
    expect(dayOf('2026-12-01')).toBe('1 Dec 2026');
    expect(dayOf('last week')).toBe('last week');
  });
});
