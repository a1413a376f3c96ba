import { detachablesOf } from '../train/detachable.ts';
import { HOST, isBody, seatOf, type Detachable, type Element, type Fastener, type Train } from '../train/model.ts';
import { closesOver, nestedIn, type Joint } from './joints.ts';

/**
 * Something that is done in an assembly, by what it is remembered by: a joint by its camera-side element, `set` a dial,
 * `fit` a filter in an inner thread, `off` what is taken off a part, `open`, `fill` and `close` a holder, `hang` what stands on a
 * part beside the beam.
 */
export type Task = string;

export const taskOf = {
  joint: ({ cameraId }: Pick<Joint, 'cameraId'>): Task => cameraId,
  set: (id: string): Task => `set ${id}`,
  off: (id: string, index: number): Task => `off ${id} ${index}`,
  fit: (id: string): Task => `fit ${id}`,
  open: (id: string): Task => `open ${id}`,
  fill: (id: string): Task => `fill ${id}`,
  close: (id: string): Task => `close ${id}`,
  hang: (id: string): Task => `hang ${id}`
} as const;

/** One thing that has to be done before another. */
export interface Precedence {
  before: Task;
  after: Task;
  /** Screws that a part covers, where they are the reason: the key of the document that says so. */
  because?: { id: string; path: readonly (string | number)[]; hiddenBy: string };
}

/** Joints of a part: on its sky side and on its camera side. */
const jointsAt = (joints: readonly Joint[], index: number): Joint[] =>
  joints.filter(({ skyIndex, cameraIndex }) => skyIndex === index || cameraIndex === index);

/**
 * What puts a part over a joint's screws: filling it, where it is a holder beside that joint; else the joint by which it
 * comes to the side the screws are on.
 */
function coveredBy(train: Train, joints: readonly Joint[], at: Joint, hiddenBy: string): Task | undefined {
  const index = train.elements.findIndex(({ id }) => id === hiddenBy);
  if (index < 0) return undefined;
  if (index === at.skyIndex || index === at.cameraIndex) {
    // A holder that is bolted covers the screws under its own carousel.
    return taskOf.fill(hiddenBy);
  }
  const toward = joints.find((joint) => (index < at.cameraIndex ? joint.skyIndex : joint.cameraIndex) === index);
  return toward && taskOf.joint(toward);
}

