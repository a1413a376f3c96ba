/** Names that stand for one channel (common practice, no source). */
const CHANNELS = {
  luminance: ['l', 'lum', 'luminance', 'clear', 'uv/ir cut', 'uv-ir cut', 'uvir cut'],
  red: ['r', 'red'],
  green: ['g', 'green'],
  blue: ['b', 'blue'],
  'hydrogen alpha': ['ha', 'hα', 'halpha', 'h-alpha', 'h alpha', 'hydrogen', 'hydrogen alpha'],
  oxygen: ['oiii', 'o3', 'o-iii', 'o iii', 'oxygen', 'oxygen iii'],
  sulphur: ['sii', 's2', 's-ii', 's ii', 'sulphur', 'sulfur', 'sulphur ii']
} as const;

export type Channel = keyof typeof CHANNELS;

const BY_NAME = new Map(
  Object.entries(CHANNELS).flatMap(([channel, names]) => names.map((name) => [name as string, channel as Channel]))
);

/** Channel that the whole name of a filter stands for; undefined of a name of its own. */
export const channelOf = (filter: string): Channel | undefined => BY_NAME.get(filter.trim().toLowerCase());

/** What tells filters apart whose names are written in several ways: the channel it begins with, or the name itself. */
export function filterKey(name: string): string {
  const plain = name.trim().toLowerCase();
  const words = plain.split(/\s+/);
  const begun = words.map((_word, without) => words.slice(0, words.length - without).join(' '));
  return begun.map((each) => BY_NAME.get(each)).find((each) => each !== undefined) ?? plain;
}
