import { doubtOf, jointDoubts } from '../doubt/doubts.ts';
import { Spread } from '../doubt/spread.ts';
import { engagement } from '../joint/seating.ts';
import { GOOD_TURNS } from '../joint/engagement.ts';
import { holdsBy } from '../joint/clocking.ts';
import { inOrderOf, precedencesOf, taskOf } from '../joint/hidden.ts';
import { closesOver, nestedIn, type Joint, type Nested } from '../joint/joints.ts';
import { Facts } from '../check/facts.ts';
import { detachablesOf } from '../train/detachable.ts';
import {
  HOST,
  isBody,
  isCamera,
  isShim,
  isSolid,
  seatOf,
  type BodyElement,
  type Cable,
  type Element,
  type Train
} from '../train/model.ts';
import { formatLength, listed, type LengthUnit } from '../why/wording.ts';
import { closingHolder, loading, opening, takingOff } from './holder.ts';
import { platesOf, screwed } from './screws.ts';
import { sealOf, sealOfText } from './seal.ts';
import { CAUTIONS, step, type AssemblyStep, type Step, type StepMeasure, type ThreadToMeasure } from './step.ts';

/** Where an assembly begins: at the camera, at the telescope, or with sub-assemblies that are joined last. */
export type AssemblyOrder = 'camera' | 'telescope' | 'parts';

const CALIPERS = 'calipers';

/** How a joint is closed, in words: what goes into what. */
function closing(train: Train, joint: Joint, hand: string, fixed: string, unit: LengthUnit) {
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
        `Screw ${hand} and ${fixed} together until they are ${formatLength(joint.openingMm, unit)} apart, then set the lock ring`,
        { tools: [CALIPERS] }
      );
    case 'thread':
      return said(`Screw ${hand} and ${fixed} together by hand, down to the shoulder`);
    case undefined:
      return said(`Join ${hand} and ${fixed}`, { cautions: ['What they join by is not stated: look first.'] });
  }
}

/** A dial is set before anything stands over it. */
function settingDial(element: BodyElement, unit: LengthUnit): Step | undefined {
  const { adjust } = element;
  if (!adjust) return undefined;
  const seal = sealOfText(`${element.id} ${adjust.setMm}`);
  return step(taskOf.set(element.id), seal, `Set ${element.name} to ${formatLength(adjust.setMm, unit)} and lock it.`, {
    parts: [element.id]
  });
}

/** A filter that is screwed into the inner thread of another part. */
function fittingFilter({ elements }: Train, { index, holderIndex, face }: Nested): Step {
  const [filter, holder] = [elements[index]!, elements[holderIndex]!];
  return step(
    taskOf.fit(filter.id),
    sealOfText(`${filter.id} in ${holder.id} ${face}`),
    `Screw ${filter.name} into the inner thread on the ${face} face of ${holder.name}, finger-tight.`,
    { parts: [filter.id, holder.id], tools: ['gloves', 'blower'], cautions: [CAUTIONS.glass] }
  );
}

/** What stands on a part beside the beam: its guide camera with the tubes before it, and what hangs on it. */
function hanging(element: Element): Step | undefined {
  if (!isSolid(element) || isShim(element)) return undefined;
  const pickoff = isBody(element) ? element.pickoff : undefined;
  const guide = pickoff?.guideCamera;
  const tubes = (pickoff?.tubes ?? []).map(({ name, partId }) => name ?? partId ?? 'its tube');
  const attached = (element.attached ?? []).map(({ name }) => name);
  if (!guide && attached.length === 0) return undefined;
  const words = [
    ...(guide
      ? [
          `Fit ${guide.name ?? 'the guide camera'} to ${element.name}${tubes.length > 0 ? `, ${listed(tubes)} between` : ''}. Focus it after the main camera.`
        ]
      : []),
    ...(attached.length > 0 ? [`Fit ${listed(attached)} to ${element.name}.`] : [])
  ];
  return step(taskOf.hang(element.id), sealOfText(JSON.stringify([guide ?? null, tubes, attached])), words.join(' '), {
    parts: [element.id],
    cautions: ['Look that it clears everything round it as the train turns.']
  });
}

