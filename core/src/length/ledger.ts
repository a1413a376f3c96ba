import { jointsOf, type Joint } from '../joint/joints.ts';
import {
  adjustOf,
  glassOf,
  isSolid,
  lengthOf,
  type Element,
  type Glass,
  type GlassRule,
  type SolidElement,
  type Train
} from '../train/model.ts';
import {
  datumCorrection,
  datumOf,
  effectiveFocalRatio,
  nominalBackFocus,
  toleranceOf,
  type Datum,
  type Nominal,
  type ToleranceSource
} from './backFocus.ts';
import { glassShift } from './glass.ts';

/** Where a length in the sum comes from. */
export type EntryFrom = 'published' | 'measured' | 'joint' | 'shim' | 'recess' | 'dial';

/** One signed length of the actual sum, mm. */
export interface Entry {
  id: string;
  mm: number;
  from: EntryFrom;
}

/** Focus shift of one plate that counts. */
export interface GlassTerm {
  id: string;
  plate: Glass;
  shiftMm: number;
}

/** What the train would ask for with another slot of a wheel in the beam. */
export interface SlotRequirement {
  slot: number;
  name: string;
  requiredMm: number | null;
  residualMm: number | null;
}

/** Half-width of what is not known about one length, mm. */
export interface Doubt {
  id: string;
  /** Worst case: ±a of a published length, U of a measured one, mm. */
  halfWidthMm: number;
  /** Standard uncertainty, mm. */
  standardMm: number;
  kind: 'stated' | 'assumed' | 'measured';
}

export interface Required {
  nominalMm: number | null;
  datumMm: number | null;
  glassMm: number | null;
  tunedMm: number | null;
  totalMm: number | null;
  toleranceMm: number | null;
}

/** The whole length ledger of a train, with what each number came from. */
export interface Ledger {
  datum: Datum;
  nominal: Nominal;
  rule: GlassRule;
  /** Focal ratio of the beam behind the corrector, N·m. */
  focalRatio: number;
  required: Required;
  toleranceSource: ToleranceSource | null;
  /** The datum is not the shoulder and the length between the two is not stated. */
  datumUnknown: boolean;
  glass: GlassTerm[];
  /** Slot in the beam, of each element that offers several. */
  designSlots: Map<string, number>;
  slots: SlotRequirement[];
  joints: Joint[];
  entries: Entry[];
  actualMm: number;
  residualMm: number | null;
  doubts: Doubt[];
}

/** A part of unknown tolerance counts as this much either way, mm (common practice, no source). */
export const ASSUMED_TOLERANCE_MM = 0.1;

/** A measurement without its uncertainty counts as one with ordinary calipers, U, mm (common practice, no source). */
export const ASSUMED_CALIPER_MM = 0.03;

/**
 * What is not known about one part's length. Rectangular ±a gives u = a/√3 (JCGM 100:2008 §4.3.7);
 * a measurement's U is 2u.
 */
export function doubtOf(element: SolidElement): Doubt {
  const { id, measured, toleranceMm } = element;
  if (measured) {
    const expanded = measured.uncertaintyMm ?? ASSUMED_CALIPER_MM;
    return {
      id,
      halfWidthMm: expanded,
      standardMm: expanded / 2,
      kind: measured.uncertaintyMm === undefined ? 'assumed' : 'measured'
    };
  }
  const halfWidthMm = toleranceMm ?? ASSUMED_TOLERANCE_MM;
  return {
    id,
    halfWidthMm,
    standardMm: halfWidthMm / Math.sqrt(3),
    kind: toleranceMm === undefined ? 'assumed' : 'stated'
  };
}

/** Lengths a joint adds or takes away, entered at the joint's camera-side element. */
function jointEntries(joint: Joint, into: Entry[]): void {
  const { shimElements, cameraId: id } = joint;
  for (const shim of shimElements) {
    into.push({ id: shim.id, mm: joint.stated ? 0 : lengthOf(shim), from: 'shim' });
  }
  if (joint.stated) {
    into.push({ id, mm: joint.openingMm, from: 'joint' });
  } else {
    const loose = joint.shimsMm - shimElements.reduce((sum, shim) => sum + lengthOf(shim), 0);
    if (loose > 1e-9) into.push({ id, mm: loose, from: 'shim' });
    const beyondShims = joint.openingMm - joint.shimsMm;
    if (beyondShims > 1e-9) into.push({ id, mm: beyondShims, from: 'joint' });
  }
  if (joint.recessMm > 0) into.push({ id, mm: -joint.recessMm, from: 'recess' });
}

function dialEntry(element: Element, into: Entry[]): void {
  const adjust = adjustOf(element);
  if (adjust) into.push({ id: element.id, mm: adjust.setMm, from: 'dial' });
}

/** Whether the maker's length already allows for a plate: by default only on a camera, whose window it is. */
const isCounted = (element: Element, plate: Glass): boolean => plate.counted ?? element.kind === 'camera';

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

interface SlotChoice {
  slot: number;
  name: string;
  /** Shift with this slot in the beam minus the shift with the design slot, mm. */
  differenceMm: number;
}

interface GlassInBeam {
  terms: GlassTerm[];
  designSlots: Map<string, number>;
  choices: SlotChoice[];
}

