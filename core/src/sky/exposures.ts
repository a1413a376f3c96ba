import { channelOf } from './channels.ts';

/** Exposures through one filter. */
export interface Exposed {
  filter: string;
  count: number;
  seconds: number;
}

/** Time a target takes. */
export interface TargetTime {
  /** Of a panel that takes no longer than the others. */
  panelMinutes: number;
  panels: number;
  /** Of all panels together, each as long as it takes. */
  minutes: number;
  exposures: number;
}

/** Minutes of the exposures of one panel. */
export const minutesOf = (exposures: readonly Exposed[]): number =>
  exposures.reduce((sum, { count, seconds }) => sum + count * seconds, 0) / 60;

/**
 * Panels × filters × exposures (handbook §5).
 *
 * @param panelTimes how many times as long each panel takes, row by row; 1 where the list ends
 */
export function targetTime(
  exposures: readonly Exposed[],
  panels: number,
  panelTimes: readonly number[] = []
): TargetTime {
  const times = Array.from({ length: panels }, (_, at) => panelTimes[at] ?? 1);
  const all = times.reduce((sum, each) => sum + each, 0);
  const panelMinutes = minutesOf(exposures);
  return {
    panelMinutes,
    panels,
    minutes: all * panelMinutes,
    exposures: exposures.reduce(
      (sum, { count }) => sum + times.reduce((of, each) => of + Math.ceil(count * each - 1e-9), 0),
      0
    )
  };
}

/** Share of a colour sensor's pixels that see a colour: of four, one red, two green, one blue. */
const OF_MOSAIC = { red: 1 / 4, green: 1 / 2, blue: 1 / 4 } as const;
/** Share of the light a colour filter passes of what a luminance filter does (three that part it between them). */
const OF_LIGHT = 1 / 3;

/**
 * Time a colour sensor of the same size and pixels takes for at least as much light in each colour, and as much in all,
 * as a mono one collects through luminance and colour filters (calculation; filters that part the light in three alike).
 *
 * @returns undefined where the exposures are not of such filters, or not all of its colours are there
 */
export function colourMinutes(exposures: readonly Exposed[]): number | undefined {
  const minutes = { luminance: 0, red: 0, green: 0, blue: 0 };
  for (const each of exposures) {
    const channel = channelOf(each.filter);
    if (!channel || !(channel in minutes)) return undefined;
    minutes[channel as keyof typeof minutes] += minutesOf([each]);
  }
  const { luminance, red, green, blue } = minutes;
  if (Math.min(red, green, blue) === 0) return undefined;
  const all = luminance + OF_LIGHT * (red + green + blue);
  return Math.max(all / OF_LIGHT, red / OF_MOSAIC.red, green / OF_MOSAIC.green, blue / OF_MOSAIC.blue);
}

/** Times as long that an extended object takes without a reducer of this magnification: its light is spread over 1/m². */
export const withoutReducer = (magnification: number): number => 1 / magnification ** 2;
