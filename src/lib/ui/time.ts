import { DAY, formatted } from '../api/day.ts';

/** A calendar day where the owner is, as the format writes it. */
export const today = (now = new Date()): string =>
  [now.getFullYear(), now.getMonth() + 1, now.getDate()].map((figure) => String(figure).padStart(2, '0')).join('-');

/** A night is over at noon: what is written down after midnight belongs to the evening before, h. */
const NOON_HOURS = 12;

/** The day whose evening this is, as the format writes it. */
export const thisEvening = (now = new Date()): string => today(new Date(now.getTime() - NOON_HOURS * 3_600_000));

/** The day where the reader is: `30 Nov 2026`. @param at ISO 8601; a day alone is that day everywhere */
export const dayOf = (at: string): string =>
  formatted(at, { ...DAY, ...(/^\d{4}-\d\d-\d\d$/.test(at) ? { timeZone: 'UTC' } : {}) });

/** Day and minute where the reader is: `30 Nov 2026, 22:41`. @param at ISO 8601 */
export const minuteOf = (at: string): string => formatted(at, { ...DAY, hour: '2-digit', minute: '2-digit' });

/** The minute where the reader is, of today; else the day. @param at ISO 8601 */
export const shortly = (at: string): string =>
  today(new Date(at)) === today() ? formatted(at, { hour: '2-digit', minute: '2-digit' }) : dayOf(at);

/** This moment, ISO 8601. */
export const rightNow = (): string => new Date().toISOString();

/** Hours of exposure, in one line: `2.5 h`. */
export const hoursInWords = (hours: number): string => `${Number(hours.toFixed(1))}\u00a0h`;

/** A time as a person reads it: `4 min 10 s`. */
export function timeInWords(seconds: number): string {
  const whole = Math.round(seconds);
  if (whole < 60) return `${whole} s`;
  const minutes = Math.floor(whole / 60);
  if (minutes < 60) return `${minutes} min${whole % 60 === 0 ? '' : ` ${whole % 60} s`}`;
  return `${Math.floor(minutes / 60)} h ${minutes % 60} min`;
}
