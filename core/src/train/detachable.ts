import type { Detachable, Element, Host, Port } from './generated/types.ts';

/** A face of a part. */
export type Face = 'sky' | 'camera';

const NONE: Detachable[] = [];

/** What can be taken off an element, from the outside in. */
export const detachablesOf = (element: Element): readonly Detachable[] =>
  ('detachable' in element ? element.detachable : undefined) ?? NONE;

/** Face of an element that a piece is on: its sky face, of a corrector its camera face, where nothing is stated. */
export const faceOfPiece = (element: Element, { face }: Pick<Detachable, 'face'>): Face =>
  face ?? ('corrector' in element && element.corrector ? 'camera' : 'sky');

/** What can be taken off an element at one of its faces, from the outside in. */
export function piecesAt(element: Element, face: Face): readonly Detachable[] {
  const pieces = detachablesOf(element);
  return pieces.length === 0 ? pieces : pieces.filter((piece) => faceOfPiece(element, piece) === face);
}

/** What the pieces that are on add to an element at one of its faces, mm. */
export function piecesOnMm(element: Element, face: Face): number {
  let sum = 0;
  for (const piece of detachablesOf(element)) {
    if (piece.on && faceOfPiece(element, piece) === face) sum += piece.lengthMm;
  }
  return sum;
}

/** How much nearer the sky a host's camera face lies with what is taken off it, mm. */
export const takenOffMm = ({ detachable = NONE }: Pick<Host, 'detachable'>): number =>
  detachable.reduce((sum, { on, lengthMm }) => (on ? sum : sum + lengthMm), 0);

/**
 * A face as it is with what is off: what the innermost piece that is off leaves bare. A piece whose face is stated and
 * what is under it is not leaves a face that nobody knows.
 *
 * @param own face with everything on
 * @param pieces of this face, from the outside in
 */
function bared(own: Port | undefined, pieces: readonly Detachable[]): Port | undefined {
  const off = pieces.findLast(({ on }) => !on);
  if (!off) return own;
  return off.under ?? (off.face === undefined ? own : undefined);
}

/** Face of an element as it stands: its own, or the one that a piece taken off leaves. */
export const standingPort = (element: Element, face: Face, own: Port | undefined): Port | undefined =>
  bared(own, piecesAt(element, face));

/** Camera face of a host as it stands; undefined where what is under a piece taken off is not known. */
export const hostPort = ({ camera, detachable }: Pick<Host, 'camera' | 'detachable'>): Port | undefined =>
  detachable ? bared(camera, detachable) : camera;
