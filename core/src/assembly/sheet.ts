import { doubtOf } from '../doubt/doubts.ts';
import { Spread } from '../doubt/spread.ts';
import { engagement } from '../joint/seating.ts';
import { GOOD_TURNS } from '../joint/engagement.ts';
import { holdsBy } from '../joint/clocking.ts';
import type { Joint } from '../joint/joints.ts';
import { Facts } from '../check/facts.ts';
import {
  HOST,
  KINDS,
  adjustOf,
  glassOf,
  isBody,
  isCamera,
  isShim,
  isSolid,
  nameOf,
  seatOf,
  type Element,
  type Train
} from '../train/model.ts';
import { formatLength, listed } from '../why/wording.ts';

/** Which end an assembly begins at. */
export type AssemblyOrder = 'camera' | 'telescope';

/** What is measured after a step, shoulder to shoulder, mm. */
export interface StepMeasure {
  /** First and last element that is measured across, sky side first. */
  from: string;
  to: string;
  expectedMm: number;
  /** Half-width that holds 95 % of what is not known about it. */
  uncertaintyMm: number;
}

/** One step of an assembly, as `sheet --json` prints it. */
export interface AssemblyStep {
  n: number;
  do: string;
  /** Elements that come into hand. */
  parts: string[];
  /** Joint that is closed, by its camera-side element; null where none is. */
  joint: string | null;
  tools: string[];
  cautions: string[];
  measure: StepMeasure | null;
}

/** Cautions of the handbook (§11), said where they apply. */
const CAUTIONS = {
  openSensor: 'The sensor is open: hold it face down, gloves on, a blower and never breath.',
  glass: 'Filters: by the rim, gloves on, blow them clean; what lies open is covered with paper.',
  lockAxis: 'Lock the axis first: counterweights on before the train, off after it.',
  sun: 'Never point it at the sun, never leave it uncapped in daylight.',
  slip: 'A slip fit may slide out: hold the train until its screws are tight.',
  crosswise: 'Start every screw by hand, shortest first, then tighten crosswise.'
} as const;

const CALIPERS = 'calipers';

/** How a joint is closed, in words: what goes into what. */
function closing(
  train: Train,
  joint: Joint,
  order: AssemblyOrder
): { words: string; tools: string[]; cautions: string[] } {
  const [sky, camera] = [nameOf(train, joint.skyId), nameOf(train, joint.cameraId)];
  const [hand, fixed] = order === 'camera' ? [sky, camera] : [camera, sky];
  switch (holdsBy(joint.sky, joint.camera)) {
    case 'bolts':
      return { words: `Bolt ${hand} to ${fixed}`, tools: ['hex key for its screws'], cautions: [CAUTIONS.crosswise] };
    case 'bayonet':
      return { words: `Set ${hand} onto the bayonet of ${fixed} and turn it until it locks`, tools: [], cautions: [] };
    case 'slip':
      return {
        words: `Slide ${hand} and ${fixed} together down to the shoulder and tighten`,
        tools: [],
        cautions: [CAUTIONS.slip]
      };
    case 'clamp':
      return { words: `Put ${hand} and ${fixed} together and close the clamp`, tools: [], cautions: [] };
    case 'union':
      return { words: `Put ${hand} to ${fixed} and tighten the union nut`, tools: [], cautions: [] };
    case 'lock-ring':
      return {
        words: `Screw ${hand} and ${fixed} together until they stand ${formatLength(joint.openingMm)} apart, then set the lock ring`,
        tools: [CALIPERS],
        cautions: []
      };
    case 'thread':
      return { words: `Screw ${hand} and ${fixed} together by hand, down to the shoulder`, tools: [], cautions: [] };
    case undefined:
      return {
        words: `Join ${hand} and ${fixed}`,
        tools: [],
        cautions: [`What they join by is not stated: look first.`]
      };
  }
}

/** Filters that go into a holder before it is closed. */
function loading(element: Element): Pick<AssemblyStep, 'do' | 'parts' | 'tools' | 'cautions'> | undefined {
  if (!isBody(element) || !KINDS[element.kind].holds) return undefined;
  const filters = (glassOf(element) ?? []).filter(({ thicknessMm }) => thicknessMm > 0);
  if (filters.length === 0) return undefined;
  const names = filters.map(({ slot, name }) =>
    slot === undefined ? (name ?? 'the filter') : `${slot} ${name ?? 'unnamed'}`
  );
  return {
    do: `Put the filters into ${element.name}: ${listed(names)}. Turn it by hand: nothing may protrude.`,
    parts: [element.id],
    tools: ['gloves', 'blower'],
    cautions: [CAUTIONS.glass]
  };
}

/**
 * What is known of the stack from one element to another, its sky shoulder to the other's camera shoulder.
 *
 * @returns null where there is nothing between, an open place, or a corrector, whose length is nobody's business
 */
