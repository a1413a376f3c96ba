import { complaintsFrom, placeInWords, toPointer, type Complaint } from './complain.ts';
import { GLASS_NAMES, glassNamed } from './glassNames.ts';
import { validateElement, validateTrain } from './generated/validate.js';
import {
  adjustOf,
  cameraPort,
  correctorOf,
  glassOf,
  isBody,
  skyPort,
  type Corrector,
  type Element,
  type Port,
  type Train
} from './model.ts';

/** Largest document read, characters. A train of 200 full elements is well under half of it. */
export const MAX_DOCUMENT_CHARS = 1_000_000;

/** A train document nests seven levels; this leaves room and keeps recursion harmless. */
const MAX_DEPTH = 32;

export type Reading<T> = { ok: true; document: T } | { ok: false; complaints: Complaint[] };

const refused = (complaints: Complaint[]): { ok: false; complaints: Complaint[] } => ({ ok: false, complaints });

const complaint = (root: unknown, steps: readonly (string | number)[], message: string): Complaint => {
  const pointer = toPointer(steps);
  return { pointer, place: placeInWords(root, pointer), message };
};

const LONE_SURROGATE = /\p{Surrogate}/u;

/** Most values a document may hold, lists and objects included: several times what the fullest one has. */
const MAX_TRAIN_VALUES = 200_000;

/**
 * Nesting too deep, more values than could be looked at in reasonable time, or text that no database and no other
 * program can store. Looks at no more than `most` values, whatever the size of what it is given.
 *
 * @param most values that are allowed
 */
export function unstorable(root: unknown, most = MAX_TRAIN_VALUES): Complaint | undefined {
  const steps: (string | number)[] = [];
  let left = most;
  const look = (node: unknown): Complaint | undefined => {
    if (--left < 0) {
      return { pointer: '', place: 'the document', message: `holds more than ${most} values` };
    }
    if (typeof node === 'string') {
      return node.includes('\0') || LONE_SURROGATE.test(node)
        ? complaint(root, steps, 'contains a character that cannot be stored (NUL or half a surrogate pair)')
        : undefined;
    }
    if (typeof node !== 'object' || node === null) return undefined;
    if (steps.length >= MAX_DEPTH) {
      return { pointer: '', place: 'the document', message: `is nested more than ${MAX_DEPTH} levels deep` };
    }
    for (const [key, child] of Array.isArray(node) ? node.entries() : Object.entries(node)) {
      steps.push(key);
      const found = look(child);
      if (found) return found;
      steps.pop();
    }
    return undefined;
  };
  return look(root);
}

function correctorComplaints(root: unknown, corrector: Corrector, steps: (string | number)[]): Complaint[] {
  const found: Complaint[] = [];
  const stated = (['backFocusMm', 'rangeMm', 'free'] as const).filter((key) => corrector[key] !== undefined);
  if (stated.length > 1) {
    found.push(complaint(root, [...steps, stated[1]!], `contradicts “${stated[0]}”: state only one of them`));
  }
  if (stated.length === 0 && corrector.byHost === undefined) {
    found.push(complaint(root, steps, 'must state one of backFocusMm, rangeMm, free'));
  }
  if (corrector.rangeMm && corrector.rangeMm[0] > corrector.rangeMm[1]) {
    found.push(complaint(root, [...steps, 'rangeMm'], 'must run from the smaller to the larger'));
  }
  return found;
}

const FEMALE_KEYS = ['through', 'endsOnGlass'] as const;
const MALE_KEYS = ['lockRing', 'shoulder'] as const;

/** Keys that only make sense on one gender of a thread, and depths that contradict each other. */
function portComplaints(root: unknown, port: Port | undefined, steps: (string | number)[]): Complaint[] {
  if (!port || !('thread' in port)) return [];
  const found: Complaint[] = [];
  const foreign = port.gender === 'male' ? FEMALE_KEYS.find((key) => port[key] !== undefined) : undefined;
  if (foreign) found.push(complaint(root, [...steps, foreign], 'is said of a female thread, but this one is male'));
  const manly = port.gender === 'female' ? MALE_KEYS.find((key) => port[key] !== undefined) : undefined;
  if (manly) found.push(complaint(root, [...steps, manly], 'is said of a male thread, but this one is female'));
  if (port.reliefMm !== undefined && port.lengthMm !== undefined && port.reliefMm > port.lengthMm) {
    found.push(complaint(root, [...steps, 'reliefMm'], `is more than the whole thread, ${port.lengthMm}`));
  }
  if (port.through && port.endsOnGlass) {
    found.push(complaint(root, [...steps, 'endsOnGlass'], 'contradicts “through”: state only one of them'));
  }
  return found;
}