/** Glass between datum and sensor that the maker has not allowed for. */
function glassInBeam(train: Train, datumIndex: number, rule: GlassRule, focalRatio: number): GlassInBeam {
  const terms: GlassTerm[] = [];
  const designSlots = new Map<string, number>();
  const choices: SlotChoice[] = [];
  for (let index = datumIndex + 1; index < train.elements.length; index++) {
    const element = train.elements[index]!;
    const plates = glassOf(element);
    if (!plates || plates.length === 0) continue;
    const shiftOf = (plate: Glass): number => (isCounted(element, plate) ? 0 : glassShift(plate, rule, focalRatio));
    const shiftBySlot = new Map<number, number>();
    for (const plate of plates) {
      if (plate.slot !== undefined) shiftBySlot.set(plate.slot, (shiftBySlot.get(plate.slot) ?? 0) + shiftOf(plate));
    }
    const stated = 'designSlot' in element ? element.designSlot : undefined;
    const empty = new Set(
      [...shiftBySlot.keys()].filter((slot) => plates.every((plate) => plate.slot !== slot || plate.thicknessMm === 0))
    );
    const design = stated ?? commonSlot(shiftBySlot, empty);
    if (design !== undefined) designSlots.set(element.id, design);
    for (const plate of plates) {
      const inBeam = plate.slot === undefined || plate.slot === design;
      if (inBeam && !isCounted(element, plate)) terms.push({ id: element.id, plate, shiftMm: shiftOf(plate) });
    }
    for (const [slot, shift] of [...shiftBySlot].sort(([a], [b]) => a - b)) {
      const names = plates.filter((plate) => plate.slot === slot).map((plate) => plate.name ?? `slot ${slot}`);
      choices.push({
        slot,
        name: [...new Set(names)].join(' + '),
        differenceMm: shift - (shiftBySlot.get(design!) ?? 0)
      });
    }
  }
  return { terms, designSlots, choices };
}

/**
 * Reckons a train's length ledger (handbook §2):
 *
 * required = (tuned, or else nominal) + datum correction + Σ glass shift;
 * actual = Σ lengths + Σ joint openings − Σ recesses + Σ dial settings, both counted from the datum
 * element's shoulder to the sensor; residual = actual − required, positive when too long.
 *
 * @param train a valid document
 * @returns every term with its origin; required and residual are null where nothing sets a back focus
 */
export function ledgerOf(train: Train): Ledger {
  const datum = datumOf(train);
  const { corrector } = datum;
  const nominal = nominalBackFocus(corrector, train);
  const focalRatio = effectiveFocalRatio(train, corrector);
  const rule = train.glassRule ?? 'paraxial';
  const glass = glassInBeam(train, datum.index, rule, focalRatio);

  const joints = jointsOf(train);
  const jointBefore = new Map(joints.map((joint) => [joint.cameraIndex, joint]));
  const entries: Entry[] = [];
  const doubts: Doubt[] = [];
  const datumElement = train.elements[datum.index];
  if (datumElement) dialEntry(datumElement, entries);
  for (let index = datum.index + 1; index < train.elements.length; index++) {
    const element = train.elements[index]!;
    const joint = jointBefore.get(index);
    if (joint) {
      jointEntries(joint, entries);
      if (!joint.stated) doubts.push(...joint.shimElements.map(doubtOf));
    }
    if (!isSolid(element) || element.kind === 'shim') continue;
    doubts.push(doubtOf(element));
    entries.push({ id: element.id, mm: lengthOf(element), from: element.measured ? 'measured' : 'published' });
    dialEntry(element, entries);
  }
  const actualMm = entries.reduce((sum, entry) => sum + entry.mm, 0);

  const tunedMm = corrector?.tunedMm ?? null;
  const base = tunedMm ?? nominal.mm;
  const correction = corrector && datumCorrection(corrector, datum.port);
  const glassMm = glass.terms.reduce((sum, term) => sum + term.shiftMm, 0);
  const asks = corrector !== undefined && base !== null;
  const datumMm = correction ?? 0;
  const totalMm = asks ? base + datumMm + glassMm : null;
  const tolerance = asks ? toleranceOf(corrector, nominal, train) : null;

  return {
    datum,
    nominal,
    rule,
    focalRatio,
    required: {
      nominalMm: nominal.mm,
      datumMm: asks ? datumMm : null,
      glassMm: asks ? glassMm : null,
      tunedMm,
      totalMm,
      toleranceMm: tolerance?.mm ?? null
    },
    toleranceSource: tolerance?.source ?? null,
    // Where nothing is asked for, it does not matter what it would be counted from.
    datumUnknown: asks && correction === undefined,
    glass: glass.terms,
    designSlots: glass.designSlots,
    slots: glass.choices.map(({ slot, name, differenceMm }) => ({
      slot,
      name,
      requiredMm: totalMm === null ? null : totalMm + differenceMm,
      residualMm: totalMm === null ? null : actualMm - totalMm - differenceMm
    })),
    joints,
    entries,
    actualMm,
    residualMm: totalMm === null ? null : actualMm - totalMm,
    doubts
  };
}
