import { piecesOnMm, standingPort } from './detachable.ts';
import type { BodyElement, Cable, CameraElement, Element, GapElement, ShimElement, Train } from './generated/types.ts';

export type {
  Adjust,
  Assembly,
  Attached,
  BayonetPort,
  BodyElement,
  BoltPort,
  ClampPort,
  Cable,
  CameraElement,
  CornerStar,
  Corrector,
  Detachable,
  Element,
  Exposures,
  Fastener,
  Flats,
  FocusAttempt,
  FocusRun,
  Focusing,
  GapElement,
  Framing,
  Gender,
  Glass,
  Group,
  GuideTube,
  Holder,
  Host,
  HostRow,
  InnerPort,
  Measured,
  Mount,
  Neighbour,
  Night,
  Packing,
  Pickoff,
  Port,
  PublishedFigure,
  PublishedLength,
  SagSeries,
  SagTest,
  Seat,
  Sensor,
  TiltPlate,
  TriedSpacing,
  ShimElement,
  SlipPort,
  Source,
  StepDone,
  ThreadPort,
  Train
} from './generated/types.ts';

export {
  ELEMENT_KINDS,
  HOST_KIND_WORDS,
  KINDS,
  KIND_CHOICES,
  canBeMade,
  isElementKind,
  isHostKind,
  type ElementKind,
  type Kind
} from './kinds.ts';
export type GlassRule = NonNullable<Train['glassRule']>;

/** Rules by which glass moves the focus, each with its words. */
export const GLASS_RULES: readonly (readonly [GlassRule, string])[] = [
  ['paraxial', 't (1 − 1/n), near the axis'],
  ['third', 't/3, rule of thumb'],
  ['marginal', 'the marginal ray, outer bound'],
  ['none', 'nothing: not counted']
];

/** An element that has length: everything but a gap. */
export type SolidElement = BodyElement | CameraElement | ShimElement;

/** An element that a joint can end on: everything but a shim, which is inside a joint. */
export type SeatedElement = BodyElement | CameraElement | GapElement;

/** Name that stands for the host where an element id is expected. */
export const HOST = 'host';

/** Number of the drawer's part that an element is, where it has one. */
export const partIdOf = (element: Element): string | undefined => ('partId' in element ? element.partId : undefined);

/**
 * Numbers of the drawer's parts that an element is made of: its own, those of the filters in it, and those of tubes
 * before its guide camera.
 */
export function partIdsOf(element: Element): string[] {
  const filters = 'glass' in element ? (element.glass ?? []) : [];
  const tubes = isBody(element) ? (element.pickoff?.tubes ?? []) : [];
  return [partIdOf(element), ...[...filters, ...tubes].map(({ partId }) => partId)].filter((id) => id !== undefined);
}

/** Copies of each part of the drawer that stand in a train. */
export function standingIn({ elements }: Pick<Train, 'elements'>): Map<string, number> {
  const standing = new Map<string, number>();
  for (const partId of elements.flatMap(partIdsOf)) standing.set(partId, (standing.get(partId) ?? 0) + 1);
  return standing;
}

export const isSolid = (element: Element): element is SolidElement => element.kind !== 'gap';

export const isSeated = (element: Element): element is SeatedElement => element.kind !== 'shim';

export const isShim = (element: Element): element is ShimElement => element.kind === 'shim';

export const isBody = (element: Element): element is BodyElement =>
  element.kind !== 'gap' && element.kind !== 'shim' && element.kind !== 'camera';

export const isCamera = (element: Element): element is CameraElement => element.kind === 'camera';

/** Which way the rows of a train's frames run where a file does not say it; undefined while nobody has said. */
export const rowOrderOf = ({ elements }: Pick<Train, 'elements'>): NonNullable<CameraElement['sensor']>['rowOrder'] =>
  elements.find(isCamera)?.sensor?.rowOrder;

/** A cable, and what it is plugged into: an element, or the host. */
export interface Plugged {
  at: string;
  of: string;
  cable: Cable;
}

/** Every cable of a train: those of the host first. */
export const cablesOf = ({ host, elements }: Pick<Train, 'host' | 'elements'>): Plugged[] => [
  ...(host.cables ?? []).map((cable) => ({ at: HOST, of: host.name, cable })),
  ...elements.flatMap((element) =>
    (isBody(element) || isCamera(element) ? (element.cables ?? []) : []).map((cable) => ({
      at: element.id,
      of: element.name,
      cable
    }))
  )
];

/** The element's corrector data, where it may carry any. */
export const correctorOf = (element: Element) => (isBody(element) ? element.corrector : undefined);

/** What the element's sky face screws to as it stands, where that is known. */
export const skyPort = (element: Element) =>
  isBody(element) || isCamera(element) ? standingPort(element, 'sky', element.sky) : undefined;

/** What the element's camera face screws to as it stands, where that is known. */
export const cameraPort = (element: Element) =>
  isBody(element) ? standingPort(element, 'camera', element.camera) : undefined;

export const seatOf = (element: Element) => (isBody(element) || isCamera(element) ? element.seat : undefined);

export const adjustOf = (element: Element) => (isBody(element) || isCamera(element) ? element.adjust : undefined);

export const glassOf = (element: Element) => (isBody(element) || isCamera(element) ? element.glass : undefined);

/** The element's own length, without what can be taken off it: measured where it exists, else published, mm. */
export const bareLengthOf = (element: SolidElement): number => element.measured?.lengthMm ?? element.lengthMm;

/** What the pieces that are on an element add to its length, mm; a corrector's camera side lies behind its datum. */
export const piecesMm = (element: Element): number =>
  piecesOnMm(element, 'sky') + (correctorOf(element) ? 0 : piecesOnMm(element, 'camera'));

/** The length that counts: measured where it exists, else published, with what is on it, mm. */
export const lengthOf = (element: SolidElement): number => bareLengthOf(element) + piecesMm(element);

/** What stands on a corrector behind its datum shoulder, mm: it counts, though the corrector's own length does not. */
export const behindDatumMm = (element: Element | undefined): number =>
  element && correctorOf(element) ? piecesOnMm(element, 'camera') : 0;

/** No beam is anywhere near as slow: a ratio of what has hardly any aperture stays a number. */
const SLOWEST = 1e6;

/** The host's own focal ratio N = F/D; at most {@link SLOWEST}. */
export const focalRatio = (train: Train): number => Math.min(train.host.focalLengthMm / train.host.apertureMm, SLOWEST);

/** The host's focal ratio as it works: stopped down where that is stated, else {@link focalRatio}. */
export const workingFocalRatio = ({ host }: Pick<Train, 'host'>): number =>
  Math.min(host.workingFRatio ?? host.focalLengthMm / host.apertureMm, SLOWEST);

/** What the owner calls an element, or the host where `id` is {@link HOST}. */
export const nameOf = (train: Train, id: string): string =>
  id === HOST ? train.host.name : (findElement(train, id)?.name ?? id);

export function findElement(train: Train, id: string): Element | undefined {
  return train.elements.find((element) => element.id === id);
}
