import {
  bareLengthOf,
  glassOf,
  isSolid,
  type Element,
  type Glass,
  type GlassRule,
  type Train
} from '../train/model.ts';
import { glassShift } from './glass.ts';

/** Focus shift of one plate that counts. */
export interface GlassTerm {
  id: string;
  plate: Glass;
  shiftMm: number;
}

/** What a plate is to the light: the camera's own window, or a filter. */
export const roleOf = (element: Element, plate: Glass): NonNullable<Glass['role']> =>
  plate.role ?? (element.kind === 'camera' && plate.slot === undefined ? 'window' : 'filter');

/** Whether the maker's length already allows for a plate: said, or else true of a window (handbook §2). */
export const isCounted = (element: Element, plate: Glass): boolean =>
  plate.counted ?? roleOf(element, plate) === 'window';

/**
 * Whether a plate of the element that sets the back focus lies behind its lenses, as a filter in its rear thread
 * does: it is said to lie in the camera-side half, or nothing is said.
 */
export const isBehindLenses = (element: Element, { fromSkyMm }: Glass): boolean =>
  fromSkyMm === undefined || !isSolid(element) || fromSkyMm >= bareLengthOf(element) / 2;

/** One slot of one holder: what is different with it in the beam. */
export interface SlotChoice {
  id: string;
  slot: number;
  name: string;
  /** Shift with this slot in the beam minus the shift with the design slot, mm. */
  differenceMm: number;
}

export interface GlassInBeam {
  terms: GlassTerm[];
  /** Slot in the beam, of each element that offers several. */
  designSlots: Map<string, number>;
  choices: SlotChoice[];
  /** Plates between datum and sensor whose shift the maker's lengths are taken to allow for. */
  counted: { id: string; plate: Glass }[];
}

/** One slot of a holder, with what stands in it. */
interface Slot {
  slot: number;
  shiftMm: number;
  names: string[];
  /** Nothing in it has a thickness: an empty place, not glass. */
  empty: boolean;
}

/** Slots of one holder, lowest first. */
function slotsOf(element: Element, plates: readonly Glass[], shiftOf: (plate: Glass) => number): Slot[] {
  const slots: Slot[] = [];
  for (const plate of plates) {
    const { slot, thicknessMm, name = `slot ${slot}` } = plate;
    if (slot === undefined) continue;
    let place = slots.find((each) => each.slot === slot);
    if (!place) slots.push((place = { slot, shiftMm: 0, names: [], empty: true }));
    if (!isCounted(element, plate)) place.shiftMm += shiftOf(plate);
    if (!place.names.includes(name)) place.names.push(name);
    if (thicknessMm !== 0) place.empty = false;
  }
  return slots.sort((a, b) => a.slot - b.slot);
}

/** Shifts that are the same to a micrometre count as one. */
const isAlike = (a: Slot, b: Slot): boolean => Math.round(a.shiftMm * 1000) === Math.round(b.shiftMm * 1000);

/**
 * The slot most plates are like: same shift; the lowest slot of the largest group. An empty place is only chosen where
 * there is nothing else (handbook §2).
 */
function commonSlot(slots: readonly Slot[]): number | undefined {
  const filled = slots.some(({ empty }) => !empty) ? slots.filter(({ empty }) => !empty) : slots;
  let best: number | undefined;
  let most = 0;
  for (const each of filled) {
    let alike = 0;
    for (const other of filled) if (isAlike(each, other)) alike++;
    if (alike > most) [best, most] = [each.slot, alike];
  }
  return best;
}

const hasSlots = (element: Element): boolean => glassOf(element)?.some(({ slot }) => slot !== undefined) ?? false;

/** The slot of a holder that is in the beam: as stated, else the one most plates are like. */
function designSlotOf(element: Element, slots: readonly Slot[]): number | undefined {
  return ('designSlot' in element ? element.designSlot : undefined) ?? commonSlot(slots);
}

/**
 * Focus shift of the glass that stands ahead of the corrector, mm: of a holder what its design slot holds; what a maker
 * has counted, and the corrector's own behind its lenses, is none of it.
 */
export function shiftAhead(train: Train, datumIndex: number, rule: GlassRule, focalRatio: number): number {
  const shiftOf = (plate: Glass): number => glassShift(plate, rule, focalRatio);
  let shiftMm = 0;
  train.elements.slice(0, Math.max(0, datumIndex)).forEach((element) => {
    const plates = glassOf(element) ?? [];
    const design = designSlotOf(element, slotsOf(element, plates, shiftOf));
    for (const plate of plates) {
      if (isCounted(element, plate) || (plate.slot !== undefined && plate.slot !== design)) continue;
      shiftMm += shiftOf(plate);
    }
  });
  return shiftMm;
}

/** Glass between datum and sensor, the datum's own behind its lenses among it. */
export function glassInBeam(train: Train, datumIndex: number, rule: GlassRule, focalRatio: number): GlassInBeam {
  const beam: GlassInBeam = { terms: [], designSlots: new Map(), choices: [], counted: [] };
  const { elements } = train;
  let holders = 0;
  for (const element of elements) if (hasSlots(element)) holders++;
  const shiftOf = (plate: Glass): number => glassShift(plate, rule, focalRatio);
  for (let index = 0; index < elements.length; index++) {
    const element = elements[index]!;
    const all = glassOf(element);
    if (!all || all.length === 0) continue;
    if (index < datumIndex) {
      // Ahead of the corrector glass shifts no back focus, yet light passes one of its slots.
      const ahead = designSlotOf(element, slotsOf(element, all, shiftOf));
      if (ahead !== undefined) beam.designSlots.set(element.id, ahead);
      continue;
    }
    const plates = index === datumIndex ? all.filter((plate) => isBehindLenses(element, plate)) : all;
    const slots = slotsOf(element, plates, shiftOf);
    const design = designSlotOf(element, slots);
    if (design !== undefined) beam.designSlots.set(element.id, design);
    for (const plate of plates) {
      if (plate.slot !== undefined && plate.slot !== design) continue;
      if (!isCounted(element, plate)) beam.terms.push({ id: element.id, plate, shiftMm: shiftOf(plate) });
      else if (plate.thicknessMm > 0) beam.counted.push({ id: element.id, plate });
    }
    const inBeamMm = slots.find(({ slot }) => slot === design)?.shiftMm ?? 0;
    for (const { slot, shiftMm, names } of slots) {
      const name = names.join(' + ');
      beam.choices.push({
        id: element.id,
        slot,
        name: holders > 1 ? `${name} in ${element.name}` : name,
        differenceMm: shiftMm - inBeamMm
      });
    }
  }
  return beam;
}
