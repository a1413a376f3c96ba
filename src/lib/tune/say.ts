import { wholeDegrees, type Cause, type FieldReading, type FrameFinding } from '@lodestone/core/frame';
import type { FrameScatter } from '@lodestone/core/experiment';
import type { TriedSpacing } from '@lodestone/core/train';
import type { TestFrame } from '$lib/frames/frames.svelte.ts';

type Eye = NonNullable<TriedSpacing['eye']>;

/** No surer than this, something else is as likely. */
const EVEN = 0.5;

const SURELY: Record<Cause, string> = {
  spacing: 'The spacing is off',
  tilt: 'The sensor is tilted',
  tracking: 'Tracking, not spacing',
  focus: 'Out of focus',
  collimation: 'Out of collimation',
  light: 'Dark corners: the light, not the spacing',
  unclear: 'Not clear from this frame'
};
const PERHAPS: Record<Cause, string> = {
  spacing: 'It may be the spacing',
  tilt: 'The sensor may be tilted',
  tracking: 'It may be the tracking',
  focus: 'It may be out of focus',
  collimation: 'It may be the collimation',
  light: 'It may be a filter that is too small',
  unclear: 'Not clear from this frame'
};

/** Which way corner stars are elongated as an eye sees it, of what the document keeps. */
export const EYE_WORDS: Readonly<Record<Eye['stretch'], string>> = {
  outward: 'radial',
  circling: 'tangential',
  round: 'round',
  unknown: 'unclear'
};

/** What is said first: the strongest finding, or that there is none. @param findings the strongest first */
export function headlineOf([first]: readonly FrameFinding[]): string {
  if (!first) return 'Nothing is wrong with this frame.';
  return (first.confidence > EVEN ? SURELY : PERHAPS)[first.cause];
}

/** How a frame stands, in the list of them. */
export function stateInWords(frame: Pick<TestFrame, 'state' | 'summary' | 'progress' | 'message'>): string {
  switch (frame.state) {
    case 'waiting':
      return 'waits';
    case 'reading':
      return frame.summary ? 'opening' : `${Math.round(frame.progress * 100)} %`;
    case 'failed':
      return frame.message ?? 'could not be read';
    case 'cancelled':
      return 'cancelled';
    case 'read': {
      const causes = frame.summary?.field.findings.map(({ cause, confidence }) =>
        confidence > EVEN ? cause : `${cause}?`
      );
      return causes?.join(', ') || 'nothing wrong';
    }
  }
}

/** A figure that may be missing. */
export const figure = (value: number | null | undefined, digits: number): string =>
  value === null || value === undefined ? '–' : value.toFixed(digits);

function signed(value: number): string {
  const digits = Math.abs(value).toFixed(2);
  return Number(digits) === 0 ? digits : `${value > 0 ? '+' : '−'}${digits}`;
}

/** Stretch in the corners of a frame, in short; nothing where it shows none. */
export const stretchOfFrame = (summary: TestFrame['summary']): string =>
  summary?.field.radial
    ? `${signed(summary.field.radial.corner)} ±${(2 * summary.field.radial.standard).toFixed(2)}`
    : '';

/** How far frames of one setup differ by themselves, beside what each of them states. */
export function scatterInWords({ frames, standard, stated }: FrameScatter): string {
  const [by, said] = [(2 * standard).toFixed(3), (2 * stated).toFixed(3)];
  const more = standard > 1.15 * stated;
  return `${frames} frames taken without a change differ by ±${by}; each states ±${said}. ${
    more ? 'The interval is wider by that.' : 'They differ no more than they state.'
  }`;
}

/** What the corners of a frame show, beside what all its stars share; undefined where nothing is known of them. */
export function cornersInWords({ radial, cornerSizePct, tracking }: FieldReading): string | undefined {
  if (!radial) return undefined;
  const stretch = `Corners ${signed(radial.corner)} ±${(2 * radial.standard).toFixed(2)}`;
  const larger = Math.abs(Math.round(cornerSizePct ?? 0));
  const size =
    cornerSizePct === null
      ? ''
      : Math.abs(cornerSizePct) < 0.5
        ? ', stars there as large as in the middle'
        : `, stars there ${larger} % ${cornerSizePct >= 0 ? 'larger' : 'smaller'}`;
  const shared =
    tracking && tracking.ellipticity > 3 * tracking.standard
      ? `; shared by all ${tracking.ellipticity.toFixed(2)} at ${wholeDegrees(tracking.angleDeg)}`
      : '';
  return `${stretch}${size}${shared}.`;
}
