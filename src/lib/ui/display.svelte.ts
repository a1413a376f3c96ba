import { formatLength, formatLengthNumber, formatTolerance, formatWithin, type LengthUnit } from '@lodestone/core/why';
import { getContext, setContext } from 'svelte';
import {
  THEMES,
  THEME_COOKIE,
  UNIT_COOKIE,
  ZONE_COOKIE,
  readPreferences,
  type Preferences,
  type Theme
} from './preferences.ts';

const A_YEAR_S = 365 * 24 * 3600;
const remember = (name: string, choice: string): void => {
  document.cookie = `${name}=${choice}; path=/; max-age=${A_YEAR_S}; samesite=lax`;
};

/** Theme and unit of length, shared by every page. */
export class Display {
  theme = $state<Theme>('dusk');
  unit = $state<LengthUnit>('mm');

  readonly #zone: string | undefined;

  constructor({ theme, unit, timeZone }: Preferences) {
    this.theme = theme;
    this.unit = unit;
    this.#zone = timeZone;
  }

  /** Tells the server where the reader is, so that what it writes has the reader's days; in the browser only. */
  tellZone(): void {
    const { timeZone } = new Intl.DateTimeFormat().resolvedOptions();
    if (timeZone !== this.#zone) remember(ZONE_COOKIE, timeZone);
  }

  /** Takes over what this browser likes now: a page that was kept was made when it liked something else. */
  recall(): void {
    const cookies = document.cookie.split('; ');
    const { theme, unit } = readPreferences((name) =>
      cookies.find((pair) => pair.startsWith(`${name}=`))?.slice(name.length + 1)
    );
    if (theme !== this.theme || document.documentElement.dataset.theme !== theme) this.chooseTheme(theme);
    this.unit = unit;
  }

  chooseTheme(theme: Theme): void {
    this.theme = theme;
    document.documentElement.dataset.theme = theme;
    remember(THEME_COOKIE, theme);
  }

  nextTheme(): void {
    this.chooseTheme(THEMES[(THEMES.indexOf(this.theme) + 1) % THEMES.length]!);
  }

  toggleUnit(): void {
    this.unit = this.unit === 'mm' ? 'in' : 'mm';
    remember(UNIT_COOKIE, this.unit);
  }

  /** A length with its unit, as the owner likes it shown. */
  length = (mm: number, digits?: number): string => formatLength(mm, this.unit, digits);

  /** A tolerance or uncertainty, with as many decimals as it needs. */
  tolerance = (mm: number): string => formatTolerance(mm, this.unit);

  /** A length with its tolerance or uncertainty: `7.625 ±0.004 mm`. */
  within = (mm: number, toleranceMm: number): string => formatWithin(mm, toleranceMm, this.unit);

  /** A length without its unit, where a heading or a neighbour names it. */
  number = (mm: number, digits?: number): string => formatLengthNumber(mm, this.unit, digits);
}

const KEY = Symbol('display');
export const provideDisplay = (preferences: Preferences): Display => setContext(KEY, new Display(preferences));
export const useDisplay = (): Display => getContext<Display>(KEY);
