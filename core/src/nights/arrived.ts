import type { FrameSummary } from '../frame/summary.ts';
import { filterKey } from '../sky/channels.ts';
import { medianOf } from '../stats/median.ts';

/** What frames say of the night they were taken in. */
export interface ArrivedNight {
  /** Day of its evening. */
  on: string;
  frames: number;
  /** Exposure by filter, hours; frames that do not say their filter count as “No filter”. */
  hours: Record<string, number>;
  /** Usual half-flux radius, px. */
  hfrPx: number | undefined;
  /** Usual temperature of the air, °C. */
  temperatureC: number | undefined;
}

const NO_FILTER = 'No filter';
const HALF_DAY_MS = 12 * 3_600_000;

const numberIn = ({ header = {} }: FrameSummary, keys: readonly string[]): number | undefined =>
  keys.map((key) => header[key]).find((each) => typeof each === 'number' && Number.isFinite(each)) as
    number | undefined;

/** Day of the evening a moment belongs to: a night begins at noon. @param offsetMin local time less UTC, minutes */
function eveningOf({ header = {} }: FrameSummary, offsetMin: number): string | undefined {
  const stated = String(header['DATE-OBS'] ?? '');
  // FITS 4.0 §4.4.2.1: UTC, with or without a fraction, and without a zone.
  if (!/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}:\d{2}/.test(stated)) return undefined;
  const at = Date.parse(`${stated.replace(/Z$/, '')}Z`);
  return Number.isFinite(at) ? new Date(at + offsetMin * 60_000 - HALF_DAY_MS).toISOString().slice(0, 10) : undefined;
}

const rounded = (value: number, digits: number): number | undefined =>
  Number.isNaN(value) ? undefined : Number(value.toFixed(digits));

/**
 * Nights that frames were taken in, the newest first: those that say when, each with what all of its frames say.
 *
 * @param filters of the train, by name: what a frame calls its filter is that one of them which means the same
 * @param offsetMin local time at the telescope less UTC, minutes
 */
export function nightsOfFrames(
  frames: readonly FrameSummary[],
  filters: readonly string[],
  offsetMin: number
): ArrivedNight[] {
  const byEvening = new Map<string, FrameSummary[]>();
  for (const frame of frames) {
    const on = eveningOf(frame, offsetMin);
    if (on !== undefined) byEvening.set(on, [...(byEvening.get(on) ?? []), frame]);
  }
  const nameOf = (frame: FrameSummary): string => {
    const stated = String(frame.header?.['FILTER'] ?? '').trim();
    if (stated === '') return NO_FILTER;
    return filters.find((each) => filterKey(each) === filterKey(stated)) ?? stated;
  };
  return [...byEvening]
    .sort(([a], [b]) => b.localeCompare(a))
    .map(([on, taken]): ArrivedNight => {
      const seconds = new Map<string, number>();
      for (const frame of taken) {
        const exposed = numberIn(frame, ['EXPTIME', 'EXPOSURE']) ?? 0;
        if (exposed > 0) seconds.set(nameOf(frame), (seconds.get(nameOf(frame)) ?? 0) + exposed);
      }
      return {
        on,
        frames: taken.length,
        hours: Object.fromEntries([...seconds].map(([filter, each]) => [filter, Number((each / 3600).toFixed(4))])),
        hfrPx: rounded(medianOf(taken.flatMap(({ field }) => field.hfrPx ?? [])), 2),
        temperatureC: rounded(
          medianOf(taken.flatMap((frame) => numberIn(frame, ['AMBTEMP', 'AMB-TEMP', 'FOCTEMP']) ?? [])),
          1
        )
      };
    });
}
