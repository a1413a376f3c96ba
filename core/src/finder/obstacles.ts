import type { Part } from '../drawer/part.ts';
import { ledgerOf } from '../length/ledger.ts';
import { residualInWords } from '../why/wording.ts';
import { nameOf, type Train } from '../train/model.ts';
import { isFilling, isUnknownFace } from './task.ts';

/** What stands in the finder's way, said so that it can be mended. */
export interface Obstacle {
  code: 'face-unknown' | 'no-parts' | 'too-long';
  message: string;
  /** Element (or `host`) whose fields mend it. */
  at?: string;
}

/**
 * Why no stack lands inside the tolerance, as far as it lies in what is known: faces beside a gap that are not known,
 * a drawer without rings, a train that is too long before anything goes in.
 *
 * @param parts what the finder may use
 */
export function obstaclesOf(train: Train, parts: readonly Part[]): Obstacle[] {
  const { joints, residualMm, required } = ledgerOf(train);
  const found: Obstacle[] = [];
  const gaps = new Set(train.elements.filter(({ kind }) => kind === 'gap').map(({ id }) => id));
  const ask = (at: string, side: 'camera' | 'sky'): void => {
    found.push({
      code: 'face-unknown',
      message: `The ${side}-side connection of ${nameOf(train, at)} is not specified: say what it screws to, and the drawer can be matched to it.`,
      at
    });
  };
  for (const { skyId, cameraId, sky, camera } of joints) {
    if (gaps.has(cameraId) && !gaps.has(skyId) && isUnknownFace(sky)) ask(skyId, 'camera');
    if (gaps.has(skyId) && !gaps.has(cameraId) && isUnknownFace(camera)) ask(cameraId, 'sky');
  }
  if (gaps.size > 0 && !parts.some(isFilling)) {
    found.push({
      code: 'no-parts',
      message: 'There is no ring, adapter or shim to fill with: put what you own into the drawer.'
    });
  }
  if (residualMm !== null && required.toleranceMm !== null && residualMm > required.toleranceMm) {
    found.push({
      code: 'too-long',
      message: `The train is ${residualInWords(residualMm)} before anything goes in: something has to come out.`
    });
  }
  return found;
}
