import {
  glassOf,
  isBody,
  type BodyElement,
  type Element,
  type Glass,
  type Operation,
  type Train
} from '@lodestone/core/train';
import { imbalance, spreadSlots, type Imbalance } from '@lodestone/core/load';
import { filterGlass, type Part } from '@lodestone/core/drawer';

/** A wheel's slots and what stands in them. */
export interface Carousel {
  id: string;
  name: string;
  slots: number;
  /** Slots that stay empty. */
  keepEmpty: readonly number[];
  /** In the order of their slots. */
  filters: readonly { slot: number; name: string; massG: number; clearMm: number | undefined; isGlass: boolean }[];
  /** Slot in the beam. */
  inBeam: number | undefined;
  imbalance: Imbalance;
  /** Some mass is not stated: filters count alike, and an empty slot nothing. */
  isAssumed: boolean;
}

/** Every filter of one format weighs about as much (common practice, no source), g. */
const USUAL_MASS_G = 10;

/** Plates of an element that have a slot. */
export const slotted = (element: Element): (Glass & { slot: number })[] =>
  (glassOf(element) ?? []).filter((plate): plate is Glass & { slot: number } => plate.slot !== undefined);

/** The carousel of an element; undefined where it has no slots. */
export function carouselOf(element: Element, inBeam: number | undefined): Carousel | undefined {
  const plates = slotted(element);
  if (!isBody(element) || plates.length === 0) return undefined;
  const { holder } = element;
  const highest = Math.max(...plates.map(({ slot }) => slot));
  const slots = Math.max(holder?.slots ?? highest, highest);
  const isGlass = ({ thicknessMm }: Glass) => thicknessMm > 0;
  const isAssumed = plates.some((plate) => isGlass(plate) && plate.massG === undefined);
  const filters = plates
    .map((plate) => ({
      slot: plate.slot,
      name: plate.name ?? `slot ${plate.slot}`,
      massG: plate.massG ?? (isGlass(plate) ? USUAL_MASS_G : 0),
      clearMm: plate.clearMm,
      isGlass: isGlass(plate)
    }))
    .sort((a, b) => a.slot - b.slot);
  return {
    id: element.id,
    name: element.name,
    slots,
    keepEmpty: holder?.keepEmpty ?? [],
    filters,
    inBeam,
    imbalance: imbalance(filters, slots),
    isAssumed
  };
}

/** More slots than this are not spread by trying every way. */
const MOST_SLOTS = 14;

/**
 * The same filters in the same order, in other slots, so that the carousel is least out of balance.
 *
 * @returns undefined where that changes nothing, or there is no room
 */
export function spreadOperation(
  train: Train,
  carousel: Carousel
): { operation: Operation; resultantG: number } | undefined {
  const { id, slots, keepEmpty, filters } = carousel;
  const element = train.elements.find((each) => each.id === id);
  if (!element || !isBody(element) || slots > MOST_SLOTS) return undefined;
  const standing = filters.filter(({ isGlass }) => isGlass);
  const plan = spreadSlots(
    standing.map(({ massG }) => massG),
    slots,
    keepEmpty
  );
  if (!plan || plan.resultantG > carousel.imbalance.resultantG - 1e-6) return undefined;
  const moved = new Map(standing.map(({ slot }, index) => [slot, plan.slots[index]!]));
  // What is no glass goes where there is room.
  const room = Array.from({ length: slots }, (_, at) => at + 1).filter((slot) => !plan.slots.includes(slot));
  for (const { slot, isGlass } of filters) if (!isGlass && room.length > 0) moved.set(slot, room.shift()!);
  return { operation: movedSlots(element, moved), resultantG: plan.resultantG };
}

/** Moves what stands in slots to others, and the slot the spacing is made for with its filter. */
export function movedSlots(element: BodyElement, moved: ReadonlyMap<number, number>): Operation {
  const { id, designSlot } = element;
  const glass = (glassOf(element) ?? [])
    .map((plate) => (plate.slot === undefined ? plate : { ...plate, slot: moved.get(plate.slot) ?? plate.slot }))
    .sort((a, b) => (a.slot ?? 0) - (b.slot ?? 0));
  const operations: Operation[] = [{ op: 'set', at: id, path: ['glass'], to: glass }];
  if (designSlot !== undefined) {
    operations.push({ op: 'set', at: id, path: ['designSlot'], to: moved.get(designSlot) ?? designSlot });
  }
  return { op: 'batch', operations };
}

/** Puts a filter of the drawer into a slot, in place of what stood there. @returns undefined where it is no filter */
export function fillSlot(train: Train, { id }: Carousel, slot: number, part: Part): Operation | undefined {
  const element = train.elements.find((each) => each.id === id);
  const filter = filterGlass(part, slot);
  if (!element || !filter) return undefined;
  const plates = glassOf(element) ?? [];
  // Where the filters of this holder lie along the axis is the holder's.
  const fromSkyMm = plates.find((plate) => plate.slot !== undefined && plate.fromSkyMm !== undefined)?.fromSkyMm;
  const others = plates.filter((plate) => plate.slot !== slot);
  const glass = [...others, { ...filter, ...(fromSkyMm === undefined ? {} : { fromSkyMm }) }];
  return { op: 'set', at: id, path: ['glass'], to: glass.sort((a, b) => (a.slot ?? 0) - (b.slot ?? 0)) };
}

/** Takes what stands in a slot out of it: an empty slot stays. */
export function emptySlot(train: Train, { id }: Carousel, slot: number): Operation | undefined {
  const element = train.elements.find((each) => each.id === id);
  if (!element) return undefined;
  const glass = (glassOf(element) ?? []).map((plate) => (plate.slot === slot ? { slot, thicknessMm: 0 } : plate));
  return { op: 'set', at: id, path: ['glass'], to: glass };
}

/** Where the slots lie on the face, mm from the carousel's axis, which lies below the beam. */
export function carouselRadii({ slots, filters }: Carousel): { slotMm: number; ringMm: number } {
  const slotMm = Math.max(10, ...filters.map(({ clearMm }) => (clearMm ?? 0) / 2)) + 2.5;
  return { slotMm, ringMm: slots < 3 ? slotMm * 1.2 : (slotMm * 1.1) / Math.sin(Math.PI / slots) };
}
