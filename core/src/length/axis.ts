import type { Joint } from '../joint/joints.ts';
import { detachablesOf, piecesOnMm } from '../train/detachable.ts';
import { adjustOf, behindDatumMm, isSolid, lengthOf, type Element, type Train } from '../train/model.ts';
import type { GroupInForce } from './groups.ts';
import type { Ledger } from './ledger.ts';

/** A stretch of the optical axis, mm from the datum element's shoulder, positive toward the camera. */
export interface Span {
  fromMm: number;
  toMm: number;
}

/** Where everything stands along the axis; 0 is the shoulder of the element that sets the back focus. */
export interface Axis {
  /** Of each element, by its index. */
  spans: readonly Span[];
  /** The same without the pieces that are on them and can be taken off, by their index. */
  bodies: readonly Span[];
  /** The adjustable part of an element's length, by its index. */
  dials: readonly (Span | undefined)[];
  /** Between the shoulders of each joint, by the index of its camera-side element. */
  joints: ReadonlyMap<number, Span>;
  /** The host's camera face. */
  hostFaceMm: number;
  sensorMm: number;
}

/** Axial length of an element as it stands: its length and what its dial adds, mm. */
export const standingLength = (element: Element): number =>
  isSolid(element) ? lengthOf(element) + (adjustOf(element)?.setMm ?? 0) : 0;

/** An element's stretch of the axis without the pieces that are on it; the same object where there are none. */
export function withoutPieces(element: Element, span: Span): Span {
  if (detachablesOf(element).length === 0) return span;
  return { fromMm: span.fromMm + piecesOnMm(element, 'sky'), toMm: span.toMm - piecesOnMm(element, 'camera') };
}

/** What gaps are taken to hold, mm, by their index. */
export type Fillings = ReadonlyMap<number, number>;

const UNFILLED: Fillings = new Map();

/** What lies along the axis, as it is placed. */
interface Placed {
  spans: Span[];
  dials: (Span | undefined)[];
  joints: Map<number, Span>;
}

/**
 * Stretches what was measured together to the length it was measured at.
 *
 * @param fixedMm place on the axis that stays, mm: its sky end behind the datum, its camera end ahead of it
 */
function stretch({ group, fromIndex, toIndex }: GroupInForce, { spans, dials, joints }: Placed, fixedMm: number): void {
  const longMm = spans[toIndex]!.toMm - spans[fromIndex]!.fromMm;
  const factor = longMm < 1e-9 ? 0 : group.lengthMm / longMm;
  const at = (mm: number): number => fixedMm + (mm - fixedMm) * factor;
  const moved = (span: Span): Span => ({ fromMm: at(span.fromMm), toMm: at(span.toMm) });
  for (let index = fromIndex; index <= toIndex; index++) {
    const [span, dial, joint] = [spans[index], dials[index], joints.get(index)];
    if (span) spans[index] = moved(span);
    if (dial) dials[index] = moved(dial);
    if (joint && index > fromIndex) joints.set(index, moved(joint));
  }
}

/**
 * Places a train along its axis; the sensor lies at exactly the ledger's actual length.
 *
 * @param ledger the ledger of the same train
 * @param fillings what its gaps are taken to hold; nothing where left out
 */
