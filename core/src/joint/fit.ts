import { faceOfPiece } from '../train/detachable.ts';
import {
  bareLengthOf,
  cameraPort,
  glassOf,
  isBody,
  isCamera,
  isShim,
  skyPort,
  type BodyElement,
  type Detachable,
  type Element,
  type Port,
  type ShimElement,
  type SolidElement
} from '../train/model.ts';
import { parseThread } from './thread.ts';
import { facesAlike, mate, type Adapter } from './mate.ts';

/** How well a part goes between two faces. */
export interface Fit {
  /** Both its faces join, or only the one named; `unknown`: a face that is not known is in the way of saying. */
  closes: 'both' | 'sky' | 'camera' | 'unknown';
  /** It has to be turned round for that. */
  reversed: boolean;
}

/** A face seen from the other side: where its thread starts is counted the other way round. */
const fromBehind = <P extends Port>(port: P): P =>
  'thread' in port && port.startDeg !== undefined && port.startDeg !== 0 ? { ...port, startDeg: -port.startDeg } : port;

/** A piece of a part that is turned round: on the other face, which it leaves as bare as before. */
function turnedPiece(element: BodyElement, piece: Detachable): Detachable {
  const face = faceOfPiece(element, piece);
  const under = piece.under ?? (piece.face === undefined ? element[face] : undefined);
  const turned: Detachable = { ...piece, face: face === 'sky' ? 'camera' : 'sky' };
  if (under) turned.under = fromBehind(under);
  return turned;
}

/**
 * A part as it stands turned round: faces swapped, and what is counted from the sky face counted from the other.
 */
export function turnedRound(element: BodyElement): BodyElement {
  const { sky, camera, reversed, glass, pickoff, massAtMm, attached, detachable, ...rest } = element;
  const turned: BodyElement = { ...rest };
  if (camera) turned.sky = fromBehind(camera);
  if (sky) turned.camera = fromBehind(sky);
  if (!reversed) turned.reversed = true;
  if (detachable) turned.detachable = detachable.map((piece) => turnedPiece(element, piece));
  const length = bareLengthOf(element);
  const fromOther = (mm: number): number => Number((length - mm).toFixed(6));
  if (massAtMm !== undefined) turned.massAtMm = Math.max(0, fromOther(massAtMm));
  if (attached) turned.attached = attached.map((each) => ({ ...each, alongMm: fromOther(each.alongMm) }));
  // Of a prism its sky-side face counts.
  if (pickoff) {
    turned.pickoff = { ...pickoff, fromSkyMm: Math.max(0, fromOther(pickoff.fromSkyMm + (pickoff.sideMm ?? 0))) };
  }
  if (glass) {
    turned.glass = glass.map((plate) =>
      plate.fromSkyMm === undefined ? plate : { ...plate, fromSkyMm: fromOther(plate.fromSkyMm + plate.thicknessMm) }
    );
  }
  return turned;
}

type Answer = 'yes' | 'no' | 'unknown';

function joinsAt(sky: Port | undefined, camera: Port | undefined): Answer {
  if (!sky || !camera) return 'unknown';
  const { joins } = mate(sky, camera);
  return joins === true ? 'yes' : joins === 'unknown' ? 'unknown' : 'no';
}

function asItStands(element: Element, above: Port | undefined, below: Port | undefined): Fit['closes'] | undefined {
  const sky = joinsAt(above, skyPort(element));
  const camera = isCamera(element) ? 'yes' : joinsAt(cameraPort(element), below);
  if (sky === 'no' && camera === 'no') return undefined;
  if (sky === 'no') return camera === 'yes' ? 'camera' : undefined;
  if (camera === 'no') return sky === 'yes' ? 'sky' : undefined;
  return sky === 'yes' && camera === 'yes' ? 'both' : 'unknown';
}

/** Whether a shim goes over the male thread of a joint: its bore is known and too small, or it does. */
function clears({ clearMm }: ShimElement, above: Port | undefined, below: Port | undefined): boolean {
  const male = [above, below].find((port) => port && 'thread' in port && port.gender === 'male');
  const thread = male && 'thread' in male ? parseThread(male.thread) : undefined;
  return clearMm === undefined || !thread || clearMm >= thread.diameterMm;
}

const RANK: readonly (Fit['closes'] | undefined)[] = [undefined, 'unknown', 'camera', 'sky', 'both'];

/**
 * Whether a part goes between two faces, as it is or turned round where it may be.
 *
 * @param above camera face of what stands on the sky side; undefined where not known
 * @param below sky face of what stands on the camera side; undefined where not known
 * @returns the better of its two ways; undefined where neither face joins
 */
export function fitAt(element: SolidElement, above: Port | undefined, below: Port | undefined): Fit | undefined {
  if (isShim(element)) return clears(element, above, below) ? { closes: 'both', reversed: false } : undefined;
  const straight = asItStands(element, above, below);
  const round = isBody(element) && element.reversible ? asItStands(turnedRound(element), above, below) : undefined;
  const reversed = RANK.indexOf(round) > RANK.indexOf(straight);
  const closes = reversed ? round : straight;
  return closes && { closes, reversed };
}

/** Whether a part is of the class an adapter names: its faces join the same two. */
export const isSuchAdapter = (element: SolidElement, { sky, camera }: Adapter): boolean => {
  const hasGlass = (glassOf(element) ?? []).length > 0;
  if (!isBody(element) || hasGlass || element.corrector || element.pickoff) return false;
  return (
    (facesAlike(element.sky, sky) && facesAlike(element.camera, camera)) ||
    (element.reversible === true && facesAlike(element.sky, camera) && facesAlike(element.camera, sky))
  );
};
