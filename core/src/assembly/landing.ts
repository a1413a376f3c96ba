import { placedPart, partLength, type Part } from '../drawer/part.ts';
import { GOOD_TURNS } from '../joint/engagement.ts';
import { engagement, jointOpening } from '../joint/seating.ts';
import type { Joint } from '../joint/joints.ts';
import { parseThread } from '../joint/thread.ts';
import { dialOperation, lengthDials } from '../length/dial.ts';
import { isShim, nameOf, seatOf, standingIn, type Train } from '../train/model.ts';
import { apply, type Operation } from '../train/operations.ts';
import { addsError, changed } from '../check/remedies.ts';
import { Assessment } from '../check/report.ts';
import { formatLength, listed, type LengthUnit } from '../why/wording.ts';

/** A change that can still be made before the last joint closes, and where it lands the sensor. */
export interface Landing {
  kind: 'shims' | 'dial';
  /** Joint the shims go into, by its camera-side element; of a dial the element that has it. */
  at: string;
  /** Shims of the drawer, by their numbers; empty where those that lie there now come out. */
  partIds: readonly string[];
  /** Of a dial, mm. */
  setMm?: number;
  residualMm: number;
  within: boolean;
  /** Chance that the true residual is within tolerance; null where nothing is asked for. */
  chance: number | null;
  operation: Operation;
  say: (unit: LengthUnit) => string;
}

/** Shims that are put into one joint together, at the most. */
const MOST_SHIMS = 3;
/** Shims of the drawer that are looked at: those nearest to what is wanted. */
const MOST_KINDS = 24;
/** Ways that are tried at a joint: each costs a whole check. */
const MOST_TRIED = 6;
/** An improvement by less than this is not worth opening a tin for, mm. */
const LEAST_GAIN_MM = 0.015;

interface Stack {
  shims: readonly Part[];
  sumMm: number;
}

/** Every choice of up to three shims, no more of each than there are. */
function stacksOf(shims: readonly Part[]): Stack[] {
  const found: Stack[] = [{ shims: [], sumMm: 0 }];
  const add = (from: number, chosen: readonly Part[], sumMm: number): void => {
    if (chosen.length === MOST_SHIMS) return;
    for (let at = from; at < shims.length; at++) {
      const shim = shims[at]!;
      if (chosen.filter((each) => each === shim).length >= shim.quantity) continue;
      const next = { shims: [...chosen, shim], sumMm: sumMm + partLength(shim) };
      found.push(next);
      add(at, next.shims, next.sumMm);
    }
  };
  add(0, [], 0);
  return found;
}

/** Shims whose hole is known to let the thread of a joint through. */
function fitting({ pair }: Joint, shims: readonly Part[]): Part[] {
  const diameterMm = pair && parseThread(pair.male.thread)?.diameterMm;
  return diameterMm === undefined
    ? []
    : shims.filter(({ element }) => element.clearMm !== undefined && element.clearMm >= diameterMm);
}

const freeId = (train: Train, partId: string, taken: ReadonlySet<string>): string => {
  const has = (id: string): boolean => taken.has(id) || train.elements.some((element) => element.id === id);
  for (let number = 1; ; number++) {
    const id = number === 1 ? partId : `${partId}-${number}`;
    if (!has(id)) return id;
  }
};

/** Takes the shims of the drawer out of a joint and puts others in. */
function exchanged(train: Train, joint: Joint, shims: readonly Part[]): Operation {
  const out = joint.shimElements.filter(({ partId }) => partId !== undefined);
  const bare = apply(train, { op: 'batch', operations: out.map(({ id }): Operation => ({ op: 'remove', id })) });
  const taken = new Set<string>();
  return {
    op: 'batch',
    operations: [
      ...out.map(({ id }): Operation => ({ op: 'remove', id })),
      ...shims.map((part): Operation => {
        const id = freeId(bare, part.partId, taken);
        taken.add(id);
        return { op: 'insert', element: placedPart(part, { id }), before: joint.cameraId };
      })
    ]
  };
}

/**
 * Where the sensor can still be brought before the last joint closes: by a dial, or by shims that are in the drawer, in
 * a joint that is still open in the hand. Each was tried: it adds no error. Best first: within tolerance before not,
 * nearer before farther (to 0.01 mm), fewer pieces before more.
 *
 * @param undone joints that are not closed yet, by their camera-side element
 * @param parts of the drawer that are free to this train
 */
