import { glassOf, isBody, type Glass, type Operation, type Train } from '@lodestone/core/train';
import { carouselOf, movedSlots, slotted, type Carousel } from './slotPlan.ts';

/** Orders that many owners keep their filters in (common practice, no source). */
export const USUAL_ORDERS: readonly (readonly [title: string, names: string])[] = [
  ['L R G B, then narrow bands', 'L R G B Ha OIII SII'],
  ['narrow bands, then L R G B', 'Ha OIII SII L R G B']
];

/** Names that stand for one channel. */
const ALIKE: readonly (readonly string[])[] = [
  ['l', 'lum', 'luminance', 'clear'],
  ['r', 'red'],
  ['g', 'green'],
  ['b', 'blue'],
  ['ha', 'hα', 'halpha', 'h-alpha', 'hydrogen'],
  ['oiii', 'o3', 'o-iii', 'oxygen'],
  ['sii', 's2', 's-ii', 'sulphur', 'sulfur']
];
const channel = (word: string): string => {
  const plain = word.toLowerCase();
  return ALIKE.find((names) => names.includes(plain))?.[0] ?? plain;
};
/** Channel of a filter, by the first word of its name that is one. */
const channelOf = (name: string): string => channel(name.trim().split(/\s+/)[0] ?? '');

/** Names of an order that somebody typed, parted by spaces or commas. */
export const namesOf = (order: string): string[] => order.split(/[\s,;]+/).filter(Boolean);

/**
 * The filters of a wheel in some order, in the slots that hold filters now; those that the order does not name follow, as
 * they stand.
 *
 * @returns undefined where they stand so already
 */
export function orderOperation(
  train: Train,
  { id, filters }: Carousel,
  order: readonly string[]
): Operation | undefined {
  const element = train.elements.find((each) => each.id === id);
  if (!element || !isBody(element)) return undefined;
  const wanted = order.map(channel);
  const standing = filters.filter(({ isGlass }) => isGlass);
  const rank = ({ name }: { name: string }): number => {
    const at = wanted.indexOf(channelOf(name));
    return at < 0 ? wanted.length : at;
  };
  // A sort that keeps what is alike as it stands.
  const sorted = standing.toSorted((a, b) => rank(a) - rank(b));
  const moved = new Map(sorted.map(({ slot }, at) => [slot, standing[at]!.slot]));
  return [...moved].every(([from, to]) => from === to) ? undefined : movedSlots(element, moved);
}

/** Filters of a train's wheel, in the order of their slots. */
export function setOf(train: Train): (Glass & { slot: number })[] {
  const wheel = train.elements.find((element) => carouselOf(element, undefined));
  return wheel
    ? slotted(wheel)
        .filter(({ thicknessMm }) => thicknessMm > 0)
        .sort((a, b) => a.slot - b.slot)
    : [];
}

/**
 * Puts a set of filters into a wheel as one, in place of all that is in its slots: in their order, slots that stay empty
 * left out.
 *
 * @returns why it cannot
 */
export function setOperation(
  train: Train,
  { id, slots, keepEmpty }: Pick<Carousel, 'id' | 'slots' | 'keepEmpty'>,
  set: readonly (Glass & { slot: number })[]
): Operation | string {
  const element = train.elements.find((each) => each.id === id);
  if (!element || !isBody(element)) return 'This wheel is not there any more.';
  const room = Array.from({ length: slots }, (_, at) => at + 1).filter((slot) => !keepEmpty.includes(slot));
  if (set.length > room.length) return `The set has ${set.length} filters, and the wheel has room for ${room.length}.`;
  // The same slots, where they are free: an owner knows a filter by its slot.
  const asTheyAre = set.every(({ slot }) => room.includes(slot));
  const here = slotted(element);
  const fromSkyMm = here.find((plate) => plate.fromSkyMm !== undefined)?.fromSkyMm;
  const placed = set.map(({ fromSkyMm: _theirs, ...plate }, at) => ({
    ...plate,
    slot: asTheyAre ? plate.slot : room[at]!,
    ...(fromSkyMm === undefined ? {} : { fromSkyMm })
  }));
  const glass = [...(glassOf(element) ?? []).filter(({ slot }) => slot === undefined), ...placed];
  const operations: Operation[] = [{ op: 'set', at: id, path: ['glass'], to: glass }];
  const { designSlot } = element;
  if (designSlot !== undefined && !placed.some(({ slot }) => slot === designSlot)) {
    operations.push({ op: 'set', at: id, path: ['designSlot'], to: placed[0]?.slot });
  }
  return { op: 'batch', operations };
}
