import { portInWords } from '@lodestone/core/joint';
import type { QuickEntry } from '@lodestone/core/drawer';
import type { Display } from '$lib/ui/display.svelte.ts';

type Size = Pick<QuickEntry, 'lengthMm' | 'toleranceMm' | 'glassMm' | 'outerMm'>;

/** Length of what a line asks for; of a filter its diameter and glass. */
export function sizeInWords({ lengthMm, toleranceMm, glassMm, outerMm }: Size, display: Display): string {
  if (glassMm !== undefined) {
    return `${outerMm === undefined ? '' : `${display.length(outerMm, 1)} across, `}${display.length(glassMm)} of glass`;
  }
  return toleranceMm === undefined ? display.length(lengthMm) : display.within(lengthMm, toleranceMm);
}

/** Its faces, as far as they were said; a pitch nobody said is marked. */
export function facesInWords({ sky, camera }: Pick<QuickEntry, 'sky' | 'camera'>): string | undefined {
  const faces = [sky, camera].filter((face) => face !== undefined);
  if (faces.length === 0) return undefined;
  const assumed = faces.some((face) => face.assumed && 'thread' in face) ? ', pitch assumed' : '';
  return `${faces.map(portInWords).join(' → ')}${assumed}`;
}