function measured({ train, axis, joints }: Facts, fromIndex: number, toIndex: number): StepMeasure | null {
  if (toIndex < fromIndex) return null;
  const within = train.elements.slice(fromIndex, toIndex + 1);
  if (within.some((element) => element.kind === 'gap' || (isBody(element) && element.corrector))) return null;
  if (joints.some(({ open, cameraIndex }) => open && cameraIndex > fromIndex && cameraIndex <= toIndex)) return null;
  const doubts = within.flatMap((element) => (isSolid(element) ? [doubtOf(element)] : []));
  return {
    from: within[0]!.id,
    to: within.at(-1)!.id,
    expectedMm: axis.spans[toIndex]!.toMm - axis.spans[fromIndex]!.fromMm,
    uncertaintyMm: new Spread(doubts).halfWidth95Mm
  };
}

/** What a joint says beside how it is closed: shims, angle, dial. */
function beside(train: Train, joint: Joint): string[] {
  const element = train.elements[joint.cameraIndex]!;
  const seat = seatOf(element);
  const shims = [
    ...joint.shimElements.map(({ name }) => name),
    ...(seat?.shimsMm ?? []).map((mm) => `a shim of ${formatLength(mm)}`)
  ];
  const angle = seat?.rotationDeg;
  return [
    ...(shims.length > 0 ? [`with ${listed(shims)} between`] : []),
    ...(angle === undefined ? [] : [`turned to ${angle}°`])
  ];
}

function dialWords(element: Element): string | undefined {
  const adjust = adjustOf(element);
  return adjust ? `Set ${element.name} to ${formatLength(adjust.setMm)} and lock it.` : undefined;
}

/**
 * The steps that put a train together, in order: filters into their holder before it closes, joint by joint, what to
 * measure after each, cautions where they apply (handbook §8, §11).
 *
 * @param order which end it begins at: the camera, so that the sensor is covered soonest, or the telescope
 */
export function assemblySheet(train: Train, order: AssemblyOrder = 'camera'): AssemblyStep[] {
  const facts = new Facts(train);
  const { elements } = train;
  const last = elements.length - 1;
  /** A camera's sensor is behind glass, and calipers end at its flange. */
  const lastMeasured = elements.findLastIndex((element) => !isShim(element) && !isCamera(element));
  const steps: Omit<AssemblyStep, 'n'>[] = [];
  const joints = order === 'camera' ? facts.joints.toReversed() : facts.joints;
  const loaded = new Set<string>();
  const load = (element: Element | undefined): void => {
    const step = element && !loaded.has(element.id) ? loading(element) : undefined;
    if (!step) return;
    loaded.add(element!.id);
    steps.push({ ...step, joint: null, measure: null });
  };
  let isOpen = false;
  const seen = new Set<string>();
  /** What has to come into hand for a joint: parts that do not stand there yet, and its shims. */
  const inHand = (parts: readonly (Element | undefined)[], { shimElements }: Joint): string[] => {
    const fresh = [...parts.map((part) => part?.id ?? HOST), ...shimElements.map(({ id }) => id)];
    const added = fresh.filter((id) => !seen.has(id));
    for (const id of added) seen.add(id);
    return added;
  };
  for (const joint of joints) {
    const { skyIndex, cameraIndex, skyId, cameraId } = joint;
    const [sky, camera] = [elements[skyIndex], elements[cameraIndex]!];
    const hand = order === 'camera' ? sky : camera;
    if (order === 'telescope' && cameraIndex === last) isOpen = true;
    load(order === 'camera' ? sky : camera);
    if (joint.open) {
      const gap = [sky, camera].find((element) => element?.kind === 'gap');
      // A place that is open has two joints, and is told once.
      const parts = gap ? inHand([gap], joint) : [];
      if (gap && parts.length === 0) continue;
      steps.push({
        do: `${gap ? `“${gap.name}” is` : 'This place is'} still empty: find its rings first.`,
        parts,
        joint: cameraId,
        tools: [],
        cautions: ['It counts no length until then.'],
        measure: null
      });
      continue;
    }
    const { words, tools, cautions } = closing(train, joint, order);
    const dial = hand && dialWords(hand);
    const turns =
      joint.pair?.thread && (engagement(joint.pair, joint.openingMm) ?? Infinity) / joint.pair.thread.pitchMm;
    const measure =
      order === 'camera'
        ? measured(facts, Math.max(0, skyIndex), lastMeasured)
        : measured(facts, facts.ledger.datum.index + 1, Math.min(cameraIndex, lastMeasured));
    steps.push({
      do: `${[words, ...beside(train, joint)].join(', ')}.${dial ? ` ${dial}` : ''}`,
      parts: inHand([order === 'camera' ? camera : sky, hand], joint),
      joint: cameraId,
      tools: [...new Set([...tools, ...(measure && skyId !== HOST ? [CALIPERS] : [])])],
      cautions: [
        ...((order === 'camera' && cameraIndex === last) || isOpen ? [CAUTIONS.openSensor] : []),
        ...cautions,
        ...(turns !== undefined && turns < GOOD_TURNS
          ? [`Only ${turns.toFixed(1)} turns of thread hold here: do not force it.`]
          : []),
        ...(skyId === HOST ? [CAUTIONS.lockAxis, CAUTIONS.sun] : [])
      ],
      measure: skyId === HOST ? null : measure
    });
  }
  return steps.map((step, index) => ({ n: index + 1, ...step }));
}
