import { KINDS, cameraPort, isSolid, skyPort, type Element, type Train } from '@lodestone/core/train';
import { jointName, portInWords, type Joint } from '@lodestone/core/joint';
import type { Finding } from '@lodestone/core/check';

/** Sentences joined for someone who hears them: no stop is said twice. */
const spoken = (words: readonly (string | undefined)[]): string =>
  words
    .filter((each) => each !== undefined && each !== '')
    .map((each) => each!.replace(/[.;\s]+$/, ''))
    .join(', ');

/**
 * What a part of the rail is, in words: name, length and how it is known, kind, faces, faults.
 *
 * @param length of it as shown, with its unit
 * @param faults sentences of what has to be mended
 */
export function partInWords(element: Element, length: string, faults: readonly string[]): string {
  const kind = KINDS[element.kind].words;
  const named = element.name.toLowerCase().includes(kind) ? undefined : kind;
  if (!isSolid(element)) {
    const empty = element.name.toLowerCase().includes('gap') ? 'empty' : 'empty gap';
    return spoken([element.name, empty, ...faultsInWords(faults)]);
  }
  const faces = [
    ['sky', skyPort(element)],
    ['camera', cameraPort(element)]
  ] as const;
  return spoken([
    element.name,
    `${length} ${element.measured === undefined ? 'published' : 'measured'}`,
    named,
    ...faces.map(([side, port]) => {
      if (port) return `${side} face ${portInWords(port)}`;
      return element.kind === 'camera' && side === 'camera' ? undefined : `${side} face not known`;
    }),
    ...faultsInWords(faults)
  ]);
}

/** What a joint of the rail is, in words. */
export const jointInWords = (train: Train, joint: Joint, faults: readonly string[]): string =>
  spoken([
    `Joint ${jointName(train, joint)}`,
    joint.sky && joint.camera ? `${portInWords(joint.sky)} into ${portInWords(joint.camera)}` : undefined,
    ...faultsInWords(faults, 'does not close')
  ]);

/** What has to be mended, by the joint or the part it is at. */
export function faultsById(errors: readonly Finding[], ofJoints: boolean): ReadonlyMap<string, readonly Finding[]> {
  const faults = new Map<string, Finding[]>();
  for (const finding of errors) {
    const { place } = finding;
    if (!('id' in place) || (place.kind === 'joint') !== ofJoints) continue;
    faults.set(place.id, [...(faults.get(place.id) ?? []), finding]);
  }
  return faults;
}

const faultsInWords = (faults: readonly string[], begin = 'fault'): readonly string[] =>
  faults.map((each) => `${begin}: ${each}`);