export function axisOf(train: Train, ledger: Ledger, fillings = UNFILLED): Axis {
  const { elements } = train;
  const lengthAt = (index: number): number => fillings.get(index) ?? standingLength(elements[index]!);
  const datum = ledger.datum.index;
  const jointBefore = new Map(ledger.joints.map((joint) => [joint.cameraIndex, joint]));
  const spans: Span[] = Array.from({ length: elements.length });
  const dials: (Span | undefined)[] = Array.from({ length: elements.length });
  const jointSpans = new Map<number, Span>();
  const placed: Placed = { spans, dials, joints: jointSpans };

  /** Shims lie one behind the other from the sky-side shoulder on. */
  const placeShims = (joint: Joint, fromMm: number): void => {
    let at = fromMm;
    for (const shim of joint.shimElements) {
      const toMm = at + lengthOf(shim);
      spans[elements.indexOf(shim)] = { fromMm: at, toMm };
      at = toMm;
    }
  };

  const groupEnds = new Map(ledger.groups.inForce.map((group) => [group.toIndex, group]));
  const groupStarts = new Map(ledger.groups.inForce.map((group) => [group.fromIndex, group]));
  let at = 0;
  const datumElement = elements[datum];
  if (datumElement) {
    const setMm = adjustOf(datumElement)?.setMm;
    const pieceMm = behindDatumMm(datumElement);
    spans[datum] = { fromMm: isSolid(datumElement) ? -lengthOf(datumElement) : 0, toMm: pieceMm };
    if (setMm !== undefined) dials[datum] = { fromMm: pieceMm, toMm: pieceMm + setMm };
    at = pieceMm + (setMm ?? 0);
  }
  for (let index = datum + 1; index < elements.length; index++) {
    const element = elements[index]!;
    if (element.kind === 'shim' || ledger.nested.has(index)) continue;
    const joint = jointBefore.get(index)!;
    placeShims(joint, at);
    jointSpans.set(index, { fromMm: at, toMm: at + joint.openingMm });
    const fromMm = at + joint.openingMm - joint.recessMm;
    const toMm = fromMm + lengthAt(index);
    spans[index] = { fromMm, toMm };
    const setMm = adjustOf(element)?.setMm;
    if (setMm) dials[index] = { fromMm: toMm - setMm, toMm };
    at = toMm;
    const group = groupEnds.get(index);
    if (group) {
      const startMm = spans[group.fromIndex]!.fromMm;
      stretch(group, placed, startMm);
      // Parts without a length of their own cannot be stretched: the last of them takes all of it.
      at = startMm + group.group.lengthMm;
      spans[index] = { ...spans[index]!, toMm: at };
    }
  }
  const sensorMm = at;

  let back = datumElement ? spans[datum]!.fromMm : 0;
  for (let index = datum; index >= 0; index--) {
    const element = elements[index]!;
    if (element.kind === 'shim' || ledger.nested.has(index)) continue;
    if (index !== datum) {
      spans[index] = { fromMm: back - lengthAt(index), toMm: back };
      const group = groupStarts.get(index);
      if (group) {
        const endMm = spans[group.toIndex]!.toMm;
        stretch(group, placed, endMm);
        spans[index] = { ...spans[index]!, fromMm: endMm - group.group.lengthMm };
      }
      back = spans[index]!.fromMm;
    }
    const joint = jointBefore.get(index)!;
    const shoulder = back + joint.recessMm;
    back = shoulder - joint.openingMm;
    jointSpans.set(index, { fromMm: back, toMm: shoulder });
    placeShims(joint, back);
  }

  for (const [index, { holderIndex, face }] of ledger.nested) {
    const holder = spans[holderIndex]!;
    const lengthMm = standingLength(elements[index]!);
    spans[index] =
      face === 'camera'
        ? { fromMm: holder.toMm - lengthMm, toMm: holder.toMm }
        : { fromMm: holder.fromMm, toMm: holder.fromMm + lengthMm };
  }
  return {
    spans: elements.map((_element, index) => spans[index]!),
    bodies: elements.map((element, index) => withoutPieces(element, spans[index]!)),
    dials,
    joints: jointSpans,
    hostFaceMm: back,
    sensorMm
  };
}

/**
 * Front surface of a plate behind its element's sky face, mm: as stated; else in the middle, and nearer the face in a
 * camera, whose window stands before its sensor (common practice, no source).
 */
export const plateFront = (
  kind: Element['kind'],
  lengthMm: number,
  plate: { fromSkyMm?: number | undefined; thicknessMm: number }
): number => plate.fromSkyMm ?? (lengthMm - plate.thicknessMm) * (kind === 'camera' ? 0.35 : 0.5);
