import { lockTravel } from '../joint/seating.ts';
import { adjustOf, findElement, type Train } from '../train/model.ts';
import type { Operation } from '../train/operations.ts';
import { toMm, toUnits } from '../units.ts';
import type { Ledger } from './ledger.ts';
import { dialOf, nearestSetting, settle, strain, type Dial } from './settle.ts';

/** An adjustable length of a train that counts: a marked dial, or a joint held by a lock ring. */
export interface LengthDial {
  /** Element that has it; of a lock ring the element on the joint's camera side. */
  id: string;
  kind: 'marked' | 'lock-ring' | 'focuser';
  minMm: number;
  maxMm: number;
  setMm: number;
  stepMm: number | undefined;
}

/** The setting of an adjustable part that would bring the residual to zero. */
export interface DialAnswer {
  id: string;
  /** Absolute setting, rounded to the step and clamped to the range, mm. */
  setMm: number;
  /** Whether the setting lay in the range before clamping. */
  reachable: boolean;
  /** Residual that remains at `setMm`, mm: positive too long, negative too short. */
  missMm: number;
  /** It is the opening of the joint on the element's sky side, held by a lock ring. */
  lockRing?: true;
}

/** A nanometre: far below any length here, far above the rounding noise of a sum. */
const NOISE_MM = 1e-6;
const tidy = (mm: number): number => Number((Math.round(mm / NOISE_MM) * NOISE_MM).toFixed(6));

/**
 * Everything that can be turned to make a train longer or shorter: dials on the camera side of the datum, a
 * corrector's own included, and long threads with a lock ring. What was measured together stays as it is.
 */
export function lengthDials(train: Train, { datum, joints, grouped, nested }: Ledger): LengthDial[] {
  const found: LengthDial[] = [];
  for (const joint of joints) {
    if (joint.open || joint.cameraIndex <= datum.index || grouped.has(joint.cameraIndex)) continue;
    const travel = lockTravel(joint.pair, joint.shimsMm);
    if (!travel) continue;
    found.push({ id: joint.cameraId, kind: 'lock-ring', ...travel, setMm: joint.openingMm, stepMm: undefined });
  }
  for (let index = Math.max(datum.index, 0); index < train.elements.length; index++) {
    const element = train.elements[index]!;
    const adjust = adjustOf(element);
    if (!adjust || grouped.has(index) || nested.has(index)) continue;
    const { minMm, maxMm, setMm, stepMm } = adjust;
    const kind = element.kind === 'focuser' ? 'focuser' : 'marked';
    found.push({ id: element.id, kind, minMm, maxMm, setMm, stepMm });
  }
  return found;
}

const inUnits = (dial: LengthDial): Dial =>
  dialOf(dial.stepMm === undefined ? withoutStep(dial) : { ...dial, stepMm: dial.stepMm });
const withoutStep = ({ minMm, maxMm }: LengthDial): { minMm: number; maxMm: number } => ({ minMm, maxMm });

function answer(dial: LengthDial, residualMm: number): DialAnswer {
  const wanted = dial.setMm - residualMm;
  const units = inUnits(dial);
  const setMm = tidy(
    dial.stepMm === undefined
      ? Math.min(dial.maxMm, Math.max(dial.minMm, tidy(wanted)))
      : toMm(nearestSetting(units, toUnits(wanted)))
  );
  const inRange = wanted >= dial.minMm - NOISE_MM && wanted <= dial.maxMm + NOISE_MM;
  const rounded =
    dial.stepMm === undefined ? wanted : dial.minMm + Math.round((wanted - dial.minMm) / dial.stepMm) * dial.stepMm;
  const roundsInto = rounded >= dial.minMm - NOISE_MM && rounded <= dial.maxMm + NOISE_MM;
  return {
    id: dial.id,
    setMm,
    reachable: inRange || roundsInto,
    missMm: tidy(residualMm + setMm - dial.setMm),
    ...(dial.kind === 'lock-ring' ? { lockRing: true as const } : {})
  };
}

