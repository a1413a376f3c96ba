import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { dayIn, minuteIn } from '../api/day.ts';
import { ZONE_COOKIE, readPreferences } from './preferences.ts';
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

describe('a day as the server writes it', () => {
  it('is that of the reader’s time zone, and UTC by name where that is not known', () => {
    expect(dayIn('2026-11-30T20:00:00Z', 'Asia/Tokyo')).toBe('1 Dec 2026');
    expect(minuteIn('2026-11-30T20:00:00Z', 'Asia/Tokyo')).toBe('1 Dec 2026, 05:00');
    expect(minuteIn('2026-11-30T20:00:00Z', undefined)).toBe('30 Nov 2026, 20:00 UTC');
  });

  it('a cookie that names no time zone is none', () => {
    const zone = (said?: string) => readPreferences((name) => (name === ZONE_COOKIE ? said : undefined)).timeZone;
    expect(zone('Europe/Madrid')).toBe('Europe/Madrid');
    for (const said of ['Mars/Olympus', '', 'x'.repeat(90), '../etc', undefined]) expect(zone(said)).toBeUndefined();
  });
});
