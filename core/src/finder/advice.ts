import { addsError } from '../check/remedies.ts';
import { assess } from '../check/report.ts';
import { partLength, placedPart, type Part } from '../drawer/part.ts';
import { glassShift } from '../length/glass.ts';
import { effectiveFocalRatio } from '../length/backFocus.ts';
import { jointName, type Joint } from '../joint/joints.ts';
import { ledgerOf, type Ledger } from '../length/ledger.ts';
import { formatLength } from '../why/wording.ts';
import { apply, type Operation } from '../train/operations.ts';
import { readTrain } from '../train/read.ts';
import {
  KINDS,
  adjustOf,
  glassOf,
  isBody,
  isCamera,
  isSolid,
  lengthOf,
  nameOf,
  partIdOf,
  standingIn,
  type BodyElement,
  type Element,
  type Train
} from '../train/model.ts';
import { findStacks, type FindOptions, type FindResult } from './find.ts';
import { ringFor, type RingSpec } from './ring.ts';
import { fillOperation, filledTrain, type Solution } from './solution.ts';

/** A single change that lets the finder succeed where it did not (handbook §4, last paragraph). */
export interface Advice {
  kind: 'insert' | 'leave-out' | 'exchange' | 'exchange-holder' | 'order-ring' | 'move-filter';
  message: string;
  /** Length the change itself gives, before the gaps are filled, mm; negative takes away. */
  gainMm: number;
  /** The stack that closes the train once the change is made: the proof. */
  solution: Solution;
  /** Change and filling as one step on the train as it was. */
  operation: Operation;
  /** The ring to have made: for `order-ring`. */
  ring?: RingSpec;
}

/** A change to try, with what to say of it. */
interface Trial {
  kind: Advice['kind'];
  gainMm: number;
  operation: Operation;
  /** What to say of it, with the stack it leads to. */
  sentence: (solution: Solution) => string;
}

const TRIAL_PIECES = 4;
const MOST_ADVICE = 6;

/** What only takes up length, so that something else may stand in its place. */
const isExchangeable = (element: Element): element is BodyElement =>
  isBody(element) && KINDS[element.kind].fills && !element.corrector && (element.glass ?? []).length === 0;

const standing = (element: Element): number =>
  isSolid(element) ? lengthOf(element) + (adjustOf(element)?.setMm ?? 0) : 0;

const placedNames = ({ gaps }: Solution): string => {
  const ids = gaps.flatMap(({ placed }) => placed.map(({ part }) => part.partId));
  return ids.length === 0 ? 'nothing' : ids.join(' + ');
};

function leaveOuts(train: Train, counted: readonly Element[]): Trial[] {
  return counted
    .filter((element) => isBody(element) && element.removable)
    .map((element) => ({
      kind: 'leave-out' as const,
      gainMm: -standing(element),
      operation: { op: 'remove' as const, id: element.id },
      sentence: (solution: Solution) =>
        solution.pieces === 0
          ? `Leave ${element.name} out (${formatLength(standing(element))}).`
          : `Leave ${element.name} out (${formatLength(standing(element))}) and fill up with ${placedNames(solution)}.`
    }));
}

/** A gap in a joint that is closed. */
interface Opened {
  operation: Operation;
  gap: string;
  joint: Joint;
}

/** Where no gap counts and the train is short: each of its joints behind the datum, opened for something to go in. */
function openedJoints(train: Train, { joints, datum, residualMm }: Ledger): Opened[] {
  const behind = joints.filter(({ cameraIndex }) => cameraIndex > datum.index);
  if ((residualMm ?? 0) >= 0 || behind.some(({ open }) => open)) return [];
  return behind.map((joint) => {
    const gap: Element = { id: `${joint.cameraId}~opened`, kind: 'gap', name: jointName(train, joint) };
    return { operation: { op: 'insert', element: gap, before: joint.cameraId }, gap: gap.id, joint };
  });
}

function inserts(train: Train, opened: readonly Opened[]): Trial[] {
  return opened.map(({ operation, joint }) => ({
    kind: 'insert',
    gainMm: 0,
    operation,
    sentence: (solution) =>
      `Put ${placedNames(solution)} between ${nameOf(train, joint.skyId)} and ${nameOf(train, joint.cameraId)}.`
  }));
}

