import type { Part } from '../drawer/part.ts';
import { lengthDials } from '../length/dial.ts';
import { ledgerOf, type Ledger } from '../length/ledger.ts';
import { nameOf, type GapElement, type Train } from '../train/model.ts';
import { formatLength, listed, residualInWords, type LengthUnit } from '../why/wording.ts';
import { USUAL_THREADS, minorDiameter, parseThread } from '../joint/thread.ts';
import { isFilling, isUnknownFace, taskOf } from './task.ts';

/** What stands in the finder's way, said so that it can be mended. */
export interface Obstacle {
  code: 'face-unknown' | 'no-parts' | 'too-long' | 'gap-limit' | 'too-narrow';
  message: string;
  /** Element (or `host`) whose fields mend it. */
  at?: string;
}

/** Limits of the gaps that leave no room for what is missing, whatever the dials do. */
function limitsInTheWay(train: Train, ledger: Ledger, unit: LengthUnit): Obstacle[] {
  const { residualMm, required, datum } = ledger;
  const gaps = train.elements.filter(
    (element, index): element is GapElement => element.kind === 'gap' && index > datum.index
  );
  const toleranceMm = required.toleranceMm;
  if (residualMm === null || toleranceMm === null || gaps.length === 0) return [];
  const dials = lengthDials(train, ledger);
  const leastMm = -residualMm - toleranceMm - dials.reduce((sum, { maxMm, setMm }) => sum + maxMm - setMm, 0);
  const mostMm = -residualMm + toleranceMm + dials.reduce((sum, { minMm, setMm }) => sum + setMm - minMm, 0);
  const roomMm = gaps.reduce((sum, { maxMm = Infinity }) => sum + maxMm, 0);
  const filledMm = gaps.reduce((sum, { minMm = 0 }) => sum + minMm, 0);
  const tooLittle = roomMm < leastMm - HAIR_MM;
  if (!tooLittle && filledMm <= Math.max(mostMm, 0) + HAIR_MM) return [];
  const limited = gaps.filter(({ minMm, maxMm }) => (tooLittle ? maxMm : minMm) !== undefined);
  const names = listed(limited.map(({ name }) => `“${name}”`));
  const message = tooLittle
    ? `${names} may hold ${formatLength(roomMm, unit)} at the most, but ${formatLength(leastMm, unit)} or more is missing: raise the limit.`
    : `${names} must hold ${formatLength(filledMm, unit)} at the least, but only ${formatLength(Math.max(mostMm, 0), unit)} may go in: lower the limit.`;
  return [{ code: 'gap-limit', message, at: limited[0]!.id }];
}

const HAIR_MM = 1e-6;

/** The narrowest usual thread whose root leaves an opening so wide; undefined where none does. */
function threadFor(clearMm: number): string | undefined {
  const wide = USUAL_THREADS.flatMap(({ designation }) => parseThread(designation) ?? [])
    .filter((thread) => minorDiameter(thread) >= clearMm)
    .sort((a, b) => minorDiameter(a) - minorDiameter(b));
  return wide[0]?.designation;
}

/** Gaps where parts of the drawer are too narrow for the beam, with the opening and the thread that would do. */
function tooNarrow(
  train: Train,
  parts: readonly Part[],
  cornerLight: number | undefined,
  unit: LengthUnit
): Obstacle[] {
  // An opening is not looked for to the hundredth.
  const clear = (mm: number): string => formatLength(mm, unit, unit === 'in' ? 2 : 1);
  const { gaps, groups, beam } = taskOf(train, { parts, cornerLight, unit });
  if (!beam) return [];
  return gaps.flatMap(({ id, narrowestMm }): Obstacle[] => {
    const narrow = groups.filter(({ parts: [part] }) => {
      const element = part!.element;
      return element.kind !== 'shim' && element.clearMm !== undefined && element.clearMm < narrowestMm;
    });
    if (narrow.length === 0) return [];
    const neededMm = beam.neededIn(id);
    const thread = threadFor(neededMm);
    return [
      {
        code: 'too-narrow',
        message: `${narrow.length === 1 ? 'One ring of the drawer takes' : `${narrow.length} kinds of ring in the drawer take`} too much light at “${nameOf(train, id)}”: ${clear(narrowestMm)} clear is the least there, and ${clear(neededMm)} takes nothing${thread === undefined ? '' : `, which ${thread} and wider leave`}.`,
        at: id
      }
    ];
  });
}

/**
 * Why no stack lands inside the tolerance, as far as it lies in what is known: faces beside a gap that are not known,
 * a drawer without rings, a train that is too long before anything goes in, limits of gaps that leave no room.
 *
 * @param parts what the finder may use
 * @param cornerLight share of the light the corners are to get; as the train says where undefined
 */
export function obstaclesOf(train: Train, parts: readonly Part[], unit: LengthUnit, cornerLight?: number): Obstacle[] {
  const ledger = ledgerOf(train);
  const { joints, residualMm, required } = ledger;
  const found: Obstacle[] = [];
  const gaps = new Set(train.elements.filter(({ kind }) => kind === 'gap').map(({ id }) => id));
  const ask = (at: string, side: 'camera' | 'sky'): void => {
    found.push({
      code: 'face-unknown',
      message: `The ${side}-side connection of ${nameOf(train, at)} is not stated: state it to match the drawer to it.`,
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
      message: `The train is ${residualInWords(residualMm, unit)} before anything goes in: something has to come out.`
    });
  } else {
    found.push(...limitsInTheWay(train, ledger, unit), ...tooNarrow(train, parts, cornerLight, unit));
  }
  return found;
}