/** A dial made for it first, then a lock ring, which has to be measured; a focuser has focusing to do. */
const LAST: Readonly<Record<LengthDial['kind'], number>> = { marked: 0, 'lock-ring': 1, focuser: 2 };

const wholeUm = (mm: number): number => Math.round(Math.abs(mm) * 1000);

/** The dial to turn: the one that lands nearest to zero. Null where there is none or nothing is asked for. */
export function dialAnswer(train: Train, ledger: Ledger): DialAnswer | null {
  const { residualMm } = ledger;
  if (residualMm === null) return null;
  const ranked = lengthDials(train, ledger)
    .map((dial) => ({ dial, answer: answer(dial, residualMm) }))
    .sort(
      (a, b) =>
        LAST[a.dial.kind] - LAST[b.dial.kind] ||
        wholeUm(a.answer.missMm) - wholeUm(b.answer.missMm) ||
        Number(b.answer.reachable) - Number(a.answer.reachable) ||
        strainOf(a.dial, a.answer) - strainOf(b.dial, b.answer)
    );
  const nearest = ranked.reduce<(typeof ranked)[number] | undefined>(
    (best, each) => (!best || wholeUm(each.answer.missMm) < wholeUm(best.answer.missMm) ? each : best),
    undefined
  );
  return nearest?.answer ?? null;
}

const strainOf = (dial: LengthDial, { setMm }: DialAnswer): number => strain([inUnits(dial)], [toUnits(setMm)]);

/** Where several dials stand together, and what remains, mm. */
export interface DialsTogether {
  settings: { dial: LengthDial; setMm: number }[];
  missMm: number;
}

/** All dials of a train set together so that they come nearest to what is asked for; focusers stay as they are. */
export function dialsTogether(train: Train, ledger: Ledger): DialsTogether | null {
  const { residualMm } = ledger;
  const dials = lengthDials(train, ledger).filter(({ kind }) => kind !== 'focuser');
  if (residualMm === null || dials.length < 2) return null;
  const setNow = dials.reduce((sum, { setMm }) => sum + setMm, 0);
  const { set } = settle(dials.map(inUnits), toUnits(setNow - residualMm));
  const settings = dials.map((dial, index) => ({ dial, setMm: toMm(set[index]!) }));
  const setThen = settings.reduce((sum, { setMm }) => sum + setMm, 0);
  return { settings, missMm: tidy(residualMm + setThen - setNow) };
}

/** The change of the document that sets a dial. */
export const dialOperation = (dial: Pick<LengthDial, 'id' | 'kind'>, setMm: number): Operation => ({
  op: 'set',
  at: dial.id,
  path: dial.kind === 'lock-ring' ? ['seat', 'gapMm'] : ['adjust', 'setMm'],
  to: setMm
});

/** Settings of a focuser behind the corrector between which the spacing stays in tolerance, mm. */
export interface FocuserWindow {
  id: string;
  rightMm: number;
  fromMm: number;
  toMm: number;
  setMm: number;
  inside: boolean;
}

/**
 * A focuser with a scale behind the corrector: where its spacing is right, and between which settings it stays within
 * tolerance. At 11.05 the spacing is right; between 9.55 and 12.55 it stays inside ±1.5 (handbook §3).
 */
export function focuserWindows(train: Train, ledger: Ledger): FocuserWindow[] {
  const { residualMm, required } = ledger;
  const toleranceMm = required.toleranceMm;
  if (residualMm === null || toleranceMm === null) return [];
  return lengthDials(train, ledger)
    .filter(({ id, kind }) => kind === 'focuser' && findElement(train, id) !== undefined)
    .map(({ id, minMm, maxMm, setMm }) => {
      const rightMm = tidy(setMm - residualMm);
      const fromMm = Math.max(minMm, tidy(rightMm - toleranceMm));
      const toMm = Math.min(maxMm, tidy(rightMm + toleranceMm));
      return { id, rightMm, fromMm, toMm, setMm, inside: setMm >= fromMm - NOISE_MM && setMm <= toMm + NOISE_MM };
    });
}
