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
  type Fastener,
  type Train
} from '../train/model.ts';
import { formatLength, listed } from '../why/wording.ts';
import { fillSealOf, sealOf } from './seal.ts';

/** Where an assembly begins: at the camera, at the telescope, or with sub-assemblies that are joined last. */
export type AssemblyOrder = 'camera' | 'telescope' | 'parts';

/** What is measured after a step, shoulder to shoulder, mm. */
export interface StepMeasure {
  /** First and last element that is measured across, sky side first. */
  from: string;
  to: string;
  expectedMm: number;
  /** Half-width that holds 95 % of what is not known about it. */
  uncertaintyMm: number;
}

/** A thread whose length cannot be measured any more once its joint is closed. */
export interface ThreadToMeasure {
  /** Element that has it, or `host`. */
  id: string;
  face: 'sky' | 'camera';
  gender: 'male' | 'female';
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
  /** What has to be measured before. */
  ask: ThreadToMeasure[];
  /** What the step is remembered by: its joint, or `fill` and the holder. */
  key: string;
  /** Fingerprint of what it puts together: changed since it was done, it has to be done again. */
  seal: string;
}

/** Cautions of the handbook (§8, §11), said where they apply. */
const CAUTIONS = {
  openSensor: 'The sensor is open: hold it face down, gloves on, a blower and never breath.',
  plateOverSensor: 'Start the fixing screws in the plate before it goes over the open sensor.',
  glass: 'Filters: by the rim, gloves on, blow them clean; what lies open is covered with paper.',
  lockAxis: 'Lock the axis first: counterweights on before the train, off after it.',
  sun: 'Never point it at the sun, never leave it uncapped in daylight.',
  slip: 'A slip fit may slide out: hold the train until its screws are tight.',
  crosswise: 'Start every screw by hand, shortest first, then tighten crosswise.',
  prism: 'The pick-off faces the incoming light.'
} as const;

const CALIPERS = 'calipers';

/** Screws as a person asks for them: `4 × M3×8, cap head`. */
export function fastenerInWords({ thread, lengthMm, count, head, instead }: Fastener): string {
  const long = lengthMm === undefined ? '' : `, ${formatLength(lengthMm, 'mm', 0)} long`;
  const headed = head === undefined ? '' : `, ${head} head`;
  const other = instead === undefined ? '' : ` (or ${instead})`;
  return `${count} × ${thread}${long}${headed}${other}`;
}

/** Screws of a joint or a plate: their words, their tools, and which go first because a later part covers them. */
function screwed(train: Train, fasteners: readonly Fastener[] | undefined) {
  const sorted = (fasteners ?? []).toSorted((a, b) => (a.lengthMm ?? 0) - (b.lengthMm ?? 0));
  return {
    words: sorted.length === 0 ? undefined : listed(sorted.map(fastenerInWords)),
    tools: sorted.flatMap(({ tool }) => tool ?? []),
    cautions: [
      ...(sorted.length > 0 ? [CAUTIONS.crosswise] : []),
      ...sorted.flatMap(({ thread, hiddenBy }) =>
        hiddenBy === undefined
          ? []
          : [`Tighten the ${thread} screws now: ${nameOf(train, hiddenBy)} covers them later.`]
      )
    ]
  };
}

/** How a joint is closed, in words: what goes into what. */
function closing(train: Train, joint: Joint, hand: string, fixed: string) {
  const { words: screws, tools, cautions } = screwed(train, seatOf(train.elements[joint.cameraIndex]!)?.fasteners);
  const withScrews = screws === undefined ? '' : ` with ${screws}`;
  const said = (words: string, more: { tools?: string[]; cautions?: string[] } = {}) => ({
    words: `${words}${withScrews}`,
    tools: [...(more.tools ?? []), ...tools],
    cautions: [...(more.cautions ?? []), ...cautions]
  });
  switch (holdsBy(joint.sky, joint.camera)) {
    case 'bolts':
      return said(
        `Bolt ${hand} to ${fixed}`,
        screws === undefined ? { tools: ['hex key for its screws'], cautions: [CAUTIONS.crosswise] } : {}
      );
    case 'bayonet':
      return said(`Set ${hand} onto the bayonet of ${fixed} and turn it until it locks`);
    case 'slip':
      return said(`Slide ${hand} and ${fixed} together down to the shoulder and tighten`, {
        cautions: [CAUTIONS.slip]
      });
    case 'clamp':
      return said(`Put ${hand} and ${fixed} together and close the clamp`);
    case 'union':
      return said(`Put ${hand} to ${fixed} and tighten the union nut`);
    case 'lock-ring':
      return said(
        `Screw ${hand} and ${fixed} together until they stand ${formatLength(joint.openingMm)} apart, then set the lock ring`,
        { tools: [CALIPERS] }
      );
    case 'thread':
      return said(`Screw ${hand} and ${fixed} together by hand, down to the shoulder`);
    case undefined:
      return said(`Join ${hand} and ${fixed}`, { cautions: ['What they join by is not stated: look first.'] });
  }
}

