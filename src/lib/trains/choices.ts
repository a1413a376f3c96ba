import { isBody, isCamera, type BodyElement, type CameraElement, type Host } from '@lodestone/core/train';
import { CATALOGUE, LENS_MOUNTS, type Role, type UsualLensMount, type UsualThing } from '@lodestone/core/catalogue';
import { placedPart, type Part } from '@lodestone/core/drawer';
import type { Choice } from '$lib/ui/PickInput.svelte';

const OWN = 'In your drawer';
const USUAL = 'Usual ones, to be checked';

/** Lower case, without marks: `0.8×` and `0,8x` alike. */
const plain = (text: string): string => text.toLowerCase().replaceAll(',', '.').replaceAll('×', 'x').trim();

/** Whether every word that was typed stands in a label or its figures. */
function goesWith(text: string, ...words: readonly string[]): boolean {
  const all = plain(words.join(' '));
  return plain(text)
    .split(/\s+/)
    .every((word) => all.includes(word));
}

const things = (role: Role): readonly UsualThing[] => CATALOGUE.filter((each) => each.role === role);

/** A corrector to begin with: a whole element, or a lens whose own flange sets the back focus. */
export type CorrectorPick =
  { kind: 'element'; element: BodyElement } | { kind: 'lens'; mount: UsualLensMount } | { kind: 'none' };

/** What may set the back focus: correctors of one's own, usual ones, lens mounts, nothing. */
export function correctorChoices(
  text: string,
  parts: readonly Part[],
  hostKind: Host['kind']
): Choice<CorrectorPick>[] {
  const own = parts.flatMap((part): Choice<CorrectorPick>[] => {
    const element = placedPart(part, { id: 'corrector' });
    if (!isBody(element) || !element.corrector) return [];
    const { backFocusMm } = element.corrector;
    const hint = `${part.partId}${backFocusMm === undefined ? '' : `, back focus ${backFocusMm}`}`;
    return [{ id: `own-${part.partId}`, label: element.name, hint, group: OWN, of: { kind: 'element', element } }];
  });
  const usual = things('corrector').flatMap(({ id, words, figures, element }): Choice<CorrectorPick>[] =>
    isBody(element) ? [{ id, label: words, hint: figures, group: USUAL, of: { kind: 'element', element } }] : []
  );
  const lenses = LENS_MOUNTS.map((mount): Choice<CorrectorPick> => ({
    id: mount.id,
    label: mount.words,
    hint: mount.figures,
    group: 'A camera lens sets it by its own flange',
    of: { kind: 'lens', mount }
  }));
  const none: Choice<CorrectorPick> = {
    id: 'none',
    label: 'No back focus required',
    hint: 'no reducer, no flattener',
    group: 'Without',
    of: { kind: 'none' }
  };
  const all = hostKind === 'camera-lens' ? [...own, ...lenses, ...usual, none] : [...own, ...usual, ...lenses, none];
  return all.filter(({ label, hint = '' }) => goesWith(text, label, hint));
}

/** Cameras of one's own, and usual ones by their flange distance. */
export function cameraChoices(text: string, parts: readonly Part[]): Choice<CameraElement>[] {
  const own = parts.flatMap((part): Choice<CameraElement>[] => {
    const element = placedPart(part, { id: 'camera' });
    if (!isCamera(element)) return [];
    const hint = `${part.partId}, ${element.lengthMm} to the sensor`;
    return [{ id: `own-${part.partId}`, label: element.name, hint, group: OWN, of: element }];
  });
  const usual = things('camera').flatMap(({ id, words, figures, element }): Choice<CameraElement>[] =>
    isCamera(element) ? [{ id, label: words, hint: figures, group: USUAL, of: element }] : []
  );
  return [...own, ...usual].filter(({ label, hint = '' }) => goesWith(text, label, hint));
}

/** Telescopes of one's own trains. */
export function hostChoices(text: string, hosts: readonly Host[]): Choice<Host>[] {
  return hosts
    .map((host, index): Choice<Host> => ({
      id: `host-${index}`,
      label: host.name,
      hint: `${host.apertureMm} mm f/${(host.focalLengthMm / host.apertureMm).toFixed(1)}`,
      group: 'In your trains',
      of: host
    }))
    .filter(({ label, hint = '' }) => goesWith(text, label, hint));
}
