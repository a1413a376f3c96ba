import type { Joint } from '../joint/joints.ts';
import { parseThread } from '../joint/thread.ts';
import type { GroupInForce } from '../length/groups.ts';
import type { EntryFrom, Ledger } from '../length/ledger.ts';
import {
  KINDS,
  adjustOf,
  cameraPort,
  glassOf,
  isBody,
  isSolid,
  lengthOf,
  skyPort,
  type Element,
  type ElementKind,
  type Port,
  type SolidElement,
  type Train
} from '../train/model.ts';
import { MM_PER_INCH } from '../units.ts';

/** A stretch of the optical axis, mm from the datum element's shoulder, positive toward the camera. */
export interface Span {
  fromMm: number;
  toMm: number;
}

export interface ThreadShape extends Span {
  radiusMm: number;
  pitchMm: number;
}

export interface GlassShape extends Span {
  radiusMm: number;
  name: string;
}

export interface PickoffShape extends Span {
  innerEdgeMm: number;
  stalkMm: number;
}

/** One element as it lies on the rail. */
export interface LayoutItem extends Span {
  id: string;
  kind: ElementKind;
  name: string;
  /** Its length is part of the ledger. */
  counts: boolean;
  outerRadiusMm: number;
  clearRadiusMm: number;
  /** The adjustable part of its length. */
  dial: Span | undefined;
  /** Male threads it carries. */
  threads: ThreadShape[];
  glass: GlassShape[];
  pickoff: PickoffShape | undefined;
  /** Half-diagonal and half-height of the sensor at `toMm`, for a camera. */
  sensor: { halfHeightMm: number; halfWidthMm: number } | undefined;
}

/** A joint as it lies on the rail. */
export interface LayoutJoint extends Span {
  /** Id of the camera-side element, which names the joint. */
  id: string;
  skyId: string;
  joint: Joint;
}

/** One bar of the staircase: a term of the actual length at its place in the sum. */
export interface LayoutStep {
  id: string;
  from: EntryFrom;
  startMm: number;
  endMm: number;
}

/** Where everything lies. The screen, a printed sheet and a table all draw from this. */
export interface Layout {
  items: LayoutItem[];
  joints: LayoutJoint[];
  steps: LayoutStep[];
  /** The host's camera face. */
  hostFaceMm: number;
  hostRadiusMm: number;
  /** Where the sensor is. */
  sensorMm: number;
  /** Where it should be; null where nothing asks for a place. */
  requiredMm: number | null;
  toleranceMm: number | null;
  maxRadiusMm: number;
  /** Everything that is drawn lies within. */
  extent: Span;
}

