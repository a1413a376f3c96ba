import type { LengthUnit } from '@lodestone/core/why';

export const THEMES = ['daylight', 'dusk', 'night'] as const;
export type Theme = (typeof THEMES)[number];
export const UNITS = ['mm', 'in'] as const satisfies readonly LengthUnit[];

/** How this browser likes things shown. Kept in cookies, so that the first page already looks right. */
export interface Preferences {
  theme: Theme;
  unit: LengthUnit;
  /** Where the reader is, as `Europe/Madrid`; undefined before the first page has told. */
  timeZone: string | undefined;
}

export const THEME_COOKIE = 'lodestone-theme';
export const UNIT_COOKIE = 'lodestone-unit';
export const ZONE_COOKIE = 'lodestone-zone';

/** A time zone that there is; undefined of anything else. */
function zoneOf(name: string | undefined): string | undefined {
  if (name === undefined || name === '' || name.length > 64) return undefined;
  try {
    return new Intl.DateTimeFormat('en-GB', { timeZone: name }).resolvedOptions().timeZone;
  } catch {
    return undefined;
  }
}

/** Preferences from cookies; anything that is not one of the choices counts as not set. */
export function readPreferences(cookie: (name: string) => string | undefined): Preferences {
  return {
    theme: THEMES.find((theme) => theme === cookie(THEME_COOKIE)) ?? 'dusk',
    unit: UNITS.find((unit) => unit === cookie(UNIT_COOKIE)) ?? 'mm',
    timeZone: zoneOf(cookie(ZONE_COOKIE))
  };
}