/** Filters that go into a holder before it is closed. */
function loading(train: Train, element: Element): Omit<AssemblyStep, 'n'> | undefined {
  if (!isBody(element) || !KINDS[element.kind].holds) return undefined;
  const filters = (glassOf(element) ?? []).filter(({ thicknessMm }) => thicknessMm > 0);
  if (filters.length === 0) return undefined;
  const names = filters.map(({ slot, name }) =>
    slot === undefined ? (name ?? 'the filter') : `${slot} ${name ?? 'unnamed'}`
  );
  const { halves = [], fasteners } = element;
  const screws = screwed(train, fasteners);
  const opened = halves.length === 0 ? '' : `Open ${element.name} (${listed(halves)}). `;
  const closed = screws.words === undefined ? '' : ` Close it with ${screws.words}.`;
  const turned = filters.flatMap(({ name, towardCamera }) =>
    towardCamera === undefined ? [] : [`${name ?? 'The filter'}: ${towardCamera} toward the camera.`]
  );
  return {
    do: `${opened}Put the filters into ${element.name}: ${listed(names)}. Turn it by hand: nothing may protrude. Blow it clean once more.${closed}`,
    parts: [element.id],
    tools: [...new Set(['gloves', 'blower', ...screws.tools])],
    cautions: [...new Set([CAUTIONS.glass, ...turned, ...screws.cautions, ...(element.cautions ?? [])])],
    joint: null,
    measure: null,
    ask: [],
    key: `fill ${element.id}`,
    seal: fillSealOf(element)
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

/** What a joint says beside how it is closed: shims, angle, marks. */
function beside(joint: Joint, element: Element): string[] {
  const seat = seatOf(element);
  const shims = [
    ...joint.shimElements.map(({ name }) => name),
    ...(seat?.shimsMm ?? []).map((mm) => `a shim of ${formatLength(mm)}`)
  ];
  return [
    ...(shims.length > 0 ? [`with ${listed(shims)} between`] : []),
    ...(seat?.rotationDeg === undefined ? [] : [`turned to ${seat.rotationDeg}°`])
  ];
}

/** What follows once it is closed: marks to look at, locks, dials, cables. */
function afterwards(element: Element, hand: Element | undefined): string[] {
  const seat = seatOf(element);
  const adjust = hand && adjustOf(hand);
  return [
    ...(seat?.marks === undefined ? [] : [`Line up: ${seat.marks}.`]),
    ...(seat?.lock === undefined ? [] : [`Lock it: ${seat.lock}.`]),
    ...(adjust ? [`Set ${hand.name} to ${formatLength(adjust.setMm)} and lock it.`] : [])
  ];
}

/** Where the cables of an element go. */
const cableWords = (element: Element | undefined): string[] =>
  !element || !isSolid(element) || isShim(element)
    ? []
    : (element.cables ?? []).map(({ name, atDeg }) => `${name} leaves at ${atDeg}°.`);

/** What an element that comes into hand says of itself. */
function ownCautions(element: Element | undefined): string[] {
  if (!element || !isSolid(element)) return [];
  const cables = isShim(element) ? [] : (element.cables ?? []);
  return [
    ...(isBody(element) && element.pickoff ? [CAUTIONS.prism] : []),
    ...(element.cautions ?? []),
    ...cables.flatMap(({ name, reachMm, neededMm }) =>
      reachMm !== undefined && neededMm !== undefined && reachMm < neededMm
        ? [
            `${name} reaches ${formatLength(reachMm, 'mm', 0)} and needs ${formatLength(neededMm, 'mm', 0)}: take a longer one.`
          ]
        : []
    )
  ];
}

/** Threads of a joint whose length is not stated. */
function threadsToMeasure({ sky, camera, skyId, cameraId }: Joint): ThreadToMeasure[] {
  const asked: ThreadToMeasure[] = [];
  for (const [id, face, port] of [
    [skyId, 'camera', sky],
    [cameraId, 'sky', camera]
  ] as const) {
    if (!port || !('thread' in port) || port.lengthMm !== undefined || port.through) continue;
    asked.push({ id, face, gender: port.gender });
  }
  return asked;
}

/** Joints that are made and undone without a tool: where sub-assemblies meet. */
const isQuick = ({ sky, camera }: Joint): boolean =>
  ['bayonet', 'slip', 'clamp', 'union'].includes(holdsBy(sky, camera) ?? '');

/**
 * Joints in the order they are closed. Sub-assemblies are what quick joints part; each is made up from the telescope on,
 * the one with the camera from the camera outward, and they are joined from the telescope on. Without a quick joint the
 * camera, which spins last, is one and everything before it the other.
 */
function inOrder(joints: readonly Joint[], order: AssemblyOrder): Joint[] {
  if (order === 'camera') return joints.toReversed();
  if (order === 'telescope') return [...joints];
  const isHost = ({ skyId }: Joint): boolean => skyId === HOST;
  const quick = joints.filter((joint) => !isHost(joint) && isQuick(joint));
  const parting = new Set([...joints.filter(isHost), ...(quick.length > 0 ? quick : joints.slice(-1))]);
  const afterLast = joints.findLastIndex((joint) => parting.has(joint)) + 1;
  return [
    ...joints.slice(0, afterLast).filter((joint) => !parting.has(joint)),
    ...joints.slice(afterLast).toReversed(),
    ...joints.filter((joint) => parting.has(joint) && !isHost(joint)),
    ...joints.filter(isHost)
  ];
}

/** First and last of the nodes that hang together with a joint, once some joints are closed; −1 is the host. */
function runAround(joints: readonly Joint[], closed: ReadonlySet<Joint>, { cameraIndex }: Joint): [number, number] {
  const at = joints.findIndex((joint) => joint.cameraIndex === cameraIndex);
  let [first, last] = [at, at];
  while (first > 0 && closed.has(joints[first - 1]!)) first--;
  while (last + 1 < joints.length && closed.has(joints[last + 1]!)) last++;
  return [joints[first]!.skyIndex, joints[last]!.cameraIndex];
}

/**
 * The steps that put a train together, in order: filters into their holder before it closes, joint by joint, what to
 * measure after each, cautions where they apply (handbook §8, §11).
 *
 * @param order which end it begins at: the camera, so that the sensor is covered soonest, or the telescope, or with
 *   sub-assemblies
 * @param facts of the train, where they were reckoned already
 */
export function assemblySheet(train: Train, order: AssemblyOrder = 'camera', facts = new Facts(train)): AssemblyStep[] {
  const { elements } = train;
  const last = elements.length - 1;
  /** A camera's sensor is behind glass, and calipers end at its flange. */
  const lastMeasured = elements.findLastIndex((element) => !isShim(element) && !isCamera(element));
  const steps: Omit<AssemblyStep, 'n'>[] = [];
  const loaded = new Set<string>();
  const load = (element: Element | undefined): void => {
    const step = element && !loaded.has(element.id) ? loading(train, element) : undefined;
    if (!step) return;
    loaded.add(element!.id);
    steps.push(step);
  };
  const seen = new Set<string>();
  /** What has to come into hand for a joint: parts that do not stand there yet, and its shims. */
  const inHand = (parts: readonly (Element | undefined)[], { shimElements }: Joint): string[] => {
    const fresh = [...parts.map((part) => part?.id ?? HOST), ...shimElements.map(({ id }) => id)];
    const added = fresh.filter((id) => !seen.has(id));
    for (const id of added) seen.add(id);
    return added;
  };
  const closed = new Set<Joint>();
  for (const joint of inOrder(facts.joints, order)) {
    const { skyIndex, cameraIndex, skyId, cameraId } = joint;
    const [sky, camera] = [elements[skyIndex], elements[cameraIndex]!];
    const [hand, fixed] = order === 'camera' ? [sky, camera] : [camera, sky];
    if (order === 'parts') load(sky);
    load(hand);
    const seal = sealOf(train, joint);
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
        measure: null,
        ask: [],
        key: cameraId,
        seal
      });
      continue;
    }
    const { words, tools, cautions } = closing(
      train,
      joint,
      hand?.name ?? train.host.name,
      fixed?.name ?? train.host.name
    );
    closed.add(joint);
    const [first, end] = runAround(facts.joints, closed, joint);
    // A corrector's own length is nobody's business: what is measured begins behind it.
    const from = order === 'camera' ? Math.max(0, first) : Math.max(0, facts.ledger.datum.index + 1, first);
    const measure = skyId === HOST ? null : measured(facts, from, Math.min(end, lastMeasured));
    const turns = joint.pair?.thread && (engagement(joint.pair, joint.apartMm) ?? Infinity) / joint.pair.thread.pitchMm;
    const parts = inHand([fixed, hand], joint);
    const fresh = [fixed, hand].filter((element) => element && parts.includes(element.id));
    steps.push({
      do: [
        `${[words, ...beside(joint, camera)].join(', ')}.`,
        ...afterwards(camera, hand),
        ...fresh.flatMap(cableWords)
      ].join(' '),
      parts,
      joint: cameraId,
      tools: [...new Set([...tools, ...(measure ? [CALIPERS] : [])])],
      cautions: [
        ...new Set([
          ...(cameraIndex === last ? [CAUTIONS.openSensor] : []),
          ...(cameraIndex === last && holdsBy(joint.sky, joint.camera) === 'bolts' ? [CAUTIONS.plateOverSensor] : []),
          ...cautions,
          ...(turns !== undefined && turns < GOOD_TURNS
            ? [`Only ${turns.toFixed(1)} turns of thread hold here: do not force it.`]
            : []),
          ...(seatOf(camera)?.cautions ?? []),
          ...fresh.flatMap(ownCautions),
          ...(skyId === HOST ? [CAUTIONS.lockAxis, CAUTIONS.sun] : [])
        ])
      ],
      measure,
      ask: threadsToMeasure(joint),
      key: cameraId,
      seal
    });
  }
  return steps.map((step, index) => ({ n: index + 1, ...step }));
}
