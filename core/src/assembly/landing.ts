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

/** A way to bring the sensor nearer, before it is tried. */
interface Way {
  kind: Landing['kind'];
  at: string;
  partIds: readonly string[];
  setMm?: number;
  operation: Operation;
  /** What is done, as an order. */
  act: (unit: LengthUnit) => string;
}

/** Each dial of the train but the focuser’s, turned as far toward the sensor’s place as it goes. */
function* byDial({ train, ledger }: Assessment, residualMm: number): Generator<Way> {
  for (const dial of lengthDials(train, ledger).filter(({ kind }) => kind !== 'focuser')) {
    const wantedMm = Math.min(dial.maxMm, Math.max(dial.minMm, dial.setMm - residualMm));
    const { stepMm } = dial;
    const steps = stepMm === undefined ? 0 : Math.round((wantedMm - dial.minMm) / stepMm);
    const setMm = Number((stepMm === undefined ? wantedMm : dial.minMm + steps * stepMm).toFixed(4));
    const name = nameOf(train, dial.id);
    yield {
      kind: 'dial',
      at: dial.id,
      partIds: [],
      setMm,
      operation: dialOperation(dial, setMm),
      act: (unit) =>
        dial.kind === 'lock-ring'
          ? `Leave ${formatLength(setMm, unit)} open before ${name}`
          : `Set ${name} to ${formatLength(setMm, unit)}`
    };
  }
}

/** Shims of the drawer that can go into a joint: what is free, and what lies there now and comes out. */
function freeShims(parts: readonly Part[], joint: Joint, standing: ReadonlyMap<string, number>) {
  const returned = new Map<string, number>();
  for (const { partId } of joint.shimElements) {
    if (partId !== undefined) returned.set(partId, (returned.get(partId) ?? 0) + 1);
  }
  const free = parts.flatMap((part): Part[] => {
    const left = part.quantity - (standing.get(part.partId) ?? 0) + (returned.get(part.partId) ?? 0);
    if (!isShim(part.element) || !part.owned || part.state === 'set-aside' || left <= 0) return [];
    return [{ ...part, quantity: Math.min(left, MOST_SHIMS) }];
  });
  return { free: fitting(joint, free), comesOut: returned.size > 0 };
}

const inWords = (shim: Part, unit: LengthUnit): string => {
  const where = shim.location === '' ? '' : `, ${shim.location}`;
  return `${shim.partId} (${formatLength(partLength(shim), unit)}${where})`;
};

/** The stacks of shims that land the sensor nearest, in one joint. */
function* byShims(
  { train }: Assessment,
  joint: Joint,
  residualMm: number,
  parts: readonly Part[],
  standing: ReadonlyMap<string, number>
): Generator<Way> {
  const { free, comesOut } = freeShims(parts, joint, standing);
  const loose = (seatOf(train.elements[joint.cameraIndex]!)?.shimsMm ?? []).reduce((sum, mm) => sum + mm, 0);
  const own = joint.shimElements
    .filter(({ partId }) => partId === undefined)
    .reduce((sum, shim) => sum + shim.lengthMm, 0);
  const bareMm = residualMm - joint.openingMm;
  const offMm = ({ sumMm }: Stack): number =>
    Math.abs(bareMm + jointOpening(loose + own + sumMm, joint.bottomingMm)) + 1e-6 * sumMm;
  const wanted = Math.max(0, -bareMm - loose - own);
  const kinds = free
    .sort((a, b) => Math.abs(partLength(a) - wanted) - Math.abs(partLength(b) - wanted))
    .slice(0, MOST_KINDS);
  const stacks = stacksOf(kinds)
    .filter(({ shims }) => shims.length > 0 || comesOut)
    .sort((a, b) => Math.round((offMm(a) - offMm(b)) * 100) || a.shims.length - b.shims.length)
    .slice(0, MOST_TRIED);
  const between = `between ${nameOf(train, joint.skyId)} and ${nameOf(train, joint.cameraId)}`;
  for (const { shims } of stacks) {
    yield {
      kind: 'shims',
      at: joint.cameraId,
      partIds: shims.map(({ partId }) => partId),
      operation: exchanged(train, joint, shims),
      act: (unit) =>
        shims.length === 0
          ? `Remove the shims from ${between}`
          : `Put ${listed(shims.map((shim) => inWords(shim, unit)))} ${between}`
    };
  }
}

/** Three turns stay engaged in the joint that shims went into. */
function holds({ ledger }: Assessment, at: string): boolean {
  const joint = ledger.joints.find(({ cameraId }) => cameraId === at);
  const held = joint && engagement(joint.pair, joint.apartMm);
  return held === undefined || !joint?.pair?.thread || held / joint.pair.thread.pitchMm >= GOOD_TURNS - 1e-9;
}

/** Tries a way. @returns where it lands the sensor; undefined where it adds an error, or is not worth it */
function tried(assessment: Assessment, residualMm: number, { act, ...way }: Way): Landing | undefined {
  const after = changed(assessment, way.operation);
  const afterMm = after?.ledger.residualMm;
  if (!after || afterMm === null || afterMm === undefined || addsError(assessment, after)) return undefined;
  if (way.kind === 'shims' && way.partIds.length > 0 && !holds(after, way.at)) return undefined;
  if (Math.abs(afterMm) > Math.abs(residualMm) - LEAST_GAIN_MM) return undefined;
  return {
    ...way,
    residualMm: afterMm,
    within: after.verdict === 'on-spec',
    chance: after.uncertainty.probabilityInTolerance,
    say: (unit) => {
      const off = formatLength(Math.abs(afterMm), unit);
      const where = Math.abs(afterMm) < 0.0005 ? 'exactly right' : `${off} ${afterMm < 0 ? 'short' : 'long'}`;
      return `${act(unit)}: then it is ${where}.`;
    }
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
  if (residualMm === null || required.toleranceMm === null) return [];
  const standing = standingIn(train);
  // What was measured together, or as an opening, is known as it is: a shim would not be seen in it.
  const open = ledger.joints.filter(
    ({ cameraIndex, cameraId, open: isOpen, stated }) =>
      cameraIndex > datum.index && undone.includes(cameraId) && !isOpen && !stated && !ledger.grouped.has(cameraIndex)
  );
  const ways = [
    ...byDial(assessment, residualMm),
    ...open.flatMap((joint) => [...byShims(assessment, joint, residualMm, parts, standing)])
  ];
  const rough = ({ residualMm: mm }: Landing): number => Math.round(Math.abs(mm) * 100);
  return ways
    .flatMap((way) => tried(assessment, residualMm, way) ?? [])
    .sort((a, b) => Number(b.within) - Number(a.within) || rough(a) - rough(b) || a.partIds.length - b.partIds.length);
}
