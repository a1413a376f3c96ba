import { filterGlass, type Part } from '@lodestone/core/drawer';
import { filterKey, type FilterHolder } from '@lodestone/core/sky';
import { glassOf, isBody, type BodyElement, type Glass, type Operation, type Train } from '@lodestone/core/train';
import { carouselOf, movedSlots, slotted, type Carousel } from './slotPlan.ts';

/** Orders that many owners keep their filters in (common practice, no source). */
export const USUAL_ORDERS: readonly (readonly [title: string, names: string])[] = [
  ['L R G B, then narrow bands', 'L R G B Ha OIII SII'],
  ['narrow bands, then L R G B', 'Ha OIII SII L R G B']
];

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
  const wanted = order.map(filterKey);
  const standing = filters.filter(({ isGlass }) => isGlass);
  const rank = ({ name }: { name: string }): number => {
    const at = wanted.indexOf(filterKey(name));
    return at < 0 ? wanted.length : at;
  };
  // A sort that keeps what is alike as it stands.
  const sorted = standing.toSorted((a, b) => rank(a) - rank(b));
  const moved = new Map(sorted.map(({ slot }, at) => [slot, standing[at]!.slot]));
  return [...moved].every(([from, to]) => from === to) ? undefined : movedSlots(element, moved);
}

/** Filters of a train’s wheel, in the order of their slots. */
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

/** A set of filters as it lies in one place of the drawer. */
export interface DrawerSet {
  location: string;
  filters: (Glass & { slot: number })[];
}

/** Filters of the drawer as sets: what has one place goes together, in the order of its channels. */
export function drawerSets(parts: readonly Part[]): DrawerSet[] {
  const byPlace = new Map<string, Glass[]>();
  for (const part of parts) {
    const plate = part.location === '' || part.state === 'set-aside' ? undefined : filterGlass(part);
    if (plate) byPlace.set(part.location, [...(byPlace.get(part.location) ?? []), plate]);
  }
  const rank = ({ name = '' }: Glass): number => {
    const at = CHANNEL_ORDER.indexOf(filterKey(name));
    return at < 0 ? CHANNEL_ORDER.length : at;
  };
  return [...byPlace].map(([location, plates]) => ({
    location,
    filters: plates.toSorted((a, b) => rank(a) - rank(b)).map((plate, at) => ({ ...plate, slot: at + 1 }))
  }));
}

const CHANNEL_ORDER = namesOf(USUAL_ORDERS[0]![1]).map(filterKey);

/** What of a train holds filters that are changed: a wheel’s slots, or a drawer that takes one; undefined where nothing does. */
export function holderOf(train: Train): (FilterHolder & { element: BodyElement }) | undefined {
  const wheel = train.elements.map((element) => carouselOf(element, undefined)).find((each) => each !== undefined);
  const drawer = train.elements.find(({ kind }) => kind === 'filter-drawer');
  const element = train.elements.find(({ id }) => id === (wheel ?? drawer)?.id);
  if (!element || !isBody(element)) return undefined;
  const isFromAfar = wheel !== undefined && element.kind === 'filter-wheel';
  const names = wheel
    ? wheel.filters.flatMap(({ isGlass, name }) => (isGlass ? [name] : []))
    : (glassOf(element) ?? []).flatMap(({ name, thicknessMm }) => (name && thicknessMm > 0 ? [name] : []));
  // A drawer has its filters beside it: one of them is in the beam.
  return isFromAfar
    ? { element, slots: wheel.slots - wheel.keepEmpty.length, standing: names }
    : { element, slots: 1, standing: names.slice(0, 1) };
}