/** One or two neighbours that only take up length, taken out for the finder to fill their place anew. */
function exchanges(train: Train, counted: readonly Element[]): Trial[] {
  const trials: Trial[] = [];
  counted.forEach((element, index) => {
    if (!isExchangeable(element)) return;
    const next = counted[index + 1];
    const pairs: BodyElement[][] = [[element], ...(next && isExchangeable(next) ? [[element, next]] : [])];
    for (const taken of pairs) {
      const gap: Element = { id: `${element.id}~place`, kind: 'gap', name: `in place of ${element.name}` };
      trials.push({
        kind: 'exchange',
        gainMm: -taken.reduce((sum, each) => sum + standing(each), 0),
        operation: {
          op: 'batch',
          operations: [
            { op: 'insert', element: gap, before: element.id },
            ...taken.map(({ id }) => ({ op: 'remove' as const, id }))
          ]
        },
        sentence: (solution) => {
          const names = taken.map(({ name }) => name).join(' and ');
          const fresh = placedNames(solution);
          const needless = solution.pieces < taken.length ? '; one joint less' : '';
          return solution.pieces === 0 ? `Take ${names} out${needless}.` : `Exchange ${names} for ${fresh}${needless}.`;
        }
      });
    }
  });
  return trials;
}

/** Whether a part holds filters, and may stand in the place of another that does. */
export const isHolder = ({ element }: Part): boolean => KINDS[element.kind].holds;

/** Holders of the drawer tried in the place of each that stands in the train. */
const MOST_HOLDERS = 8;

/**
 * A filter drawer or wheel of another thickness, with the filters of the old one; the finder may add adapters on both
 * sides of it.
 */
function holderExchanges(train: Train, counted: readonly Element[], { parts, forbidden, tied }: FindOptions): Trial[] {
  const standingCopies = standingIn(train);
  const free = parts.filter(
    (part) =>
      isHolder(part) &&
      part.state !== 'set-aside' &&
      !forbidden?.has(part.partId) &&
      part.quantity > (standingCopies.get(part.partId) ?? 0) + (tied?.get(part.partId) ?? 0)
  );
  const { residualMm } = ledgerOf(train);
  return counted.flatMap((element): Trial[] => {
    if (!KINDS[element.kind].holds || !isBody(element)) return [];
    const gain = (part: Part): number => partLength(part) - standing(element);
    const farOff = (part: Part): number => Math.abs((residualMm ?? 0) + gain(part));
    return free
      .filter((part) => part.partId !== element.partId && Math.abs(gain(part)) > 1e-9)
      .sort((a, b) => farOff(a) - farOff(b))
      .slice(0, MOST_HOLDERS)
      .map((part): Trial => {
        const holder = placedPart(part, { id: `${element.id}~holder` });
        const ownGlass = (glassOf(holder) ?? []).length > 0;
        const { glass, designSlot } = element;
        const filled = ownGlass
          ? holder
          : { ...holder, ...(glass ? { glass } : {}), ...(designSlot ? { designSlot } : {}) };
        const gapOn = (side: string): Element => ({
          id: `${element.id}~${side}`,
          kind: 'gap',
          name: `beside ${part.element.name}`
        });
        return {
          kind: 'exchange-holder',
          gainMm: gain(part),
          operation: {
            op: 'batch',
            operations: [gapOn('sky'), filled, gapOn('camera')]
              .map((each): Operation => ({ op: 'insert', element: each, before: element.id }))
              .concat({ op: 'remove', id: element.id })
          },
          sentence: (solution) =>
            `Exchange ${element.name} for ${part.partId}, ${part.element.name} (${formatLength(partLength(part))})${
              solution.pieces === 0 ? '' : `, and fill up with ${placedNames(solution)}`
            }.`
        };
      });
  });
}

/** Glass that always stands in the beam, put in front of the corrector instead: it then counts no longer. */
function filterMoves(train: Train, counted: readonly Element[]): Trial[] {
  const { corrector } = ledgerOf(train).datum;
  const rule = train.glassRule ?? 'paraxial';
  const ratio = effectiveFocalRatio(train, corrector);
  return counted.flatMap((element): Trial[] => {
    const plates = glassOf(element) ?? [];
    const always = plates.filter(({ slot, counted: allowed }) => slot === undefined && allowed !== true);
    if (isCamera(element) || always.length === 0 || always.length !== plates.length) return [];
    const shiftMm = always.reduce((sum, plate) => sum + glassShift(plate, rule, ratio), 0);
    return [
      {
        kind: 'move-filter',
        gainMm: shiftMm,
        operation: { op: 'set', at: element.id, path: ['glass'], to: undefined },
        sentence: (solution) =>
          `Last resort: put the filter of ${element.name} in front of the corrector, where its glass (${formatLength(shiftMm)}) does not count${solution.pieces === 0 ? '' : `, and fill up with ${placedNames(solution)}`}.`
      }
    ];
  });
}

