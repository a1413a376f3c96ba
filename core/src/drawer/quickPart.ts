import type { SolidElement } from '../train/model.ts';
import { usualName } from './naming.ts';
import type { QuickEntry } from './quickLine.ts';

/** A part as a line asks for it. @param id of the element, or of the part in the drawer @param name instead of the usual one */
export function elementOfEntry(entry: QuickEntry, id: string, name?: string): SolidElement {
  const { kind, lengthMm, toleranceMm, glassMm, outerMm, sky, camera } = entry;
  const figure = String(glassMm ?? lengthMm);
  return {
    id,
    kind,
    name: name ?? usualName(kind, outerMm === undefined ? figure : `${outerMm} × ${figure}`, sky),
    lengthMm,
    ...(toleranceMm === undefined ? {} : { toleranceMm }),
    ...(glassMm === undefined ? {} : { glass: [{ name: 'Filter', thicknessMm: glassMm }] }),
    ...(outerMm === undefined ? {} : { outerMm }),
    ...(kind === 'shim' || !sky ? {} : { sky }),
    ...(kind === 'shim' || kind === 'camera' || !camera ? {} : { camera })
  } as SolidElement;
}