export function landings(assessment: Assessment, undone: readonly string[], parts: readonly Part[]): Landing[] {
  const { train, ledger } = assessment;
  const { residualMm, required, datum } = ledger;
  const { toleranceMm } = required;
  if (residualMm === null || toleranceMm === null) return [];
  const standing = standingIn(train);
  const found: Landing[] = [];
  /** Three turns stay engaged in the joint the shims went into. */
  const holds = (after: Assessment, at: string): boolean => {
    const joint = after.ledger.joints.find(({ cameraId }) => cameraId === at);
    const held = joint && engagement(joint.pair, joint.apartMm);
    return held === undefined || !joint?.pair?.thread || held / joint.pair.thread.pitchMm >= GOOD_TURNS - 1e-9;
  };
  const tell = (landing: Pick<Landing, 'kind' | 'at' | 'partIds' | 'operation' | 'setMm'>, words: string): void => {
    const after = changed(assessment, landing.operation);
    const afterMm = after?.ledger.residualMm;
    if (!after || afterMm === null || afterMm === undefined || addsError(assessment, after)) return;
    if (landing.kind === 'shims' && landing.partIds.length > 0 && !holds(after, landing.at)) return;
    if (Math.abs(afterMm) > Math.abs(residualMm) - LEAST_GAIN_MM) return;
    found.push({
      ...landing,
      residualMm: afterMm,
      within: after.verdict === 'on-spec',
      chance: after.uncertainty.probabilityInTolerance,
      say: (unit) => {
        const off = formatLength(Math.abs(afterMm), unit);
        const where = Math.abs(afterMm) < 0.0005 ? 'exactly right' : `${off} ${afterMm < 0 ? 'short' : 'long'}`;
        return `${words}: then it is ${where}.`;
      }
    });
  };

  for (const dial of lengthDials(train, ledger).filter(({ kind }) => kind !== 'focuser')) {
    const wantedMm = Math.min(dial.maxMm, Math.max(dial.minMm, dial.setMm - residualMm));
    const { stepMm } = dial;
    const steps = stepMm === undefined ? 0 : Math.round((wantedMm - dial.minMm) / stepMm);
    const setMm = Number((stepMm === undefined ? wantedMm : dial.minMm + steps * stepMm).toFixed(4));
    tell(
      { kind: 'dial', at: dial.id, partIds: [], setMm, operation: dialOperation(dial, setMm) },
      dial.kind === 'lock-ring'
        ? `Leave ${formatLength(setMm)} open before ${nameOf(train, dial.id)}`
        : `Set ${nameOf(train, dial.id)} to ${formatLength(setMm)}`
    );
  }

  for (const joint of ledger.joints) {
    const isWithin = joint.cameraIndex > datum.index && undone.includes(joint.cameraId);
    // What was measured together, or as an opening, is known as it is: a shim would not be seen in it.
    if (!isWithin || joint.open || joint.stated || ledger.grouped.has(joint.cameraIndex)) continue;
    const returned = new Map<string, number>();
    for (const { partId } of joint.shimElements) {
      if (partId !== undefined) returned.set(partId, (returned.get(partId) ?? 0) + 1);
    }
    const free = parts.flatMap((part): Part[] => {
      const left = part.quantity - (standing.get(part.partId) ?? 0) + (returned.get(part.partId) ?? 0);
      if (!isShim(part.element) || !part.owned || part.state === 'set-aside' || left <= 0) return [];
      return [{ ...part, quantity: Math.min(left, MOST_SHIMS) }];
    });
    const loose = (seatOf(train.elements[joint.cameraIndex]!)?.shimsMm ?? []).reduce((sum, mm) => sum + mm, 0);
    const own = joint.shimElements
      .filter(({ partId }) => partId === undefined)
      .reduce((sum, shim) => sum + shim.lengthMm, 0);
    const bareMm = residualMm - joint.openingMm;
    const offMm = ({ sumMm }: Stack): number =>
      Math.abs(bareMm + jointOpening(loose + own + sumMm, joint.bottomingMm)) + 1e-6 * sumMm;
    const wanted = Math.max(0, -bareMm - loose - own);
    const kinds = fitting(joint, free)
      .sort((a, b) => Math.abs(partLength(a) - wanted) - Math.abs(partLength(b) - wanted))
      .slice(0, MOST_KINDS);
    const ways = stacksOf(kinds)
      .filter(({ shims }) => shims.length > 0 || returned.size > 0)
      .sort((a, b) => Math.round((offMm(a) - offMm(b)) * 100) || a.shims.length - b.shims.length)
      .slice(0, MOST_TRIED);
    const [sky, camera] = [nameOf(train, joint.skyId), nameOf(train, joint.cameraId)];
    for (const { shims } of ways) {
      const names = shims.map(
        (shim) =>
          `${shim.partId} (${formatLength(partLength(shim))}${shim.location === '' ? '' : `, ${shim.location}`})`
      );
      tell(
        {
          kind: 'shims',
          at: joint.cameraId,
          partIds: shims.map(({ partId }) => partId),
          operation: exchanged(train, joint, shims)
        },
        shims.length === 0
          ? `Take the shims out from between ${sky} and ${camera}`
          : `Put ${listed(names)} between ${sky} and ${camera}`
      );
    }
  }
  const rough = ({ residualMm: mm }: Landing): number => Math.round(Math.abs(mm) * 100);
  return found.sort(
    (a, b) => Number(b.within) - Number(a.within) || rough(a) - rough(b) || a.partIds.length - b.partIds.length
  );
}