/** Tries a change: the stack it leads to, where that is inside the tolerance and every joint closes. */
function tried(train: Train, trial: Trial, options: FindOptions): Advice | undefined {
  const changed = readTrain(apply(train, trial.operation));
  if (!changed.ok) return undefined;
  const { solutions } = findStacks(changed.document, {
    ...options,
    prefer: 'fewest',
    limit: 1,
    maxPieces: TRIAL_PIECES
  });
  const [solution] = solutions;
  if (!solution?.inTolerance) return undefined;
  const filled = filledTrain(changed.document, solution);
  if (addsError(assess(train), assess(filled))) return undefined;
  return {
    kind: trial.kind,
    message: trial.sentence(solution),
    gainMm: trial.gainMm,
    solution,
    operation: { op: 'batch', operations: [trial.operation, fillOperation(changed.document, solution)] }
  };
}

/** Changes that touch nothing but what only takes up length. */
const ringTrials = (train: Train, opened: readonly Opened[], counted: readonly Element[]): Trial[] => [
  ...inserts(train, opened),
  ...leaveOuts(train, counted),
  ...exchanges(train, counted)
];

/**
 * Every change of rings alone that brings a train inside its tolerance, each with the stack it leads to: something put
 * into a joint, something left out, one or two neighbours exchanged.
 */
export function ringChanges(train: Train, options: FindOptions): Advice[] {
  const ledger = ledgerOf(train);
  const { onProgress: _onProgress, pinned: _pinned, ...supply } = options;
  const counted = train.elements.slice(ledger.datum.index + 1);
  const trials = ringTrials(train, openedJoints(train, ledger), counted);
  return trials.flatMap((trial) => tried(train, trial, supply) ?? []);
}

const RANK: Readonly<Record<Advice['kind'], number>> = {
  insert: 0,
  'leave-out': 1,
  exchange: 2,
  'exchange-holder': 3,
  'order-ring': 4,
  'move-filter': 5
};

/**
 * What single change would let a train close that the finder could not: open a joint of a train that is short for
 * parts of the drawer, leave a removable part out, exchange a part
 * or two for others of the drawer, a filter holder for one of another thickness, have one ring made, put the filter in front of the corrector. Each is tried: the
 * stack it leads to comes along as its proof.
 *
 * @param result what the finder gave for the same train and options
 * @returns the easiest first; empty where a stack inside the tolerance was found, or nothing is asked for
 */
export function adviseOn(train: Train, options: FindOptions, result: FindResult): Advice[] {
  if (result.solutions.some(({ inTolerance }) => inTolerance) || result.target.missingMm === null) return [];
  const ledger = ledgerOf(train);
  const counted = train.elements.slice(ledger.datum.index + 1);
  const opened = openedJoints(train, ledger);
  const { onProgress: _onProgress, pinned: _pinned, ...supply } = options;
  const trials = [
    ...ringTrials(train, opened, counted),
    ...holderExchanges(train, counted, supply),
    ...filterMoves(train, counted)
  ];
  const found = trials.flatMap((trial) => tried(train, trial, supply) ?? []);
  const ring = orderedRing(train, opened, supply);
  if (ring) found.push(ring);
  found.sort(
    (a, b) =>
      RANK[a.kind] - RANK[b.kind] ||
      a.solution.buys - b.solution.buys ||
      a.solution.pieces - b.solution.pieces ||
      Math.abs(a.solution.residualMm ?? 0) - Math.abs(b.solution.residualMm ?? 0)
  );
  return withoutRepeats(train, found).slice(0, MOST_ADVICE);
}

/**
 * The same parts go into more than one joint, and one part comes out by more than one kind of change: the first of
 * them is said.
 */
function withoutRepeats(train: Train, advice: readonly Advice[]): Advice[] {
  const said = new Set<string>();
  return advice.filter(({ kind, solution, operation }) => {
    const left = apply(train, operation).elements.map((element) => partIdOf(element) ?? element.id);
    const key = kind === 'insert' ? `insert ${placedNames(solution)}` : left.join(' ');
    return !said.has(key) && said.add(key);
  });
}

/** One ring made to measure for the first gap or opened joint it can close, the others filled from the drawer. */
function orderedRing(train: Train, opened: readonly Opened[], supply: FindOptions): Advice | undefined {
  const gaps = train.elements.filter(({ kind }) => kind === 'gap').map(({ id }) => ({ gap: id, operations: [] }));
  const places: { gap: string; operations: Operation[] }[] = [
    ...gaps,
    ...opened.map(({ gap, operation }) => ({ gap, operations: [operation] }))
  ];
  for (const { gap, operations } of places) {
    const open = operations.reduce(apply, train);
    const made = ringFor(open, gap, supply);
    if (made) {
      return {
        kind: 'order-ring',
        message: `Have a custom spacer made: ${made.words}.`,
        gainMm: made.spec.lengthMm,
        solution: made.solution,
        operation: { op: 'batch', operations: [...operations, fillOperation(open, made.solution)] },
        ring: made.spec
      };
    }
  }
  return undefined;
}
