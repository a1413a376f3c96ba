import { detachablesOf } from '../train/detachable.ts';
import {
  adjustOf,
  glassOf,
  isBody,
  isCamera,
  piecesMm,
  seatOf,
  type Element,
  type Measured,
  type SolidElement
} from '../train/model.ts';
import { turnedRound } from '../joint/fit.ts';
import type { DrawerFile, Measurement, PartKeys } from './generated/types.ts';
import { combineMeasurements, sharedBy } from './series.ts';

export type { DrawerFile, Measurement, PartKeys };
export type PartState = NonNullable<PartKeys['state']>;

export const STATE_WORDS: Readonly<Record<PartState, string>> = {
  'in-use': 'in use',
  spare: 'spare',
  'set-aside': 'set aside'
};

/** A part of the drawer: what it is, and what the owner knows of it beside. */
export interface Part {
  partId: string;
  /** As it would stand in a train; its `id` is the partId, and it has no partId or copy of its own. */
  element: SolidElement;
  quantity: number;
  owned: boolean;
  price?: number;
  /** From large to small, joined by ` / `; empty where not known. */
  location: string;
  state: PartState;
  measurements: readonly Measurement[];
}

/** `Shed / Tin 2` as its steps. */
export const locationSteps = (location: string): string[] =>
  location
    .split('/')
    .map((step) => step.trim())
    .filter(Boolean);

/** One spelling for one place. */
export const tidyLocation = (location: string): string => locationSteps(location).join(' / ');

/** What is known of a part's length by measuring: the series combined, else what was entered as a whole. */
export function measuredOf(part: Part): Measured | undefined {
  const combined = combineMeasurements(part.measurements);
  if (!combined) return part.element.measured;
  const shared = sharedBy(part.measurements);
  return {
    lengthMm: combined.lengthMm,
    uncertaintyMm: combined.expandedMm,
    ...(shared ? { instrument: shared.instrument, instrumentErrorMm: shared.errorMm } : {})
  };
}

/** The part's length that counts, with what is on it, mm. */
export const partLength = (part: Part): number =>
  (measuredOf(part)?.lengthMm ?? part.element.lengthMm) + piecesMm(part.element);

/**
 * Whether published and measured length disagree: by more than 2U, U the measurement's expanded uncertainty.
 *
 * @returns measured − published, mm, where they do; undefined where they agree or nothing was measured
 */
export function disagreement(part: Part): number | undefined {
  const measured = measuredOf(part);
  if (!measured) return undefined;
  const apart = measured.lengthMm - part.element.lengthMm;
  return Math.abs(apart) > 2 * (measured.uncertaintyMm ?? 0) + 1e-9 ? apart : undefined;
}

function withMeasured(element: SolidElement, measured: Measured | undefined): SolidElement {
  const { measured: _old, ...rest } = element;
  return measured ? { ...rest, measured } : rest;
}

/** Drops keys that are undefined: a document has none. */
const tidy = <T extends object>(record: T): T =>
  Object.fromEntries(Object.entries(record).filter(([, entry]) => entry !== undefined)) as T;

/** How a part stands in a train. */
export interface Placing {
  id: string;
  copy?: number | undefined;
  reversed?: boolean;
}

/** The element a part becomes when it is placed: a snapshot that says which part, and which copy, it is. */
export function placedPart(part: Part, { id, copy, reversed = false }: Placing): SolidElement {
  const { element } = part;
  const standing = reversed && isBody(element) ? turnedRound(element) : element;
  return {
    ...withMeasured(standing, measuredOf(part)),
    id,
    partId: part.partId,
    ...(copy === undefined ? {} : { copy })
  };
}

/**
 * The element brought up to what the drawer now says of its part. What belongs to the place it has in the train
 * stays: id, copy, seat, note, how far its dial is set, what is on it, which slot the spacing is made for, which way round.
 */
export function refreshedPart(element: Element, part: Part): Element {
  if (element.kind === 'gap') return element;
  const fresh = placedPart(part, {
    id: element.id,
    copy: element.copy,
    reversed: isBody(element) && element.reversed === true && !(isBody(part.element) && part.element.reversed)
  });
  const kept: Record<string, unknown> = { note: element.note ?? fresh.note };
  if (isBody(fresh) || isCamera(fresh)) {
    kept.seat = seatOf(element) ?? fresh.seat;
    const set = adjustOf(element)?.setMm;
    if (fresh.adjust && set !== undefined) {
      const { minMm, maxMm } = fresh.adjust;
      kept.adjust = { ...fresh.adjust, setMm: Math.min(maxMm, Math.max(minMm, set)) };
    }
    const slot = 'designSlot' in element ? element.designSlot : undefined;
    // Filters that are parts of their own stand in this train’s holder, whatever stands in the drawer’s.
    const glass = glassOf(element);
    const isLoaded = glass?.some(({ partId }) => partId !== undefined) === true;
    if (isLoaded) kept.glass = glass;
    const plates = isLoaded ? glass : fresh.glass;
    if (slot !== undefined && plates?.some((plate) => plate.slot === slot)) kept.designSlot = slot;
    const had = detachablesOf(element);
    if (fresh.detachable) {
      kept.detachable = fresh.detachable.map((piece) => ({
        ...piece,
        on: had.find(({ name }) => name === piece.name)?.on ?? piece.on
      }));
    }
    if (isBody(fresh) && isBody(element) && element.rotatorDeg !== undefined) kept.rotatorDeg = element.rotatorDeg;
    if (isBody(fresh) && isBody(element) && fresh.pickoff) {
      // How deep the prism is drawn in, where its stalk stands and what is screwed to it belong to the train.
      const { innerEdgeMm, atDeg, tubes, guideCamera } = { ...fresh.pickoff, ...element.pickoff };
      kept.pickoff = tidy({ ...fresh.pickoff, innerEdgeMm, atDeg, tubes, guideCamera });
    }
  }
  return tidy({ ...fresh, ...kept });
}

/** A part as it stands in a drawer document: the element's keys and the part's, defaults left out. */
export function partToDocument(part: Part): Record<string, unknown> {
  const { partId, element, quantity, owned, price, location, state, measurements } = part;
  const { id: _id, ...own } = element;
  return tidy({
    partId,
    ...own,
    quantity: quantity === 1 ? undefined : quantity,
    owned: owned ? undefined : false,
    price,
    location: location === '' ? undefined : location,
    state: state === 'spare' ? undefined : state,
    measurements: measurements.length === 0 ? undefined : measurements
  });
}

/** A drawer as a document. */
export const drawerToDocument = (parts: readonly Part[], name?: string): Record<string, unknown> =>
  tidy({ lodestone: 'drawer/1', name, parts: parts.map(partToDocument) });

/** The next free number of a kind: `R-08` after `R-07`. */
export function freePartId(taken: ReadonlySet<string>, kind: SolidElement['kind']): string {
  const letter = kind === 'shim' ? 'S' : kind === 'spacer' || kind === 'extension-tube' ? 'R' : kind[0]!.toUpperCase();
  for (let number = 1; ; number++) {
    const candidate = `${letter}-${String(number).padStart(2, '0')}`;
    if (!taken.has(candidate)) return candidate;
  }
}
