import type { Joint } from '../joint/joints.ts';
import { parseThread } from '../joint/thread.ts';
import { axisOf, plateFront, standingLength, withoutPieces, type Span } from '../length/axis.ts';
import type { EntryFrom, Ledger } from '../length/ledger.ts';
import {
  KINDS,
  adjustOf,
  behindDatumMm,
  cameraPort,
  glassOf,
  isBody,
  isSolid,
  skyPort,
  type Detachable,
  type Element,
  type ElementKind,
  type Port,
  type SolidElement,
  type Train
} from '../train/model.ts';
import { hostPort, piecesAt } from '../train/detachable.ts';
import { MM_PER_INCH } from '../units.ts';

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

/** What can be taken off a part or a host: where it is, or where it would be. */
export interface PieceShape extends Span {
  name: string;
  on: boolean;
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
  pieces: PieceShape[];
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
  /** What is taken off the host. */
  hostPieces: PieceShape[];
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

/** The scale on which trains compare: all of each lies within, and the widest is no wider. */
export const commonScale = (layouts: readonly Layout[]): Span & { maxRadiusMm: number } => ({
  fromMm: Math.min(...layouts.map(({ extent }) => extent.fromMm)),
  toMm: Math.max(...layouts.map(({ extent }) => extent.toMm)),
  maxRadiusMm: Math.max(...layouts.map(({ maxRadiusMm }) => maxRadiusMm))
});

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
    .map((plate) => {
      const { thicknessMm, clearMm, name } = plate;
      const fromMm = span.fromMm + plateFront(element.kind, span.toMm - span.fromMm, plate);
      return { fromMm, toMm: fromMm + thicknessMm, radiusMm: (clearMm ?? clear * 1.8) / 2, name: name ?? 'glass' };
    });
}

function pickoffShape(element: Element, fromMm: number, clear: number): PickoffShape | undefined {
  const pickoff = isBody(element) ? element.pickoff : undefined;
  if (!pickoff) return undefined;
  const side = pickoff.sideMm ?? 8;
  const at = fromMm + pickoff.fromSkyMm;
  return {
    // Where the prism's sky-side face stands is what is stated.
    fromMm: at,
    toMm: at + side,
    innerEdgeMm: pickoff.innerEdgeMm ?? Math.max(clear - side, 0),
    stalkMm: pickoff.stalkMm ?? 20
  };
}

/**
 * Pieces of one face, from the outside in: those that are on reach into the part's length, those that are off stand
 * before the face one behind the other.
 *
 * @param inward +1 where the part lies toward the camera, −1 where it lies toward the sky
 */
function pieceShapes(pieces: readonly Detachable[], faceMm: number, inward: 1 | -1): PieceShape[] {
  let [onMm, offMm] = [faceMm, faceMm];
  const along = (name: string, on: boolean, a: number, b: number): PieceShape => ({
    name,
    on,
    fromMm: Math.min(a, b),
    toMm: Math.max(a, b)
  });
  const on = pieces
    .filter((piece) => piece.on)
    .map(({ name, lengthMm }) => along(name, true, onMm, (onMm += inward * lengthMm)));
  const off = pieces
    .filter((piece) => !piece.on)
    .toReversed()
    .map(({ name, lengthMm }) => along(name, false, offMm, (offMm -= inward * lengthMm)));
  return [...on, ...off].filter(({ fromMm, toMm }) => toMm > fromMm);
}

/** Pieces of an element as they lie on the rail. @param span with what is on it */
const piecesOf = (element: Element, { fromMm, toMm }: Span): PieceShape[] => [
  ...pieceShapes(piecesAt(element, 'sky'), fromMm, 1),
  ...pieceShapes(piecesAt(element, 'camera'), toMm, -1)
];

function itemOf(
  element: Element,
  span: Span,
  { designSlots }: Pick<Ledger, 'designSlots'>,
  counts: boolean,
  dial: Span | undefined,
  body: Span
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
    glass: glassShapes(element, body, clear, designSlots.get(element.id)),
    pieces: piecesOf(element, span),
    pickoff: pickoffShape(element, body.fromMm, clear),
    sensor: sensor && { halfHeightMm: sensor.heightMm / 2, halfWidthMm: sensor.widthMm / 2 }
  };
}

/** A part drawn on its own: its sky shoulder at 0, as it stands in the drawer. */
export function partShape(element: SolidElement): LayoutItem {
  const toMm = standingLength(element) + behindDatumMm(element);
  const setMm = adjustOf(element)?.setMm;
  const dial = setMm ? { fromMm: toMm - setMm, toMm } : undefined;
  const span = { fromMm: 0, toMm };
  return itemOf(element, span, { designSlots: new Map() }, true, dial, withoutPieces(element, span));
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
    pieces: item.pieces.map(moved),
    pickoff: item.pickoff && moved(item.pickoff)
  };
}

/** How much of a camera's body is drawn behind its sensor, mm. */
export const CAMERA_BODY_BEHIND_MM = 14;

/** How much of the host is drawn before its camera face, mm. */
export const HOST_STUB_MM = 12;

/**
 * Lays a train out along its axis; 0 is the shoulder of the element that sets the back focus, and the
 * sensor lies at exactly the ledger's actual length.
 *
 * @param ledger the ledger of the same train
 * @param axis the same train's, where it is known already
 */
export function layoutOf(train: Train, ledger: Ledger, axis = axisOf(train, ledger)): Layout {
  const { elements } = train;
  const datum = ledger.datum.index;
  const { spans, bodies, dials, joints: jointSpans, hostFaceMm: back, sensorMm } = axis;

  const items = elements.map((element, index) =>
    itemOf(element, spans[index]!, ledger, index > datum, dials[index], bodies[index]!)
  );
  const hostRadiusMm = Math.max((portDiameter(hostPort(train.host)) ?? 60) / 2 + 6, items[0]!.outerRadiusMm * 0.9);
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
    hostPieces: pieceShapes(train.host.detachable ?? [], back, -1).filter(({ on }) => !on),
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