function elementComplaints(root: unknown, element: Element, steps: (string | number)[]): Complaint[] {
  const found: Complaint[] = [];
  const corrector = correctorOf(element);
  if (corrector) found.push(...correctorComplaints(root, corrector, [...steps, 'corrector']));

  found.push(...portComplaints(root, skyPort(element), [...steps, 'sky']));
  found.push(...portComplaints(root, cameraPort(element), [...steps, 'camera']));

  const adjust = adjustOf(element);
  if (adjust && adjust.minMm > adjust.maxMm) {
    found.push(complaint(root, [...steps, 'adjust', 'maxMm'], `is below the lower end, ${adjust.minMm}`));
  } else if (adjust && (adjust.setMm < adjust.minMm || adjust.setMm > adjust.maxMm)) {
    found.push(
      complaint(
        root,
        [...steps, 'adjust', 'setMm'],
        `must be between ${adjust.minMm} and ${adjust.maxMm}, but is ${adjust.setMm}`
      )
    );
  }

  const plates = glassOf(element) ?? [];
  plates.forEach((plate, index) => {
    const at = [...steps, 'glass', index];
    if (plate.index !== undefined && plate.glass !== undefined) {
      found.push(complaint(root, [...at, 'glass'], 'contradicts “index”: state only one of them'));
    }
    if (plate.glass !== undefined && glassNamed(plate.glass) === undefined) {
      found.push(
        complaint(
          root,
          [...at, 'glass'],
          `is not a glass known here; use ${GLASS_NAMES.join(' or ')}, or give its index`
        )
      );
    }
  });
  if ('designSlot' in element && !plates.some((plate) => plate.slot === element.designSlot)) {
    found.push(
      complaint(
        root,
        [...steps, 'designSlot'],
        'names a slot that holds no glass; an empty slot is an entry of thickness 0'
      )
    );
  }

  if (element.kind === 'gap' && (element.minMm ?? 0) > (element.maxMm ?? Infinity)) {
    found.push(complaint(root, [...steps, 'maxMm'], 'is below the lower end'));
  }
  const guideFocus = isBody(element) ? element.pickoff?.guideFocus : undefined;
  if (guideFocus && guideFocus.minMm > guideFocus.maxMm) {
    found.push(complaint(root, [...steps, 'pickoff', 'guideFocus', 'maxMm'], 'is below the lower end'));
  }
  return found;
}

/** An exit pupil lies at least so far from the focus, mm (common practice, no source). */
const LEAST_PUPIL_MM = 1;

/** Ends of what was measured together: each has to have a shoulder that calipers seat on. */
function groupComplaints(train: Train): Complaint[] {
  return (train.groups ?? []).flatMap((group, index) => {
    const ends = (['from', 'to'] as const).flatMap((end) => {
      const element = train.elements.find(({ id }) => id === group[end]);
      if (element?.kind !== 'shim' && element?.kind !== 'gap') return [];
      const what = element.kind === 'shim' ? 'a shim, which is inside a joint' : 'a gap, which is empty';
      return [complaint(train, ['groups', index, end], `“${element.id}” is ${what}: measure to the part next to it`)];
    });
    return group.from === group.to
      ? [...ends, complaint(train, ['groups', index, 'to'], 'is the same element as “from”: use its measured length')]
      : ends;
  });
}

/** What a schema cannot say: ids, the camera's place, one corrector, ranges that make sense. */
function wholeTrainComplaints(train: Train): Complaint[] {
  const found: Complaint[] = [];
  const firstWithId = new Map<string, number>();
  train.elements.forEach((element, index) => {
    const earlier = firstWithId.get(element.id);
    if (earlier !== undefined) {
      found.push(
        complaint(train, ['elements', index, 'id'], `“${element.id}” is already the id of element ${earlier + 1}`)
      );
    } else if (element.id === 'host') {
      found.push(complaint(train, ['elements', index, 'id'], '“host” is the host and cannot be an id'));
    } else {
      firstWithId.set(element.id, index);
    }
    found.push(...elementComplaints(train, element, ['elements', index]));
  });

  const last = train.elements.length - 1;
  const cameras = train.elements.flatMap((element, index) => (element.kind === 'camera' ? [index] : []));
  if (cameras.length === 0) {
    found.push(complaint(train, ['elements'], 'has no camera; a train ends with one'));
  } else if (cameras.length > 1) {
    found.push(complaint(train, ['elements', cameras[0]!], 'is one camera too many; a train has exactly one, last'));
  } else if (cameras[0] !== last) {
    found.push(complaint(train, ['elements', cameras[0]!], 'is the camera and must come last'));
  }

  const correctors = train.elements.flatMap((element, index) => (correctorOf(element) ? [index] : []));
  if (correctors.length > 1) {
    found.push(
      complaint(
        train,
        ['elements', correctors[1]!, 'corrector'],
        `is a second corrector; element ${correctors[0]! + 1} already sets the back focus`
      )
    );
  }
  found.push(...groupComplaints(train));
  // A pupil in the focus itself lights one point: the beam to every other would lean without bound.
  if (Math.abs(train.host.exitPupilMm ?? Infinity) < LEAST_PUPIL_MM) {
    found.push(complaint(train, ['host', 'exitPupilMm'], 'is at the focus: leave it out where it is not known'));
  }
  found.push(...portComplaints(train, train.host.camera, ['host', 'camera']));
  if (train.host.corrector) found.push(...correctorComplaints(train, train.host.corrector, ['host', 'corrector']));
  return found;
}

/**
 * Checks that something read from outside is a train document.
 *
 * @param candidate any JSON value
 * @returns the document, now typed, or every complaint about it
 */
export function readTrain(candidate: unknown): Reading<Train> {
  const impossible = unstorable(candidate);
  if (impossible) return refused([impossible]);
  if (!validateTrain(candidate)) return refused(complaintsFrom(validateTrain.errors ?? [], candidate));
  const complaints = wholeTrainComplaints(candidate);
  return complaints.length > 0 ? refused(complaints) : { ok: true, document: candidate };
}

/** Most values one element may hold. */
const MAX_ELEMENT_VALUES = 20_000;

/** Checks one element on its own, as a form or a drawer hands it over. */
export function readElement(candidate: unknown): Reading<Element> {
  const impossible = unstorable(candidate, MAX_ELEMENT_VALUES);
  if (impossible) return refused([impossible]);
  if (!validateElement(candidate)) return refused(complaintsFrom(validateElement.errors ?? [], candidate));
  const complaints = elementComplaints(candidate, candidate, []);
  return complaints.length > 0 ? refused(complaints) : { ok: true, document: candidate };
}