/** What has to be done before what, from what a document says: screws that parts cover, dials, filters, holders. */
export function precedencesOf(train: Train, joints: readonly Joint[]): Precedence[] {
  const found: Precedence[] = [];
  const { elements } = train;
  /** Tasks that are done before a holder beside them is filled. */
  const beforeFilling = new Map<string, Set<Task>>();
  const hidden = (joint: Joint, fasteners: readonly Fastener[] | undefined): void => {
    fasteners?.forEach(({ hiddenBy }, at) => {
      const after = hiddenBy === undefined ? undefined : coveredBy(train, joints, joint, hiddenBy);
      if (hiddenBy === undefined || after === undefined) return;
      const before = taskOf.joint(joint);
      const index = joint.cameraIndex;
      found.push({
        before,
        after,
        because: { id: elements[index]!.id, path: ['seat', 'fasteners', at, 'hiddenBy'], hiddenBy }
      });
      if (after !== taskOf.fill(hiddenBy)) return;
      const all = beforeFilling.get(hiddenBy) ?? new Set<Task>();
      beforeFilling.set(hiddenBy, all.add(before));
    });
  };
  for (const joint of joints) hidden(joint, seatOf(elements[joint.cameraIndex]!)?.fasteners);
  /** What is taken off comes off before anything is joined to its part, or put into it. */
  const offFirst = (id: string, pieces: readonly Detachable[], then: readonly Task[]): void => {
    pieces.forEach(({ on }, index) => {
      if (!on) found.push(...then.map((after) => ({ before: taskOf.off(id, index), after })));
    });
  };
  offFirst(HOST, train.host.detachable ?? [], joints.filter(({ skyId }) => skyId === HOST).map(taskOf.joint));
  elements.forEach((element, index) => {
    offFirst(element.id, detachablesOf(element), [
      taskOf.open(element.id),
      taskOf.fill(element.id),
      ...jointsAt(joints, index).map(taskOf.joint)
    ]);
    if (!isBody(element)) return;
    element.fasteners?.forEach(({ hiddenBy }, at) => {
      const cover = elements.findIndex(({ id }) => id === hiddenBy);
      const over = joints.find((joint) => (cover < index ? joint.skyIndex : joint.cameraIndex) === cover);
      if (hiddenBy === undefined || cover < 0 || cover === index || !over) return;
      const because = { id: element.id, path: ['fasteners', at, 'hiddenBy'], hiddenBy };
      found.push({ before: taskOf.close(element.id), after: taskOf.joint(over), because });
    });
    const own = jointsAt(joints, index);
    const early = beforeFilling.get(element.id);
    for (const joint of own) {
      found.push({ before: taskOf.set(element.id), after: taskOf.joint(joint) });
      // A plate that is bolted on before its holder is filled is bolted on while that is open.
      const task = early?.has(taskOf.joint(joint)) ? taskOf.open(element.id) : taskOf.close(element.id);
      found.push({ before: task, after: taskOf.joint(joint) });
      found.push({ before: taskOf.joint(joint), after: taskOf.hang(element.id) });
    }
    found.push({ before: taskOf.open(element.id), after: taskOf.fill(element.id) });
    found.push({ before: taskOf.fill(element.id), after: taskOf.close(element.id) });
  });
  for (const nested of nestedIn(train)) {
    const over = joints.find((joint) => closesOver(joint, nested));
    if (over) found.push({ before: taskOf.fit(elements[nested.index]!.id), after: taskOf.joint(over) });
  }
  return found;
}

/** Tasks in an order that keeps to what comes before what, as near to the given one as that lets it. */
export interface Ordered {
  tasks: Task[];
  /** Precedences that contradict each other, one leading to the next; undefined where all can be kept. */
  circle: Precedence[] | undefined;
}

/** A way from one task back to itself. */
function circleAmong(precedences: readonly Precedence[], left: ReadonlySet<Task>): Precedence[] | undefined {
  const from = (task: Task): Precedence[] =>
    precedences.filter(({ before, after }) => before === task && left.has(after));
  for (const start of left) {
    const walked: Precedence[] = [];
    const seen = new Set<Task>();
    const walk = (task: Task): boolean => {
      for (const step of from(task)) {
        if (step.after === start) return walked.push(step) > 0;
        if (seen.has(step.after)) continue;
        seen.add(step.after);
        walked.push(step);
        if (walk(step.after)) return true;
        walked.pop();
      }
      return false;
    };
    if (walk(start)) return walked;
  }
  return undefined;
}

/**
 * Puts tasks into an order that keeps to what has to come before what.
 *
 * @param tasks in the order they would be done in otherwise
 */
export function inOrderOf(tasks: readonly Task[], precedences: readonly Precedence[]): Ordered {
  const left = new Set(tasks);
  const known = precedences.filter(({ before, after }) => left.has(before) && left.has(after));
  const ordered: Task[] = [];
  while (left.size > 0) {
    const next = [...left].find((task) => !known.some(({ before, after }) => after === task && left.has(before)));
    if (next === undefined) return { tasks: [...ordered, ...left], circle: circleAmong(known, left) };
    left.delete(next);
    ordered.push(next);
  }
  return { tasks: ordered, circle: undefined };
}

/** Joints alone, and the holders beside them: whether screws and what covers them can be done in any order at all. */
export function screwCircle(train: Train, joints: readonly Joint[]): Precedence[] | undefined {
  if (
    !train.elements.some((element: Element) =>
      seatOf(element)?.fasteners?.some(({ hiddenBy }) => hiddenBy !== undefined)
    )
  ) {
    return undefined;
  }
  const precedences = precedencesOf(train, joints);
  const tasks = new Set(precedences.flatMap(({ before, after }) => [before, after]));
  return inOrderOf([...tasks], precedences).circle;
}
