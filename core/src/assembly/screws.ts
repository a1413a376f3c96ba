import { nameOf, type BodyElement, type Fastener, type Train } from '../train/model.ts';
import { formatLength, listed } from '../why/wording.ts';
import { CAUTIONS } from './step.ts';

/** Screws as a person asks for them: `4 × M3×8, cap head`. */
export function fastenerInWords({ thread, lengthMm, count, head, instead, washers }: Fastener): string {
  const long = lengthMm === undefined ? '' : `, ${formatLength(lengthMm, 'mm', 0)} long`;
  const headed = head === undefined ? '' : `, ${head} head`;
  const under = washers === undefined ? '' : `, ${washers} ${washers === 1 ? 'washer' : 'washers'}`;
  const other = instead === undefined ? '' : ` (or ${instead})`;
  return `${count} × ${thread}${long}${headed}${under}${other}`;
}

/** Screws of a joint or a plate: their words, their tools, and which go first because a later part covers them. */
export function screwed(train: Train, fasteners: readonly Fastener[] | undefined) {
  const sorted = (fasteners ?? []).toSorted((a, b) => (a.lengthMm ?? 0) - (b.lengthMm ?? 0));
  return {
    words: sorted.length === 0 ? undefined : listed(sorted.map(fastenerInWords)),
    tools: [...new Set(sorted.map(({ tool, thread }) => tool ?? `driver for the ${thread} screws`))],
    cautions: [
      ...(sorted.length > 0 ? [CAUTIONS.crosswise] : []),
      ...sorted.flatMap(({ thread, hiddenBy }) =>
        hiddenBy === undefined
          ? []
          : [`Tighten the ${thread} screws now: ${nameOf(train, hiddenBy)} covers them later.`]
      )
    ]
  };
}

/** What a part comes apart into, each with the screws that fix it and how its right way round is told. */
export interface PlateOf {
  name: string;
  fasteners: readonly Fastener[];
  marks: string | undefined;
}

/** Plates, covers and carousel of a part, from the sky side on. */
export const platesOf = ({ halves = [] }: Pick<BodyElement, 'halves'>): PlateOf[] =>
  halves.map((half) =>
    typeof half === 'string'
      ? { name: half, fasteners: [], marks: undefined }
      : { name: half.name, fasteners: half.fasteners ?? [], marks: half.marks }
  );

/** Screws of a holder that hold the glass of one filter. */
export const filterScrews = ({ fasteners = [] }: Pick<BodyElement, 'fasteners'>): Fastener[] =>
  fasteners.filter(({ holds }) => holds === 'filter');

/** Screws of a part that are not a plate's own and hold no filter: those of its cover. */
export const coverScrews = ({ fasteners = [] }: Pick<BodyElement, 'fasteners'>): Fastener[] =>
  fasteners.filter(({ holds }) => holds !== 'filter');

/** Every screw that is undone to open a part, and done up to close it. */
export const closingScrews = (element: BodyElement): Fastener[] => [
  ...platesOf(element).flatMap(({ fasteners }) => fasteners),
  ...coverScrews(element)
];

export const countOf = (fasteners: readonly Fastener[]): number => fasteners.reduce((sum, { count }) => sum + count, 0);
