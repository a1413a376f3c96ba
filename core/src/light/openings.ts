import { minorDiameter } from '../joint/thread.ts';
import { plateFront, type Axis } from '../length/axis.ts';
import { isBehindLenses, isCounted, roleOf } from '../length/glassInBeam.ts';
import { glassShift } from '../length/glass.ts';
import type { Ledger } from '../length/ledger.ts';
import { takenOffMm } from '../train/detachable.ts';
import {
  HOST,
  KINDS,
  cameraPort,
  glassOf,
  isBody,
  isSolid,
  skyPort,
  type Element,
  type Pickoff,
  type Train
} from '../train/model.ts';

/** What an opening is of. */
export type OpeningOf = 'filter' | 'thread' | 'bore' | 'prism' | 'host';

/** An opening of the train, where it stands. */
export interface Opening {
  /** Element id, or `host`. */
  at: string;
  what: OpeningOf;
  slot?: number;
  name?: string;
  /** mm on the axis, from the datum's shoulder: its edge farthest from the sensor. */
  alongMm: number;
  /** Its other edge. */
  toMm: number;
  clearMm: number;
  shape: 'round' | 'square';
  decentreMm: readonly [number, number];
  from: 'stated' | 'thread' | 'guess';
  /** It stands ahead of the corrector, in the beam of the host alone. */
  isAhead: boolean;
}

/** A guide prism in the beam. */
export interface Stalk {
  at: string;
  pickoff: Pickoff;
  /** Sky-side face of the prism, mm on the axis. */
  alongMm: number;
}

const ON_AXIS = [0, 0] as const;

/** Side of a prism that says none, mm, as it is drawn (common practice, no source). */
export const USUAL_PRISM_MM = 8;

/** Share of an outer size that is usually clear (common practice, no source): it only stands in a list. */
const GUESSED_SHARE = 0.82;

/** Every opening of a train, sky side first; those of a filter only where its slot is in the beam. */
export function openingsOf(
  train: Train,
  ledger: Pick<Ledger, 'datum' | 'designSlots' | 'joints'>,
  axis: Axis
): Opening[] {
  const { elements, host } = train;
  const datum = ledger.datum.index;
  const found: Opening[] = [];
  const add = (
    opening: Omit<Opening, 'shape' | 'decentreMm' | 'isAhead'> & Partial<Opening>,
    isAhead: boolean
  ): void => {
    found.push({ shape: 'round', decentreMm: ON_AXIS, isAhead, ...opening });
  };
  // Light is ahead of the corrector as far as the corrector's own face toward the camera, where its beam begins.
  const isAhead = (alongMm: number): boolean => datum >= 0 && alongMm < -1e-9;
  for (const { name, clearMm, behindFaceMm } of host.openings ?? []) {
    const alongMm = axis.hostFaceMm + takenOffMm(host) + behindFaceMm;
    add({ at: HOST, what: 'host', name, alongMm, toMm: alongMm, clearMm, from: 'stated' }, isAhead(alongMm));
  }
  elements.forEach((element, index) => {
    const { fromMm, toMm } = axis.spans[index]!;
    const body = axis.bodies[index]!;
    const stated = isSolid(element) ? element.clearMm : undefined;
    const bore = { at: element.id, what: 'bore', from: 'stated' } as const;
    if (stated !== undefined && index === datum) {
      // Its lenses lie inside: its two faces see two beams.
      add({ ...bore, alongMm: fromMm, toMm: fromMm, clearMm: stated }, true);
      add({ ...bore, alongMm: toMm, toMm, clearMm: stated }, false);
    } else if (stated !== undefined) {
      add({ ...bore, alongMm: fromMm, toMm, clearMm: stated }, isAhead(fromMm));
    }
    for (const plate of glassOf(element) ?? []) {
      const { clearMm, slot, name, thicknessMm } = plate;
      if (clearMm === undefined || (slot !== undefined && slot !== ledger.designSlots.get(element.id))) continue;
      const front = body.fromMm + plateFront(element.kind, body.toMm - body.fromMm, plate);
      add(
        {
          at: element.id,
          what: roleOf(element, plate) === 'filter' ? 'filter' : 'bore',
          alongMm: front,
          toMm: front + thicknessMm,
          clearMm,
          from: 'stated',
          shape: plate.shape ?? 'round',
          decentreMm: (plate.decentreMm as [number, number] | undefined) ?? ON_AXIS,
          ...(slot === undefined ? {} : { slot }),
          ...(name === undefined ? {} : { name })
        },
        isAhead(front) && !(index === datum && isBehindLenses(element, plate))
      );
    }
    if (stated === undefined && isSolid(element) && element.kind !== 'shim' && !hasThread(element)) {
      const clearMm = 2 * KINDS[element.kind].outerRadiusMm * GUESSED_SHARE;
      add({ at: element.id, what: 'bore', alongMm: fromMm, toMm, clearMm, from: 'guess' }, isAhead(fromMm));
    }
  });
  for (const joint of ledger.joints) {
    const thread = joint.pair?.thread;
    const span = axis.joints.get(joint.cameraIndex);
    if (!thread || !span) continue;
    const { fromMm: alongMm } = span;
    const clearMm = minorDiameter(thread);
    add({ at: joint.cameraId, what: 'thread', alongMm, toMm: alongMm, clearMm, from: 'thread' }, isAhead(alongMm));
  }
  return found.sort((a, b) => a.alongMm - b.alongMm);
}

const hasThread = (element: Element): boolean =>
  [skyPort(element), cameraPort(element)].some((port) => port !== undefined && 'thread' in port);

/** Guide prisms of a train that stand behind the corrector. */
export function stalksOf(train: Train, axis: Axis): Stalk[] {
  return train.elements.flatMap((element, index): Stalk[] => {
    const pickoff = isBody(element) ? element.pickoff : undefined;
    return pickoff ? [{ at: element.id, pickoff, alongMm: axis.bodies[index]!.fromMm + pickoff.fromSkyMm }] : [];
  });
}

/**
 * Focus shift of the glass behind a place of the axis that no maker has counted, mm: what makes a physical distance
 * longer than the air-equivalent one.
 */
export function shiftBehind(train: Train, ledger: Ledger, axis: Axis, alongMm: number): number {
  let shift = 0;
  train.elements.forEach((element, index) => {
    const { fromMm, toMm } = axis.bodies[index]!;
    for (const plate of glassOf(element) ?? []) {
      const { slot, thicknessMm } = plate;
      if (thicknessMm <= 0 || isCounted(element, plate)) continue;
      if (slot !== undefined && slot !== ledger.designSlots.get(element.id)) continue;
      const front = fromMm + plateFront(element.kind, toMm - fromMm, plate);
      // Only the glass that lies behind it: of a plate, what is behind its place.
      const behind = Math.min(1, Math.max(0, (front + thicknessMm - alongMm) / thicknessMm));
      shift += behind * glassShift(plate, ledger.rule, ledger.focalRatio);
    }
  });
  return shift;
}