/** What hangs on the host: a focus motor with its bracket, a dew heater, the cables that are plugged in there. */
function hangingOnHost({ host }: Train): Step | undefined {
  const attached = (host.attached ?? []).map(({ name }) => name);
  const cables = host.cables ?? [];
  if (attached.length === 0 && cables.length === 0) return undefined;
  const words = [
    ...(attached.length > 0 ? [`Fit ${listed(attached)} to ${host.name}.`] : []),
    ...(cables.length > 0 ? [`Plug ${listed(cables.map(({ name }) => name))} in.`] : [])
  ];
  return step(taskOf.hang(HOST), sealOfText(JSON.stringify([attached, cables])), words.join(' '), {
    parts: [HOST],
    cautions: [
      'Look that it clears everything round it as the train turns.',
      ...cables.flatMap((cable) => tooShort(cable) ?? [])
    ]
  });
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
  const inside = joints.filter(({ cameraIndex }) => cameraIndex > fromIndex && cameraIndex <= toIndex);
  const doubts = [
    ...within.flatMap((element) => (isSolid(element) && !isShim(element) ? [doubtOf(element)] : [])),
    ...inside.flatMap((joint) => jointDoubts(train, joint))
  ];
  return {
    from: within[0]!.id,
    to: within.at(-1)!.id,
    expectedMm: axis.spans[toIndex]!.toMm - axis.spans[fromIndex]!.fromMm,
    uncertaintyMm: new Spread(doubts).halfWidth95Mm
  };
}

/** What a joint says beside how it is closed: shims, angle, marks. */
function beside(joint: Joint, element: Element, unit: LengthUnit): string[] {
  const seat = seatOf(element);
  const shims = [
    ...joint.shimElements.map(({ name }) => name),
    ...(seat?.shimsMm ?? []).map((mm) => `a shim of ${formatLength(mm, unit)}`)
  ];
  return [
    ...(shims.length > 0 ? [`with ${listed(shims)} between`] : []),
    ...(seat?.rotationDeg === undefined ? [] : [`turned to ${seat.rotationDeg}°`])
  ];
}

/** What follows once it is closed: marks to look at, locks. */
function afterwards(element: Element): string[] {
  const seat = seatOf(element);
  return [
    ...(seat?.marks === undefined ? [] : [`Line up: ${seat.marks}.`]),
    ...(seat?.lock === undefined ? [] : [`Lock it: ${seat.lock}.`])
  ];
}

/** What to say of a cable that does not reach; undefined where it does, or nobody has said. */
const tooShort = ({ name, reachMm, neededMm }: Cable): string | undefined =>
  reachMm !== undefined && neededMm !== undefined && reachMm < neededMm
    ? `${name} reaches ${formatLength(reachMm, 'mm', 0)} and needs ${formatLength(neededMm, 'mm', 0)}: take a longer one.`
    : undefined;

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
    ...cables.flatMap((cable) => tooShort(cable) ?? [])
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

/** What a sheet is written from. */
interface Bench {
  train: Train;
  facts: Facts;
  order: AssemblyOrder;
  /** Unit its sentences are in. */
  unit: LengthUnit;
}

