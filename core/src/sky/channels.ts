/** Names that stand for one channel (common practice, no source). */
const CHANNELS = {
  luminance: ['l', 'lum', 'luminance', 'clear', 'uv/ir cut', 'uv-ir cut', 'uvir cut'],
  red: ['r', 'red'],
  green: ['g', 'green'],
  blue: ['b', 'blue'],
  'hydrogen alpha': ['ha', 'hα', 'halpha', 'h-alpha', 'hydrogen', 'hydrogen alpha'],
  oxygen: ['oiii', 'o3', 'o-iii', 'oxygen', 'oxygen iii'],
  sulphur: ['sii', 's2', 's-ii', 'sulphur', 'sulfur', 'sulphur ii']
} as const;

export type Channel = keyof typeof CHANNELS;

const BY_NAME = new Map(
  Object.entries(CHANNELS).flatMap(([channel, names]) => names.map((name) => [name as string, channel as Channel]))
);

/** Channel that the whole name of a filter stands for; undefined of a name of its own. */
export const channelOf = (filter: string): Channel | undefined => BY_NAME.get(filter.trim().toLowerCase());

/** What tells filters apart whose names are written in several ways: the channel of the first word, or the name itself. */
export function filterKey(name: string): string {
  const plain = name.trim().toLowerCase();
  return BY_NAME.get(plain) ?? BY_NAME.get(plain.split(/\s+/)[0] ?? '') ?? plain;
}
