/** The same words everywhere, and no month that may be a day. */
export const DAY = { day: 'numeric', month: 'short', year: 'numeric' } as const;

/** One format a zone and its fields: making one takes as long as writing a hundred times with it. */
const formats = new Map<string, Intl.DateTimeFormat>();

function formatOf(options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = JSON.stringify(options);
  const known = formats.get(key);
  if (known) return known;
  const made = new Intl.DateTimeFormat('en-GB', options);
  formats.set(key, made);
  return made;
}

/** A time as it is written; as it came, where it is none. */
export const formatted = (at: string, options: Intl.DateTimeFormatOptions): string => {
  const time = new Date(at);
  return Number.isNaN(time.getTime()) ? at : formatOf(options).format(time);
};

/** The day in a time zone, as a server writes it; in UTC, and said so, where the zone is not known. */
export const dayIn = (at: string, timeZone: string | undefined): string =>
  `${formatted(at, { ...DAY, timeZone: timeZone ?? 'UTC' })}${timeZone === undefined ? ' UTC' : ''}`;

/** Day and minute in a time zone, as a server writes it; in UTC, and said so, where the zone is not known. */
export const minuteIn = (at: string, timeZone: string | undefined): string =>
  `${formatted(at, { ...DAY, hour: '2-digit', minute: '2-digit', timeZone: timeZone ?? 'UTC' })}${timeZone === undefined ? ' UTC' : ''}`;
