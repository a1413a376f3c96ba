import { dialAnswer, dialOperation, dialsTogether, type LengthDial } from '../length/dial.ts';
import { withinTolerance } from '../length/tolerance.ts';
import { jointName } from '../joint/joints.ts';
import { engagement } from '../joint/seating.ts';
import { isBody, nameOf, type Train } from '../train/model.ts';
import { pieceChanges, type PieceChange } from '../train/pieces.ts';
import type { Operation } from '../train/operations.ts';
import { mm } from '../why/quantity.ts';
import {
  formatLength,
  formatTolerance,
  listed,
  residualInWords,
  withArticle,
  type LengthUnit,
  type Verdict
} from '../why/wording.ts';
import type { Facts } from './facts.ts';
import { atElement, type Check, type Proposal } from './finding.ts';

export function verdictOf(residualMm: number | null, toleranceMm: number | null): Verdict {
  if (residualMm === null || toleranceMm === null) return 'free';
  if (withinTolerance(residualMm, toleranceMm)) return 'on-spec';
  return residualMm < 0 ? 'short' : 'long';
}

/** A piece taken off or put on, without the full stop: `Take the nose (11.00 mm) off Camera`. */
export function pieceInWords(train: Train, { at, piece }: PieceChange, unit: LengthUnit): string {
  const what = `${withArticle(piece.name)} (${formatLength(piece.lengthMm, unit)})`;
  const kept = piece.on || piece.keptAt === undefined ? '' : `, kept at ${piece.keptAt}`;
  return piece.on ? `Take ${what} off ${nameOf(train, at)}` : `Put ${what} on ${nameOf(train, at)}${kept}`;
}

/** What is left of the residual after a change, as the end of a sentence. */
const leaving = (toleranceMm: number, residualMm: number | null, unit: LengthUnit): string =>
  residualMm === null || withinTolerance(residualMm, toleranceMm)
    ? '.'
    : `: that leaves it ${residualInWords(residualMm, unit)}.`;

/** How a lock ring is turned: by how much, how many turns that is, what stays engaged. */
function unscrewed({ train, joints }: Facts, dial: LengthDial, setMm: number, unit: LengthUnit): string {
  const joint = joints.find(({ cameraId }) => cameraId === dial.id)!;
  const pitchMm = joint.pair?.thread?.pitchMm ?? 1;
  const by = setMm - dial.setMm;
  const held = engagement(joint.pair, setMm) ?? 0;
  return `${by > 0 ? 'Unscrew' : 'Screw in'} the lock-ring thread ${jointName(train, joint)} by ${formatLength(Math.abs(by), unit)} (${(Math.abs(by) / pitchMm).toFixed(1)} turns; ${formatLength(held, unit)} stay engaged)`;
}

/** How a dial is to be set, without the full stop. */
function turnedInWords(facts: Facts, dial: LengthDial, setMm: number, unit: LengthUnit): string {
  const name = nameOf(facts.train, dial.id);
  switch (dial.kind) {
    case 'lock-ring':
      return unscrewed(facts, dial, setMm, unit);
    case 'focuser':
      return `Leave ${name} at ${formatLength(setMm, unit)}, and focus with the mirror or the sky-side focuser`;
    case 'marked':
      return `Set ${name} to ${formatLength(setMm, unit)}`;
  }
}

function dialProposals(facts: Facts): Proposal[] {
  const { train, ledger, dials } = facts;
  const toleranceMm = ledger.required.toleranceMm ?? 0;
  const proposals: Proposal[] = [];
  const best = dialAnswer(train, ledger);
  const dial =
    best && dials.find(({ id, kind }) => id === best.id && (kind === 'lock-ring') === (best.lockRing === true));
  if (best && dial) {
    const { setMm } = best;
    proposals.push({
      action: (unit) => (dial.kind === 'lock-ring' ? 'Set the lock ring' : `Set it to ${formatLength(setMm, unit)}`),
      sentence: (unit, residualMm) =>
        `${turnedInWords(facts, dial, setMm, unit)}${leaving(toleranceMm, residualMm, unit)}`,
      operation: dialOperation(dial, setMm)
    });
  }
  const together = dialsTogether(train, ledger);
  if (together && (!best || !withinTolerance(best.missMm, toleranceMm))) {
    const turned = together.settings.filter(({ dial: each, setMm }) => Math.abs(each.setMm - setMm) > 1e-6);
    if (turned.length > 1) {
      const words = (unit: LengthUnit): string =>
        listed(turned.map(({ dial: each, setMm }) => `${nameOf(train, each.id)} to ${formatLength(setMm, unit)}`));
      proposals.push({
        action: () => 'Set them',
        sentence: (unit, residualMm) => `Set ${words(unit)}${leaving(toleranceMm, residualMm, unit)}`,
        operation: {
          op: 'batch',
          operations: turned.map(({ dial: each, setMm }): Operation => dialOperation(each, setMm))
        }
      });
    }
  }
  return proposals;
}

