import { detachablesOf, faceOfPiece } from './detachable.ts';
import { HOST, type Detachable, type Train } from './model.ts';
import type { Operation } from './operations.ts';

/** A piece that is taken off or put on. */
export interface PieceChange {
  /** Element it belongs to, or `host`. */
  at: string;
  /** As it is before. */
  piece: Detachable;
  /** What the change makes the actual length less the required one longer by, mm. */
  gainMm: number;
  operation: Operation;
}

/** The same pieces with one of them taken off, or put on. @param index of the piece */
export const withPieceTurned = (pieces: readonly Detachable[], index: number): Detachable[] =>
  pieces.map((piece, at) => (at === index ? { ...piece, on: !piece.on } : piece));

/**
 * Every piece that can be taken off or put on, each by itself, where that changes the distance from the datum to the
 * sensor: pieces of the host where it sets the back focus itself, those behind the datum, and what is on the camera
 * side of a corrector.
 *
 * @param datumIndex of the corrector; −1 where the host sets the back focus
 */
export function pieceChanges({ host, elements }: Train, datumIndex: number): PieceChange[] {
  const ofPart = (at: string, pieces: readonly Detachable[], counts: (piece: Detachable) => boolean): PieceChange[] =>
    pieces.flatMap((piece, index): PieceChange[] => {
      if (piece.lengthMm <= 0 || !counts(piece)) return [];
      const operation: Operation = { op: 'set', at, path: ['detachable'], to: withPieceTurned(pieces, index) };
      return [{ at, piece, gainMm: piece.on ? -piece.lengthMm : piece.lengthMm, operation }];
    });
  return [
    ...ofPart(HOST, host.detachable ?? [], () => datumIndex < 0),
    ...elements.flatMap((element, index) =>
      ofPart(
        element.id,
        detachablesOf(element),
        (piece) => index > datumIndex || (index === datumIndex && faceOfPiece(element, piece) === 'camera')
      )
    )
  ];
}
