const DAY_MS = 86_400_000;
const DAY_STEPS = [1, 2, 7, 14] as const;
const MONTH_STEPS = [1, 2, 3, 6, 12] as const;

/** First days of every so many months between two moments. */
function monthsBetween(from: number, to: number, step: number): number[] {
  const begun = new Date(from);
  const first = begun.getUTCFullYear() * 12 + begun.getUTCMonth();
  const days: number[] = [];
  for (let month = Math.ceil(first / step) * step; ; month += step) {
    const day = Date.UTC(Math.floor(month / 12), month % 12, 1);
    if (day > to) return days;
    if (day >= from) days.push(day);
  }
}

/**
 * Days a line of days is marked at: every day, week or month, as many as fit.
 *
 * @param from ms since the epoch
 * @param to ms since the epoch
 * @param most marks
 * @returns midnights in UTC, ms
 */
export function dayTicks(from: number, to: number, most: number): number[] {
  for (const step of DAY_STEPS) {
    if ((to - from) / DAY_MS / step > most) continue;
    const first = Math.ceil(from / DAY_MS / step) * step;
    const many = Math.floor((Math.floor(to / DAY_MS) - first) / step) + 1;
    return Array.from({ length: Math.max(0, many) }, (_, at) => (first + at * step) * DAY_MS);
  }
  const found = MONTH_STEPS.map((step) => monthsBetween(from, to, step)).find(({ length }) => length <= most);
  return found ?? monthsBetween(from, to, 12);
}
