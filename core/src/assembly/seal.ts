import { detachablesOf } from '../train/detachable.ts';
import { glassOf, isBody, seatOf, type Detachable, type Element, type Port, type Train } from '../train/model.ts';
import type { Joint } from '../joint/joints.ts';

/** What is taken off a part, by name. */
const offOf = (pieces: readonly Detachable[]): string[] => pieces.flatMap(({ on, name }) => (on ? [] : [name]));

/** Which part it is: by its number and copy, else by what it is called; not by what was measured of it. */
function partIn(element: Element): readonly unknown[] {
  const { kind, name } = element;
  const { partId, copy } = element as { partId?: string; copy?: number };
  const off = offOf(detachablesOf(element));
  return [kind, partId ?? name, copy ?? null, isBody(element) && element.reversed === true, ...off];
}

/** A face without its length, which is asked for while the joint is open and changes nothing about it. */
const faceIn = (port: Port | undefined): unknown => {
  if (!port || !('thread' in port)) return port ?? null;
  const { lengthMm: _length, ...face } = port;
  return face;
};

/** A text as a number that hardly two texts share: FNV-1a (Fowler, Noll, Vo), 32 bits from either end. */
export function sealOfText(text: string): string {
  const run = (letters: Iterable<string>): number => {
    let hash = 0x811c9dc5;
    for (const letter of letters) hash = Math.imul(hash ^ letter.codePointAt(0)!, 0x01000193);
    return hash >>> 0;
  };
  return `${run(text).toString(36)}-${run([...text].reverse()).toString(36)}`;
}

/**
 * Fingerprint of a joint as it is closed: the parts on both sides, their faces, shims and turn. A joint that was closed
 * once stays closed while this is the same; a measured length or a dial changes nothing about it.
 */
export function sealOf(
  { elements, host }: Pick<Train, 'elements' | 'host'>,
  { skyIndex, cameraIndex, shimElements, sky, camera }: Joint
): string {
  const seat = seatOf(elements[cameraIndex]!);
  const shims = [...shimElements.map(partIn), ...(seat?.shimsMm ?? [])];
  const before = skyIndex < 0 ? ['host', ...offOf(host.detachable ?? [])] : partIn(elements[skyIndex]!);
  const sides = [before, faceIn(sky), partIn(elements[cameraIndex]!), faceIn(camera)];
  return sealOfText(JSON.stringify([sides, shims, seat?.rotationDeg ?? null]));
}

/** How a step stands: done, or done once and to be done again because what it put together was changed since. */
export type StepState = 'done' | 'changed' | 'to-do';

/** How a step of a train's assembly stands; one that was kept without a fingerprint counts as done. */
export function stepState({ assembly }: Train, { key, seal }: { key: string; seal: string }): StepState {
  const steps = assembly?.steps ?? {};
  const done = Object.hasOwn(steps, key) ? steps[key] : undefined;
  if (!done) return 'to-do';
  return done.as === '' || done.as === seal ? 'done' : 'changed';
}

/** Fingerprint of a holder as it is filled: which glass lies in which slot. */
export const fillSealOf = (element: Element): string =>
  sealOfText(
    JSON.stringify([
      partIn(element),
      (glassOf(element) ?? []).map(({ slot, name, partId, thicknessMm }) => [slot, partId ?? name, thicknessMm])
    ])
  );

/** Fingerprint of everything from the outermost filter to the sensor: what flats stand for (handbook §8). */
export function flatsSealOf({ elements, host }: Train, joints: readonly Joint[]): string {
  const from = elements.findIndex((element) =>
    (glassOf(element) ?? []).some(({ slot, role }) => slot !== undefined || role === 'filter')
  );
  const first = from < 0 ? elements.length - 1 : from;
  const within = joints.filter(({ skyIndex }) => skyIndex >= first);
  // Turning the camera with its wheel does not end them: what lies outside is not looked at.
  return sealOfText(
    JSON.stringify([
      elements.slice(first).map((element) => [partIn(element), fillSealOf(element)]),
      within.map((joint) => sealOf({ elements, host }, joint))
    ])
  );
}
