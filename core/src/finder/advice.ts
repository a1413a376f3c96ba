import { pieceInWords } from '../check/length.ts';
import { addsError } from '../check/remedies.ts';
import { assess } from '../check/report.ts';
import { partLength, placedPart, type Part } from '../drawer/part.ts';
import { glassShift } from '../length/glass.ts';
import { effectiveFocalRatio } from '../length/backFocus.ts';
import { jointName, type Joint } from '../joint/joints.ts';
import { ledgerOf, type Ledger } from '../length/ledger.ts';
import { counterpart, portInWords } from '../joint/mate.ts';
import { dialAnswer, dialOperation } from '../length/dial.ts';
import { formatLength, residualInWords, type LengthUnit } from '../why/wording.ts';
import { apply, type Operation } from '../train/operations.ts';
import { pieceChanges } from '../train/pieces.ts';
import { readTrain } from '../train/read.ts';
import {
  KINDS,
  adjustOf,
  glassOf,
  isBody,
  isCamera,
  isShim,
  isSolid,
  lengthOf,
  nameOf,
  partIdOf,
  standingIn,
  type BodyElement,
  type Element,
  type Port,
  type Train
} from '../train/model.ts';
import { findStacks, type FindOptions, type FindResult } from './find.ts';
import { ringFor, type RingSpec } from './ring.ts';
import { RING_PART_ID, fillOperation, filledTrain, type Solution } from './solution.ts';

/** A single change that lets the finder succeed where it did not (handbook §4, last paragraph). */
export interface Advice {
  kind:
    | 'insert'
    | 'leave-out'
    | 'take-off'
    | 'put-on'
    | 'exchange'
    | 'exchange-holder'
    | 'longer-part'
    | 'lens-adapter'
    | 'order-ring'
    | 'move-filter'
    /** Of a train that is within its tolerance already: nearer, or with fewer joints, for nothing. */
    | 'improve';
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
  sentence: (solution: Solution, unit: LengthUnit) => string;
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
      sentence: (solution: Solution, unit: LengthUnit) =>
        solution.pieces === 0
          ? `Leave ${element.name} out (${formatLength(standing(element), unit)}).`
          : `Leave ${element.name} out (${formatLength(standing(element), unit)}) and fill up with ${placedNames(solution)}.`
    }));
}

