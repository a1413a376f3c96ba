import { glassOf, isSolid, lengthOf, type Element, type Glass, type GlassRule, type Train } from '../train/model.ts';
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
  fromSkyMm === undefined || !isSolid(element) || fromSkyMm >= lengthOf(element) / 2;

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

/**
 * The slot most plates are like: same shift; the lowest slot of the largest group. An entry of thickness 0 is an empty
 * place, not glass: it is only chosen where there is nothing else (handbook §2).
 */
function commonSlot(shiftBySlot: Map<number, number>, empty: ReadonlySet<number>): number | undefined {
  const groups = new Map<number, { slot: number; count: number }>();
  const filled = [...shiftBySlot].filter(([slot]) => !empty.has(slot));
  for (const [slot, shift] of (filled.length > 0 ? filled : [...shiftBySlot]).sort(([a], [b]) => a - b)) {
    const key = Math.round(shift * 1000);
    const group = groups.get(key);
    if (group) group.count++;
    else groups.set(key, { slot, count: 1 });
  }
  return [...groups.values()].reduce<{ slot: number; count: number } | undefined>(
    (best, group) => (best === undefined || group.count > best.count ? group : best),
    undefined
  )?.slot;
}

/** Slots of one holder, with the shift of each. */
function slotsOf(plates: readonly Glass[], shiftOf: (plate: Glass) => number): Map<number, number> {
  const shifts = new Map<number, number>();
  for (const plate of plates) {
    if (plate.slot !== undefined) shifts.set(plate.slot, (shifts.get(plate.slot) ?? 0) + shiftOf(plate));
  }
  return shifts;
}

const isEmptySlot = (plates: readonly Glass[], slot: number): boolean =>
  plates.every((plate) => plate.slot !== slot || plate.thicknessMm === 0);

/** Glass between datum and sensor, the datum's own behind its lenses among it. */
export function glassInBeam(train: Train, datumIndex: number, rule: GlassRule, focalRatio: number): GlassInBeam {
  const beam: GlassInBeam = { terms: [], designSlots: new Map(), choices: [], counted: [] };
  const { elements } = train;
  const holders = elements.filter((element) => glassOf(element)?.some(({ slot }) => slot !== undefined)).length;
  for (let index = Math.max(datumIndex, 0); index < elements.length; index++) {
    const element = elements[index]!;
    const all = glassOf(element);
    if (!all || all.length === 0) continue;
    const plates = index === datumIndex ? all.filter((plate) => isBehindLenses(element, plate)) : all;
    const shiftOf = (plate: Glass): number => (isCounted(element, plate) ? 0 : glassShift(plate, rule, focalRatio));
    const shifts = slotsOf(plates, shiftOf);
    const stated = 'designSlot' in element ? element.designSlot : undefined;
    const empty = new Set([...shifts.keys()].filter((slot) => isEmptySlot(plates, slot)));
    const design = stated ?? commonSlot(shifts, empty);
    if (design !== undefined) beam.designSlots.set(element.id, design);
    for (const plate of plates) {
      if (plate.slot !== undefined && plate.slot !== design) continue;
      if (!isCounted(element, plate)) beam.terms.push({ id: element.id, plate, shiftMm: shiftOf(plate) });
      else if (plate.thicknessMm > 0) beam.counted.push({ id: element.id, plate });
    }
    for (const [slot, shift] of [...shifts].sort(([a], [b]) => a - b)) {
      const names = plates.filter((plate) => plate.slot === slot).map((plate) => plate.name ?? `slot ${slot}`);
      const name = [...new Set(names)].join(' + ');
      beam.choices.push({
        id: element.id,
        slot,
        name: holders > 1 ? `${name} in ${element.name}` : name,
        differenceMm: shift - (shifts.get(design!) ?? 0)
      });
    }
  }
  return beam;
}