/** Everything there is to do, in the order it is done in where nothing covers anything. */
function tasksOf({ train, facts: { joints }, order, unit }: Bench): { tasks: string[]; own: Map<string, Step> } {
  const own = new Map<string, Step>();
  const tasks: string[] = [];
  const add = (made: Step | undefined): void => {
    if (!made || own.has(made.key)) return;
    own.set(made.key, made);
    tasks.push(made.key);
  };
  const prepare = (element: Element | undefined): void => {
    const [id, pieces] = element ? [element.id, detachablesOf(element)] : [HOST, train.host.detachable ?? []];
    for (const each of takingOff(train, id, pieces, unit)) add(each);
    if (!element || !isBody(element)) return;
    add(settingDial(element, unit));
    const filled = loading(element);
    if (!filled) return;
    add(opening(element));
    add(filled);
    add(closingHolder(train, element));
  };
  const nested = nestedIn(train);
  for (const joint of inOrder(joints, order)) {
    const [sky, camera] = [train.elements[joint.skyIndex], train.elements[joint.cameraIndex]!];
    for (const element of order === 'telescope' ? [camera, sky] : [sky, camera]) prepare(element);
    for (const each of nested) if (closesOver(joint, each)) add(fittingFilter(train, each));
    tasks.push(taskOf.joint(joint));
  }
  for (const element of train.elements) add(hanging(element));
  add(hangingOnHost(train));
  return { tasks, own };
}

/** The step for a place that is still open. */
const openPlace = ({ train }: Bench, joint: Joint, gap: Element | undefined, parts: readonly string[]): Step =>
  step(
    joint.cameraId,
    sealOf(train, joint),
    `${gap ? `“${gap.name}” is` : 'This place is'} still empty: find its rings first.`,
    { parts: [...parts], joint: joint.cameraId, cautions: ['It counts no length until then.'] }
  );

/** The length that can be measured once a joint is closed, and where it should stand; null where none can. */
function measuredAfter(
  { train: { elements }, facts, order }: Bench,
  joint: Joint,
  closed: ReadonlySet<Joint>
): AssemblyStep['measure'] {
  if (joint.skyId === HOST || platesInHand(elements, joint).length > 0) return null;
  // A camera's sensor is behind glass, and calipers end at its flange.
  const last = elements.findLastIndex((element) => !isShim(element) && !isCamera(element));
  const [first, end] = runAround(facts.joints, closed, joint);
  // A corrector's own length is nobody's business: what is measured begins behind it.
  const from = order === 'camera' ? Math.max(0, first) : Math.max(0, facts.ledger.datum.index + 1, first);
  return measured(facts, from, Math.min(end, last));
}

/** What to look out for while a joint is closed. @param fresh parts that come into hand for it */
function cautionsAt(train: Train, joint: Joint, ofClosing: readonly string[], fresh: readonly Element[]): string[] {
  const { cameraIndex, skyId, pair, apartMm } = joint;
  const camera = train.elements[cameraIndex]!;
  const isSensorSide = cameraIndex === train.elements.length - 1;
  const turns = pair?.thread && (engagement(pair, apartMm) ?? Infinity) / pair.thread.pitchMm;
  const all = [
    ...(isSensorSide ? [CAUTIONS.openSensor] : []),
    ...(isSensorSide && holdsBy(joint.sky, joint.camera) === 'bolts' ? [CAUTIONS.plateOverSensor] : []),
    ...ofClosing,
    ...(turns !== undefined && turns < GOOD_TURNS
      ? [`Only ${turns.toFixed(1)} turns of thread hold here: do not force it.`]
      : []),
    ...(seatOf(camera)?.cautions ?? []),
    ...fresh.flatMap(ownCautions),
    ...(skyId === HOST ? [CAUTIONS.lockAxis, CAUTIONS.sun] : [])
  ];
  return [...new Set(all)];
}

/** Plates of open holders that a joint bolts on: their own carousel covers its screws later. */
function platesInHand(elements: readonly Element[], { skyIndex, cameraIndex }: Joint): { of: Element; name: string }[] {
  const camera = elements[cameraIndex]!;
  return [elements[skyIndex], camera].flatMap((part) => {
    const isUnderOwn = seatOf(camera)?.fasteners?.some(({ hiddenBy }) => hiddenBy === part?.id) === true;
    const plates = part && isUnderOwn && isBody(part) ? platesOf(part) : [];
    const plate = part === camera ? plates[0] : plates.at(-1);
    return part && plate ? [{ of: part, name: plate.name }] : [];
  });
}