/** A nose, a tilt plate or a mount taken off, or put on. */
const pieces = (train: Train, { datum }: Ledger): Trial[] =>
  pieceChanges(train, datum.index).map((change) => ({
    kind: change.piece.on ? ('take-off' as const) : ('put-on' as const),
    gainMm: change.gainMm,
    operation: change.operation,
    sentence: (solution: Solution, unit: LengthUnit) =>
      `${pieceInWords(train, change, unit)}${solution.pieces === 0 ? '' : ` and fill up with ${placedNames(solution)}`}.`
  }));

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
          return solution.pieces === 0 ? `Remove ${names}${needless}.` : `Replace ${names} with ${fresh}${needless}.`;
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
          sentence: (solution, unit) =>
            `Replace ${element.name} with ${part.partId}, ${part.element.name} (${formatLength(partLength(part), unit)})${
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
        sentence: (solution, unit) =>
          `Last resort: put the filter of ${element.name} in front of the corrector, where its glass (${formatLength(shiftMm, unit)}) does not count${solution.pieces === 0 ? '' : `, and fill up with ${placedNames(solution)}`}.`
      }
    ];
  });
}

/** Neighbours of a train's gaps that only take up length, made as much longer as is missing, their faces kept. */
function longerParts(train: Train, { residualMm, datum }: Ledger): Trial[] {
  const { elements } = train;
  const missingMm = -(residualMm ?? 0);
  const gaps = elements.flatMap((element, index) => (element.kind === 'gap' && index > datum.index ? [index] : []));
  if (missingMm <= 0 || gaps.length === 0) return [];
  const beside = [...new Set(gaps.flatMap((index) => [index - 1, index + 1]))].filter((index) => index > datum.index);
  return beside.flatMap((index): Trial[] => {
    const element = elements[index];
    if (!element || !isExchangeable(element)) return [];
    const {
      partId: _part,
      copy: _copy,
      measured: _measured,
      ...rest
    } = element as BodyElement & Record<string, unknown>;
    const lengthMm = Number((lengthOf(element) + missingMm).toFixed(2));
    return [
      {
        kind: 'longer-part',
        gainMm: missingMm,
        operation: {
          op: 'batch',
          operations: [
            { op: 'replace', id: element.id, element: { ...(rest as BodyElement), lengthMm } },
            ...gaps.map((gap): Operation => ({ op: 'remove', id: elements[gap]!.id }))
          ]
        },
        sentence: (_solution, unit) =>
          `Have ${element.name} made ${formatLength(missingMm, unit)} longer: ${formatLength(lengthMm, unit)} with the same faces.`
      }
    ];
  });
}

/** Whether a face is a bayonet, which no workshop turns. */
const isBayonet = (port: Port | undefined): boolean => port !== undefined && 'bayonet' in port;

/** The adapter that is missing where a gap begins or ends at a bayonet: its two faces and its length. */
function lensAdapter(train: Train, { joints, residualMm }: Ledger, supply: FindOptions): Advice | undefined {
  const gaps = train.elements.filter(({ kind }) => kind === 'gap');
  const [gap] = gaps;
  const lengthMm = Number((-(residualMm ?? 0)).toFixed(2));
  if (gaps.length !== 1 || !gap || lengthMm <= 0) return undefined;
  const above = joints.find(({ cameraId }) => cameraId === gap.id)?.sky;
  const below = joints.find(({ skyId }) => skyId === gap.id)?.camera;
  if (!above || !below || (!isBayonet(above) && !isBayonet(below))) return undefined;
  const [sky, camera] = [counterpart(above), counterpart(below)];
  const words = `${portInWords(sky)} to ${portInWords(camera)}`;
  const part: Part = {
    partId: RING_PART_ID,
    element: { id: RING_PART_ID, kind: 'bayonet-adapter', name: `Adapter ${words}`, lengthMm, sky, camera },
    quantity: 1,
    owned: false,
    location: '',
    state: 'spare',
    measurements: []
  };
  const [solution] = findStacks(train, {
    ...supply,
    parts: [part],
    pinned: [RING_PART_ID],
    limit: 1,
    maxPieces: 1
  }).solutions;
  if (!solution?.inTolerance) return undefined;
  return {
    kind: 'lens-adapter',
    message: `The adapter is missing: ${words}, ${formatLength(lengthMm, supply.unit)} long.`,
    gainMm: lengthMm,
    solution,
    operation: fillOperation(train, solution)
  };
}

/** Tries a change: the stack it leads to, where that is inside the tolerance and every joint closes. */
function tried(train: Train, trial: Trial, options: FindOptions, maxPieces = TRIAL_PIECES): Advice | undefined {
  const changed = readTrain(apply(train, trial.operation));
  if (!changed.ok) return undefined;
  const { solutions } = findStacks(changed.document, {
    prefer: 'fewest',
    ...(trial.kind === 'improve' ? options : { ...options, prefer: 'fewest' as const }),
    limit: 1,
    maxPieces
  });
  const [solution] = solutions;
  if (!solution?.inTolerance) return undefined;
  const filled = filledTrain(changed.document, solution);
  if (addsError(assess(train), assess(filled))) return undefined;
  return {
    kind: trial.kind,
    message: trial.sentence(solution, options.unit),
    gainMm: trial.gainMm,
    solution,
    operation: { op: 'batch', operations: [trial.operation, fillOperation(changed.document, solution)] }
  };
}

/** Changes that touch nothing but what only takes up length. */
const ringTrials = (train: Train, ledger: Ledger, opened: readonly Opened[], counted: readonly Element[]): Trial[] => [
  ...inserts(train, opened),
  ...leaveOuts(train, counted),
  ...pieces(train, ledger),
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
  const trials = ringTrials(train, ledger, openedJoints(train, ledger), counted);
  return trials.flatMap((trial) => tried(train, trial, supply) ?? []);
}

const RANK: Readonly<Record<Advice['kind'], number>> = {
  insert: 0,
  'leave-out': 1,
  'take-off': 2,
  'put-on': 3,
  exchange: 4,
  'exchange-holder': 5,
  'order-ring': 6,
  'longer-part': 7,
  'lens-adapter': 8,
  'move-filter': 9,
  improve: 10
};

/** Nearer by less than this is not worth a turn of the hand, mm. */
const LEAST_GAIN_MM = 0.01;

/** Shims tried in one joint. */
const MOST_SHIMS = 2;

/**
 * What makes a train that is within its tolerance better for nothing: a dial that lands nearer, shims that are owned, one
 * part in place of two. Each is tried: it stays within tolerance, adds no error, and is nearer or has fewer joints.
 */
function improvementsOf(train: Train, options: FindOptions): Advice[] {
  const before = assess(train);
  const { ledger, facts } = before;
  const { residualMm } = ledger;
  if (before.verdict !== 'on-spec' || residualMm === null || train.elements.some(({ kind }) => kind === 'gap'))
    return [];
  const { onProgress: _onProgress, pinned: _pinned, ...supply } = options;
  const found: Advice[] = [];
  const nearer = (afterMm: number | null): boolean =>
    afterMm !== null && Math.abs(afterMm) < Math.abs(residualMm) - LEAST_GAIN_MM;
  const landing = ({ residualMm: afterMm }: Solution, unit: LengthUnit): string =>
    afterMm === null ? '' : `: ${residualInWords(afterMm, unit)} in place of ${residualInWords(residualMm, unit)}`;

  const dial = dialAnswer(train, ledger);
  const turned =
    dial && facts.dials.find(({ id, kind }) => id === dial.id && (kind === 'lock-ring') === (dial.lockRing === true));
  if (dial && turned && turned.kind !== 'focuser' && nearer(dial.missMm)) {
    const operation = dialOperation(turned, dial.setMm);
    const trial: Trial = {
      kind: 'improve',
      gainMm: dial.setMm - turned.setMm,
      operation,
      sentence: (solution, unit) =>
        `Set ${nameOf(train, turned.id)}${turned.kind === 'lock-ring' ? '’s lock ring' : ''} to ${formatLength(dial.setMm, unit)}${landing(solution, unit)}.`
    };
    const advice = tried(train, trial, { ...supply, parts: [] });
    if (advice && nearer(advice.solution.residualMm)) found.push(advice);
  }

  const shims = supply.parts.filter(({ element, owned }) => isShim(element) && owned);
  if (shims.length > 0 && residualMm < 0) {
    for (const opened of openedJoints(train, ledger)) {
      const trial: Trial = {
        kind: 'improve',
        gainMm: 0,
        operation: opened.operation,
        sentence: (solution, unit) =>
          `Put ${placedNames(solution)} between ${nameOf(train, opened.joint.skyId)} and ${nameOf(train, opened.joint.cameraId)}${landing(solution, unit)}.`
      };
      const advice = tried(train, trial, { ...supply, parts: shims, prefer: 'closest' }, MOST_SHIMS);
      if (advice && advice.solution.pieces > 0 && nearer(advice.solution.residualMm)) {
        found.push(advice);
        break;
      }
    }
  }

  const counted = train.elements.slice(ledger.datum.index + 1);
  for (const trial of exchanges(train, counted)) {
    const taken = trial.operation.op === 'batch' ? trial.operation.operations.length - 1 : 0;
    if (taken < 2) continue;
    const advice = tried(train, { ...trial, kind: 'improve' }, supply);
    if (advice && advice.solution.buys === 0 && advice.solution.pieces < taken) {
      found.push(advice);
      break;
    }
  }
  return withoutRepeats(train, found).slice(0, MOST_ADVICE);
}

/**
 * What single change would let a train close that the finder could not: open a joint of a train that is short for
 * parts of the drawer, leave a removable part out, take a nose or a tilt plate off or put it on, exchange a part
 * or two for others of the drawer, a filter holder for one of another thickness, have one ring made, put the filter in front of the corrector. Each is tried: the
 * stack it leads to comes along as its proof.
 *
 * @param result what the finder gave for the same train and options
 * @returns the easiest first; what makes it better for nothing where a stack inside the tolerance was found, or nothing
 *   where nothing is asked for
 */
export function adviseOn(train: Train, options: FindOptions, result: FindResult): Advice[] {
  if (result.target.missingMm === null) return [];
  if (result.solutions.some(({ inTolerance }) => inTolerance)) return improvementsOf(train, options);
  const ledger = ledgerOf(train);
  const counted = train.elements.slice(ledger.datum.index + 1);
  const opened = openedJoints(train, ledger);
  const { onProgress: _onProgress, pinned: _pinned, ...supply } = options;
  const trials = [
    ...ringTrials(train, ledger, opened, counted),
    ...holderExchanges(train, counted, supply),
    ...longerParts(train, ledger),
    ...filterMoves(train, counted)
  ];
  const found = trials.flatMap((trial) => tried(train, trial, supply) ?? []);
  const adapter = lensAdapter(train, ledger, supply);
  if (adapter) found.push(adapter);
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
