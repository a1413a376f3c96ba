import { jointsOf, nestedIn, type Joint, type Nested } from '../joint/joints.ts';
import { takenOffMm } from '../train/detachable.ts';
import {
  adjustOf,
  behindDatumMm,
  isSolid,
  lengthOf,
  type Element,
  type GlassRule,
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
import { glassInBeam, type GlassInBeam, type GlassTerm } from './glassInBeam.ts';
import { groupsOf, type Groups } from './groups.ts';

/** Where a length in the sum comes from. */
export type EntryFrom = 'published' | 'measured' | 'joint' | 'shim' | 'recess' | 'dial';

/** One signed length of the actual sum, mm. */
export interface Entry {
  id: string;
  mm: number;
  from: EntryFrom;
}

/** What the train would ask for with another slot of a wheel in the beam. */
export interface SlotRequirement {
  /** Element that holds it. */
  id: string;
  slot: number;
  name: string;
  requiredMm: number | null;
  residualMm: number | null;
}

export interface Required {
  nominalMm: number | null;
  datumMm: number | null;
  glassMm: number | null;
  /** Shift the published figure already contains, where it says so. */
  allowedGlassMm?: number;
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
  /** The datum is not the shoulder and the length between the two is not stated: what is required is not known. */
  datumUnknown: boolean;
  /** Joints behind the datum where a ring sinks into a bore of unknown depth: the actual length is not known. */
  depthsUnknown: readonly Joint[];
  glass: GlassTerm[];
  /** Plates whose shift the maker's lengths are taken to allow for. */
  glassCounted: GlassInBeam['counted'];
  /** Slot in the beam, of each element that offers several. */
  designSlots: Map<string, number>;
  slots: SlotRequirement[];
  joints: Joint[];
  entries: Entry[];
  actualMm: number;
  residualMm: number | null;
  groups: Groups;
  /** Indices of elements whose length is that of their group. */
  grouped: ReadonlySet<number>;
  /** Filters in an inner thread of a neighbour, by index. */
  nested: ReadonlyMap<number, Nested>;
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

interface Lengths {
  entries: Entry[];
  grouped: Set<number>;
}

/** Every signed length behind the datum's shoulder, in train order. */
function lengthsOf(
  train: Train,
  { index: datumIndex }: Datum,
  joints: readonly Joint[],
  { inForce }: Groups,
  nested: ReadonlyMap<number, Nested>
): Lengths {
  const jointBefore = new Map(joints.map((joint) => [joint.cameraIndex, joint]));
  const groupFrom = new Map(inForce.map((group) => [group.fromIndex, group]));
  const entries: Entry[] = [];
  const grouped = new Set<number>();
  const datumElement = train.elements[datumIndex];
  if (datumElement) {
    const pieceMm = behindDatumMm(datumElement);
    if (pieceMm > 0) entries.push({ id: datumElement.id, mm: pieceMm, from: 'published' });
    dialEntry(datumElement, entries);
  }
  for (let index = datumIndex + 1; index < train.elements.length; index++) {
    const element = train.elements[index]!;
    const joint = jointBefore.get(index);
    if (joint) jointEntries(joint, entries);
    const group = groupFrom.get(index);
    if (group) {
      entries.push({ id: element.id, mm: group.group.lengthMm, from: 'measured' });
      for (; index < group.toIndex; index++) grouped.add(index);
      grouped.add(index);
      continue;
    }
    if (!isSolid(element) || element.kind === 'shim') continue;
    const mm = lengthOf(element);
    if (nested.has(index)) {
      if (mm > 0) entries.push({ id: element.id, mm, from: 'published' }, { id: element.id, mm: -mm, from: 'recess' });
      continue;
    }
    entries.push({ id: element.id, mm, from: element.measured ? 'measured' : 'published' });
    dialEntry(element, entries);
  }
  return { entries, grouped };
}

const NO_NESTED: ReadonlyMap<number, Nested> = new Map();

/**
 * Reckons a train's length ledger (handbook §2):
 *
 * required = (tuned, or else nominal − glass it allows for) + datum correction + Σ glass shift;
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
  const inner = nestedIn(train);
  const nested = inner.length === 0 ? NO_NESTED : new Map(inner.map((each) => [each.index, each]));
  const groups = groupsOf(train, { datumIndex: datum.index, nested });
  const { entries, grouped } = lengthsOf(train, datum, joints, groups, nested);
  const actualMm = entries.reduce((sum, entry) => sum + entry.mm, 0);

  const tunedMm = corrector?.tunedMm ?? null;
  const base = tunedMm ?? nominal.mm;
  const toShoulderMm = corrector && datumCorrection(corrector, datum.port);
  // A host is published with its mount on: its own face lies behind the one that is left.
  const offMm = datum.index < 0 ? takenOffMm(train.host) : 0;
  const correction = toShoulderMm === undefined ? undefined : toShoulderMm + offMm;
  const glassMm = glass.terms.reduce((sum, term) => sum + term.shiftMm, 0);
  // What was found by testing was found without glass: the published figure's allowance is no part of it.
  const allowedMm = tunedMm === null ? corrector?.allowedGlassMm : undefined;
  const datumUnknown = corrector !== undefined && base !== null && correction === undefined;
  const asks = corrector !== undefined && base !== null && !datumUnknown;
  const datumMm = correction ?? 0;
  const totalMm = asks ? base + datumMm + glassMm - (allowedMm ?? 0) : null;
  const starts = new Set(groups.inForce.map(({ fromIndex }) => fromIndex));
  const depthsUnknown = joints.filter(
    ({ cameraIndex, open, sunkMm, recessTyped }) =>
      cameraIndex > datum.index &&
      !open &&
      sunkMm === undefined &&
      !recessTyped &&
      (!grouped.has(cameraIndex) || starts.has(cameraIndex))
  );
  const residual = totalMm === null || depthsUnknown.length > 0 ? null : actualMm - totalMm;
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
      ...(asks && allowedMm !== undefined ? { allowedGlassMm: allowedMm } : {}),
      tunedMm,
      totalMm,
      toleranceMm: tolerance?.mm ?? null
    },
    toleranceSource: tolerance?.source ?? null,
    // Where nothing is asked for, it does not matter what it would be counted from.
    datumUnknown,
    depthsUnknown,
    glass: glass.terms,
    glassCounted: glass.counted,
    designSlots: glass.designSlots,
    slots: glass.choices.map(({ id, slot, name, differenceMm }) => ({
      id,
      slot,
      name,
      requiredMm: totalMm === null ? null : totalMm + differenceMm,
      residualMm: residual === null ? null : residual - differenceMm
    })),
    joints,
    entries,
    actualMm,
    residualMm: residual,
    groups,
    grouped,
    nested
  };
}
