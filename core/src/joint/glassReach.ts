import { piecesOnMm } from '../train/detachable.ts';
import { bareLengthOf, glassOf, isSolid, type Element } from '../train/model.ts';

/** Front-to-face clearance of glass seen from one face of an element, mm; Infinity where there is none. */
export function glassBehindFace(element: Element | undefined, face: 'sky' | 'camera'): number {
  const plates = element && glassOf(element);
  if (!plates || !isSolid(element)) return Infinity;
  let nearestMm = Infinity;
  for (const { fromSkyMm, thicknessMm } of plates) {
    if (fromSkyMm === undefined) continue;
    nearestMm = Math.min(
      nearestMm,
      piecesOnMm(element, face) + (face === 'sky' ? fromSkyMm : bareLengthOf(element) - fromSkyMm - thicknessMm)
    );
  }
  return nearestMm;
}