const INCH = /^(\d+(?:\.\d+)?)\s*(?:in|"|″)$/;

/** Diameter of what a port holds by, mm, where its words say one. */
function portDiameter(port: Port | undefined): number | undefined {
  if (!port) return undefined;
  if ('thread' in port) return parseThread(port.thread)?.diameterMm;
  if ('bolts' in port) return port.bolts.circleMm;
  if ('slip' in port) {
    const inches = INCH.exec(port.slip);
    return inches ? Number(inches[1]) * MM_PER_INCH : undefined;
  }
  return undefined;
}

/** Room between a thread and the edge of the ring that carries it, as drawn, mm. */
const WALL_MM = 2.5;

function outerRadius(element: Element): number {
  const stated = isSolid(element) ? element.outerMm : undefined;
  if (stated !== undefined) return stated / 2;
  const threads = [skyPort(element), cameraPort(element)].map((port) => (portDiameter(port) ?? 0) / 2 + WALL_MM);
  const usual = KINDS[element.kind].outerRadiusMm;
  const known = Math.max(...threads);
  return KINDS[element.kind].ring && known > WALL_MM ? known : Math.max(usual, known);
}

function clearRadius(element: Element, outer: number): number {
  const stated = isSolid(element) ? element.clearMm : undefined;
  if (stated !== undefined) return Math.min(stated / 2, outer);
  const threads = [skyPort(element), cameraPort(element)]
    .map(portDiameter)
    .filter((diameter) => diameter !== undefined)
    .map((diameter) => diameter / 2 - WALL_MM / 2);
  return Math.min(outer * 0.82, ...threads);
}

function maleThread(port: Port | undefined, face: number, direction: 1 | -1): ThreadShape[] {
  if (!port || !('thread' in port) || port.gender !== 'male' || !port.lengthMm) return [];
  const thread = parseThread(port.thread);
  if (!thread) return [];
  const end = face + direction * port.lengthMm;
  return [
    {
      fromMm: Math.min(face, end),
      toMm: Math.max(face, end),
      radiusMm: thread.diameterMm / 2,
      pitchMm: thread.pitchMm
    }
  ];
}

function glassShapes(element: Element, span: Span, clear: number, designSlot: number | undefined): GlassShape[] {
  const plates = (glassOf(element) ?? []).filter(({ slot }) => slot === undefined || slot === designSlot);
  return plates
    .filter(({ thicknessMm }) => thicknessMm > 0)
    .map(({ fromSkyMm, thicknessMm, clearMm, name }) => {
      const middle = (span.toMm - span.fromMm - thicknessMm) * (element.kind === 'camera' ? 0.35 : 0.5);
      const fromMm = span.fromMm + (fromSkyMm ?? middle);
      return { fromMm, toMm: fromMm + thicknessMm, radiusMm: (clearMm ?? clear * 1.8) / 2, name: name ?? 'glass' };
    });
}

function pickoffShape(element: Element, fromMm: number, clear: number): PickoffShape | undefined {
  const pickoff = isBody(element) ? element.pickoff : undefined;
  if (!pickoff) return undefined;
  const side = pickoff.sideMm ?? 8;
  const at = fromMm + pickoff.fromSkyMm;
  return {
    fromMm: at - side / 2,
    toMm: at + side / 2,
    innerEdgeMm: pickoff.innerEdgeMm ?? Math.max(clear - side, 0),
    stalkMm: pickoff.stalkMm ?? 20
  };
}

function itemOf(
  element: Element,
  span: Span,
  { designSlots }: Pick<Ledger, 'designSlots'>,
  counts: boolean,
  dial: Span | undefined
): LayoutItem {
  const outer = outerRadius(element);
  const clear = clearRadius(element, outer);
  const sensor = element.kind === 'camera' ? element.sensor : undefined;
  return {
    ...span,
    id: element.id,
    kind: element.kind,
    name: element.name,
    counts,
    outerRadiusMm: outer,
    clearRadiusMm: clear,
    dial,
    threads: [
      ...maleThread(skyPort(element), span.fromMm, -1),
      ...maleThread(cameraPort(element), dial?.toMm ?? span.toMm, 1)
    ],
    glass: glassShapes(element, span, clear, designSlots.get(element.id)),
    pickoff: pickoffShape(element, span.fromMm, clear),
    sensor: sensor && { halfHeightMm: sensor.heightMm / 2, halfWidthMm: sensor.widthMm / 2 }
  };
}

/** A part drawn on its own: its sky shoulder at 0, as it stands in the drawer. */
export function partShape(element: SolidElement): LayoutItem {
  const toMm = standingLength(element);
  const setMm = adjustOf(element)?.setMm;
  const dial = setMm ? { fromMm: toMm - setMm, toMm } : undefined;
  return itemOf(element, { fromMm: 0, toMm }, { designSlots: new Map() }, true, dial);
}

/** Lengths that come from differences keep this many decimals, mm: finer is the noise of binary sums. */
const SHAPE_DECIMALS = 9;

/** An element's shape whatever its place: its sky shoulder at 0. The same wherever the train around it moves it. */
export function atOrigin(item: LayoutItem): LayoutItem {
  const { fromMm: origin } = item;
  const from = (mm: number): number => Number((mm - origin).toFixed(SHAPE_DECIMALS));
  const moved = <S extends Span>(span: S): S => ({ ...span, fromMm: from(span.fromMm), toMm: from(span.toMm) });
  return {
    ...moved(item),
    dial: item.dial && moved(item.dial),
    threads: item.threads.map(moved),
    glass: item.glass.map(moved),
    pickoff: item.pickoff && moved(item.pickoff)
  };
}

/** How much of a camera's body is drawn behind its sensor, mm. */
export const CAMERA_BODY_BEHIND_MM = 14;

/** How much of the host is drawn before its camera face, mm. */
export const HOST_STUB_MM = 12;

/** Axial length of an element as it stands: its length and what its dial adds, mm. */
const standingLength = (element: Element): number =>
  isSolid(element) ? lengthOf(element) + (adjustOf(element)?.setMm ?? 0) : 0;

/** Stretches what was measured together to the length it was measured at. @returns where it ends, mm */
function stretch(
  { group, fromIndex, toIndex }: GroupInForce,
  spans: Span[],
  dials: (Span | undefined)[],
  joints: Map<number, Span>
): number {
  const startMm = spans[fromIndex]!.fromMm;
  const factor = group.lengthMm / Math.max(spans[toIndex]!.toMm - startMm, 1e-9);
  const moved = (span: Span): Span => ({
    fromMm: startMm + (span.fromMm - startMm) * factor,
    toMm: startMm + (span.toMm - startMm) * factor
  });
  for (let index = fromIndex; index <= toIndex; index++) {
    const [span, dial, joint] = [spans[index], dials[index], joints.get(index)];
    if (span) spans[index] = moved(span);
    if (dial) dials[index] = moved(dial);
    if (joint && index > fromIndex) joints.set(index, moved(joint));
  }
  return startMm + group.lengthMm;
}

/**
 * Lays a train out along its axis; 0 is the shoulder of the element that sets the back focus, and the
 * sensor lies at exactly the ledger's actual length.
 *
 * @param ledger the ledger of the same train
 */
export function layoutOf(train: Train, ledger: Ledger): Layout {
  const { elements } = train;
  const datum = ledger.datum.index;
  const jointBefore = new Map(ledger.joints.map((joint) => [joint.cameraIndex, joint]));
  const spans: Span[] = Array.from({ length: elements.length });
  const dials: (Span | undefined)[] = Array.from({ length: elements.length });
  const jointSpans = new Map<number, Span>();

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
  let at = 0;
  const datumElement = elements[datum];
  if (datumElement) {
    const setMm = adjustOf(datumElement)?.setMm;
    spans[datum] = { fromMm: isSolid(datumElement) ? -lengthOf(datumElement) : 0, toMm: 0 };
    if (setMm !== undefined) dials[datum] = { fromMm: 0, toMm: setMm };
    at = setMm ?? 0;
  }
  for (let index = datum + 1; index < elements.length; index++) {
    const element = elements[index]!;
    if (element.kind === 'shim' || ledger.nested.has(index)) continue;
    const joint = jointBefore.get(index)!;
    placeShims(joint, at);
    jointSpans.set(index, { fromMm: at, toMm: at + joint.openingMm });
    const fromMm = at + joint.openingMm - joint.recessMm;
    const toMm = fromMm + standingLength(element);
    spans[index] = { fromMm, toMm };
    const setMm = adjustOf(element)?.setMm;
    if (setMm) dials[index] = { fromMm: toMm - setMm, toMm };
    at = toMm;
    const group = groupEnds.get(index);
    if (group) at = stretch(group, spans, dials, jointSpans);
  }
  const sensorMm = at;

  let back = datumElement ? spans[datum]!.fromMm : 0;
  for (let index = datum; index >= 0; index--) {
    const element = elements[index]!;
    if (element.kind === 'shim' || ledger.nested.has(index)) continue;
    if (index !== datum) {
      spans[index] = { fromMm: back - standingLength(element), toMm: back };
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

  const items = elements.map((element, index) => itemOf(element, spans[index]!, ledger, index > datum, dials[index]));
  const hostRadiusMm = Math.max((portDiameter(train.host.camera) ?? 60) / 2 + 6, items[0]!.outerRadiusMm * 0.9);
  const maxRadiusMm = Math.max(hostRadiusMm, ...items.map(({ outerRadiusMm }) => outerRadiusMm));

  let sum = 0;
  const steps = ledger.entries.map(({ id, from, mm }) => {
    const startMm = sum;
    sum += mm;
    return { id, from, startMm, endMm: sum };
  });

  const requiredMm = ledger.required.totalMm;
  return {
    items,
    joints: ledger.joints.map((joint) => ({
      ...jointSpans.get(joint.cameraIndex)!,
      id: joint.cameraId,
      skyId: joint.skyId,
      joint
    })),
    steps,
    hostFaceMm: back,
    hostRadiusMm,
    sensorMm,
    requiredMm,
    toleranceMm: ledger.required.toleranceMm,
    maxRadiusMm,
    extent: {
      fromMm: Math.min(back - HOST_STUB_MM, ...items.map(({ fromMm }) => fromMm)),
      toMm: Math.max(sensorMm + CAMERA_BODY_BEHIND_MM, (requiredMm ?? sensorMm) + 4)
    }
  };
}