/** What of a part is in hand at a joint: the plate of a holder that is bolted on open, its own carousel over the screws. */
function inHandAs(train: Train, joint: Joint, part: Element): string {
  const plate = platesInHand(train.elements, joint).find(({ of }) => of === part);
  return plate ? `${plate.name} of ${part.name}` : part.name;
}

/**
 * The step that closes a joint.
 *
 * @param closed joints that are closed then, this one too
 * @param parts what comes into hand for it
 */
function closingStep(bench: Bench, joint: Joint, closed: ReadonlySet<Joint>, parts: readonly string[]): Step {
  const { train, order, unit } = bench;
  const [sky, camera] = [train.elements[joint.skyIndex], train.elements[joint.cameraIndex]!];
  // What is held comes to what stands: the host stands on its mount whichever end it begins at.
  const [hand, fixed] = order === 'camera' && sky ? [sky, camera] : [camera, sky];
  const host = train.host.name;
  const named = (part: Element | undefined): string => (part ? inHandAs(train, joint, part) : host);
  const { words, tools, cautions } = closing(train, joint, named(hand), named(fixed), unit);
  const measure = measuredAfter(bench, joint, closed);
  const fresh = [fixed, hand].filter((element) => element !== undefined && parts.includes(element.id)) as Element[];
  const sentence = `${[words, ...beside(joint, camera, unit)].join(', ')}.`;
  return step(
    joint.cameraId,
    sealOf(train, joint),
    [sentence, ...afterwards(camera), ...fresh.flatMap(cableWords)].join(' '),
    {
      parts: [...parts],
      joint: joint.cameraId,
      tools: [...new Set([...tools, ...(measure ? [CALIPERS] : [])])],
      cautions: cautionsAt(train, joint, cautions, fresh),
      measure,
      ask: threadsToMeasure(joint)
    }
  );
}

/**
 * The steps that put a train together, in order: dials set and filters in before what stands over them, joint by joint,
 * screws before what covers them, what hangs on the train last; what to measure after each, cautions where they apply
 * (handbook §8, §11).
 *
 * @param order which end it begins at: the camera, so that the sensor is covered soonest, or the telescope, or with
 *   sub-assemblies
 * @param facts of the train, where they were calculated already
 */
export function assemblySheet(
  train: Train,
  unit: LengthUnit,
  order: AssemblyOrder = 'camera',
  facts = new Facts(train)
): AssemblyStep[] {
  const bench: Bench = { train, facts, order, unit };
  const { joints } = facts;
  const { tasks, own } = tasksOf(bench);
  // Screws that wait for each other are an error of the train: it is told by its check, and they keep their place here.
  const ordered = inOrderOf(tasks, precedencesOf(train, joints));
  const byTask = new Map(joints.map((joint) => [taskOf.joint(joint), joint]));
  const seen = new Set<string>();
  /** What has to come into hand for a joint: parts that do not stand there yet, and its shims. */
  const inHand = (parts: readonly (Element | undefined)[], { shimElements }: Joint): string[] => {
    const fresh = [...parts.map((part) => part?.id ?? HOST), ...shimElements.map(({ id }) => id)];
    const added = fresh.filter((id) => !seen.has(id));
    for (const id of added) seen.add(id);
    return added;
  };
  const closed = new Set<Joint>();
  const steps = ordered.tasks.flatMap((task): Step[] => {
    const joint = byTask.get(task);
    if (!joint) return [own.get(task)!];
    const [sky, camera] = [train.elements[joint.skyIndex], train.elements[joint.cameraIndex]!];
    if (joint.open) {
      const gap = [sky, camera].find((element) => element?.kind === 'gap');
      const parts = gap ? inHand([gap], joint) : [];
      // A place that is open has two joints, and is told once.
      return gap && parts.length === 0 ? [] : [openPlace(bench, joint, gap, parts)];
    }
    closed.add(joint);
    return [closingStep(bench, joint, closed, inHand(order === 'camera' ? [camera, sky] : [sky, camera], joint))];
  });
  return steps.map((made, index) => ({ n: index + 1, ...made }));
}