/** Removable parts that may come off a train that is too long; loose shims as well. */
function removals({ train, ledger }: Facts): Proposal[] {
  const { residualMm, required, datum } = ledger;
  const toleranceMm = required.toleranceMm ?? 0;
  if ((residualMm ?? 0) <= 0) return [];
  return train.elements.flatMap((element, index): Proposal[] => {
    if (!isBody(element) || !element.removable || index <= datum.index) return [];
    return [
      {
        action: () => `Remove ${element.name}`,
        sentence: (unit, after) =>
          after !== null && withinTolerance(after, toleranceMm)
            ? `Without ${element.name} (${formatLength((residualMm ?? 0) - after, unit)}) it is within tolerance.`
            : `Remove ${element.name}${leaving(toleranceMm, after, unit)}`,
        operation: { op: 'remove', id: element.id }
      }
    ];
  });
}

/** What can be taken off a part or put on it, where that brings the sensor nearer. */
function pieceProposals(facts: Facts): Proposal[] {
  const { train, ledger } = facts;
  const toleranceMm = ledger.required.toleranceMm ?? 0;
  return pieceChanges(train, ledger.datum.index)
    .filter(({ gainMm }) => gainMm * (ledger.residualMm ?? 0) < 0)
    .map((change): Proposal => ({
      action: (unit) => pieceInWords(train, change, unit),
      sentence: (unit, residualMm) => `${pieceInWords(train, change, unit)}${leaving(toleranceMm, residualMm, unit)}`,
      operation: change.operation
    }));
}

/** Whether the sensor stands where it should, and what would bring it there. */
export const length: Check = {
  id: 'length',
  title: 'Length',
  fine: ({ ledger }) =>
    ledger.required.totalMm === null ? 'No back focus required: any length that reaches focus works.' : undefined,
  codes: ['length'],
  find: (facts) => {
    const { residualMm, required, datum } = facts.ledger;
    const verdict = verdictOf(residualMm, required.toleranceMm);
    if (residualMm === null || required.toleranceMm === null) return [];
    if (verdict === 'on-spec' && facts.hasEmptyPlace) {
      return [
        {
          code: 'length',
          level: 'not-known',
          place: atElement(datum.id),
          say: () => 'Length not known: a gap that has to hold something is empty.'
        }
      ];
    }
    return [
      {
        code: 'length',
        level: verdict === 'on-spec' ? 'passed' : 'error',
        place: atElement(datum.id),
        figure: mm(residualMm),
        limit: mm(required.toleranceMm),
        why: 'length.residual',
        badness: Math.abs(residualMm),
        say: (unit) =>
          verdict === 'on-spec'
            ? `The sensor is within ±${formatTolerance(required.toleranceMm ?? 0, unit)} of the back focus required.`
            : `The train is ${residualInWords(residualMm, unit)}.`,
        proposals: () =>
          verdict === 'on-spec' ? [] : [...dialProposals(facts), ...pieceProposals(facts), ...removals(facts)]
      }
    ];
  }
};

/** What is to be said of a train that is off where no single change mends it. */
export function lengthInWords(facts: Facts, unit: LengthUnit): { sentence: string; at?: string; cause?: true } {
  const { train, ledger } = facts;
  const residualMm = ledger.residualMm ?? 0;
  const toleranceMm = ledger.required.toleranceMm ?? 0;
  const size = formatLength(Math.abs(residualMm), unit);
  if (residualMm > 0) {
    const bottomed = ledger.joints.find(
      ({ cameraIndex, bottomingMm, shimsMm, stated, open }) =>
        !open &&
        !stated &&
        cameraIndex > ledger.datum.index &&
        bottomingMm > shimsMm &&
        withinTolerance(residualMm - (bottomingMm - shimsMm), toleranceMm)
    );
    const pair = bottomed?.pair;
    if (bottomed && pair?.male.lengthMm !== undefined) {
      const [deep, long] = [pair.male.lengthMm, pair.female.lengthMm ?? 0].map((each) => formatLength(each, unit));
      return {
        sentence: `The excess is the thread that bottoms out between ${nameOf(train, bottomed.skyId)} and ${nameOf(train, bottomed.cameraId)}: use a female at least ${deep} deep, or a male of at most ${long}.`,
        at: bottomed.cameraId,
        cause: true
      };
    }
    return { sentence: `Remove ${size}.` };
  }
  const gap = findGap(train, ledger.datum.index);
  if (!gap) return { sentence: `Add ${size} of length at a joint.` };
  const travel = facts.dials
    .filter(({ kind }) => kind !== 'focuser')
    .map(({ minMm, maxMm, setMm }) => [maxMm - setMm, setMm - minMm] as const);
  const least = Math.max(0, -residualMm - travel.reduce((sum, [up]) => sum + up, 0));
  const most = -residualMm + travel.reduce((sum, [, down]) => sum + down, 0);
  const amount = travel.length === 0 ? size : `${formatLength(least, unit)} to ${formatLength(most, unit)}`;
  return { sentence: `Add ${amount} of spacers in “${gap.name}”.`, at: gap.id };
}

const findGap = ({ elements }: Train, datumIndex: number) =>
  elements.find(({ kind }, index) => kind === 'gap' && index > datumIndex);
