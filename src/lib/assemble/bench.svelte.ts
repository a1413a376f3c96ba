import { TRAIN, type Operation } from '@lodestone/core/train';
import type { LengthUnit } from '@lodestone/core/why';
import {
  assemblySheet,
  doubtReading,
  endFlats,
  endsFlats,
  landings,
  readAt,
  readingOperation,
  stepState,
  threadOperation,
  type AssemblyOrder,
  type AssemblyStep,
  type Landing,
  type StepMeasure,
  type StepTick,
  type StepState,
  type ThreadToMeasure
} from '@lodestone/core/assembly';
import type { Part } from '@lodestone/core/drawer';
import type { Instrument } from '$lib/calipers/instrument.svelte.ts';
import { rightNow } from '$lib/ui/time.ts';
import type { TrainSession } from '$lib/train/session.svelte.ts';

/** Longer than this nobody holds one part: the time in between was something else, s. */
const LONGEST_STEP_S = 1800;

/**
 * The assembly of a train, step by step. Order, what is done and every reading are kept in the train itself: they find
 * their way to other devices and back after a reload like any other change.
 */
export class Bench {
  /** A step that is looked at out of turn; the next one that is not done where undefined. */
  #looked = $state<string>();
  /** The step that came into hand as the one before it was done. */
  handedOn = $state.raw<string>();
  /** When the step in hand was taken up, ms. */
  #since = 0;
  readonly #train: TrainSession;
  readonly #instrument: Instrument;
  readonly #free: () => readonly Part[];
  readonly #unit: () => LengthUnit;

  /**
   * @param free parts of the drawer that this train may use
   * @param unit its sentences are in
   */
  constructor(train: TrainSession, instrument: Instrument, free: () => readonly Part[], unit: () => LengthUnit) {
    this.#unit = unit;
    this.#train = train;
    this.#instrument = instrument;
    this.#free = free;
  }

  readonly #kept = $derived.by(() => this.#train.document.assembly ?? {});
  readonly order: AssemblyOrder = $derived(this.#kept.order ?? 'camera');
  readonly steps: readonly AssemblyStep[] = $derived.by(() => {
    const { facts } = this.#train.assessment;
    return assemblySheet(facts.train, this.#unit(), this.order, facts);
  });

  stateOf = (step: AssemblyStep): StepState => stepState(this.#train.document, step);

  isDone = (step: AssemblyStep): boolean => this.stateOf(step) === 'done';

  readonly doneCount = $derived.by(() => this.steps.filter(this.isDone).length);

  /** What is in hand; undefined where everything is done. */
  readonly current: AssemblyStep | undefined = $derived.by(() => {
    const looked = this.steps.find(({ key }) => key === this.#looked);
    return looked ?? this.steps.find((step) => !this.isDone(step));
  });

  /** Joints that are not closed yet, by their camera-side element. */
  readonly undone: readonly string[] = $derived.by(() =>
    this.steps.flatMap((step) => (step.joint === null || this.isDone(step) ? [] : [step.joint]))
  );

  /** Whether the step in hand closes the last joint that length depends on. */
  readonly isLast: boolean = $derived.by(() => {
    const { elements } = this.#train.document;
    const { datum } = this.#train.assessment.ledger;
    const counts = (joint: string) => elements.findIndex(({ id }) => id === joint) > datum.index;
    const [only, ...more] = this.undone.filter(counts);
    return only !== undefined && more.length === 0 && this.current?.joint === only;
  });

  /** What can still be done before the last joint closes, the best first. */
  readonly landings: readonly Landing[] = $derived.by(() =>
    this.isLast ? landings(this.#train.assessment, this.undone, this.#free()).slice(0, 3) : []
  );

  look(step: AssemblyStep): void {
    this.#looked = step.key;
    this.#since = Date.now();
    if (step.joint !== null) this.#train.select({ kind: 'joint', id: step.joint });
    else if (step.parts[0] !== undefined) this.#train.select({ kind: 'element', id: step.parts[0] });
  }

  /** Walks the steps. */
  walk(by: 1 | -1): void {
    const index = this.current ? this.steps.indexOf(this.current) : this.steps.length;
    const to = this.steps[Math.max(0, Math.min(this.steps.length - 1, index + by))];
    if (to) this.look(to);
  }

  /** The step in hand is taken up now: its time begins. */
  begin(): void {
    this.#since = Date.now();
  }

  choose = (order: AssemblyOrder): string | undefined =>
    this.#train.dispatch({ op: 'set', at: TRAIN, path: ['assembly', 'order'], to: order }, 'Assemble the other way');

  /** How long a step was in hand before, and now, s. */
  #seconds(key: string): number {
    const before = this.#kept.seconds?.[key] ?? 0;
    const now = this.#since === 0 ? 0 : Math.min(LONGEST_STEP_S, (Date.now() - this.#since) / 1000);
    return Math.round(before + now);
  }

  /** Marks a step done, and goes on to the next that is not; done again, it is taken back. */
  toggle(step: AssemblyStep): string | undefined {
    const { key, seal, n } = step;
    const isDone = this.isDone(step);
    const set = (path: [string, ...string[]], to: unknown): Operation => ({ op: 'set', at: TRAIN, path, to });
    const { document } = this.#train;
    const opensFlats = isDone && step.joint !== null && endsFlats(document, step.joint);
    const operations = [
      set(['assembly', 'steps', key], isDone ? undefined : { as: seal, on: rightNow() }),
      ...(isDone ? [] : [set(['assembly', 'seconds', key], this.#seconds(key))]),
      ...(opensFlats && document.flats
        ? [endFlats(document.flats, 'a joint between filters and sensor was opened')]
        : [])
    ];
    const refusal = this.#train.dispatch(
      { op: 'batch', operations },
      isDone ? `Step ${n} is not done` : `Step ${n} is done`
    );
    if (refusal === undefined && !isDone) {
      this.#looked = undefined;
      const next = this.current;
      if (next) this.look(next);
      this.handedOn = next?.key;
      this.#looked = undefined;
    }
    return refusal;
  }

  isTicked = (tick: StepTick): boolean => stepState(this.#train.document, tick) === 'done';

  /** One slot of a wheel is filled, or not after all. @returns why it was refused */
  tick(tick: StepTick): string | undefined {
    const to = this.isTicked(tick) ? undefined : { as: tick.seal, on: rightNow() };
    return this.#train.dispatch(
      { op: 'set', at: TRAIN, path: ['assembly', 'steps', tick.key], to },
      to ? `${tick.what} is in` : `${tick.what} is not in`
    );
  }

  startAgain = (): string | undefined =>
    this.#train.dispatch(
      {
        op: 'batch',
        operations: ['steps', 'seconds'].map((key): Operation => ({
          op: 'set',
          at: TRAIN,
          path: ['assembly', key],
          to: undefined
        }))
      },
      'Begin the assembly again'
    );

  /** What was read at a step already, mm. */
  readAt = (measure: StepMeasure): number | undefined => readAt(this.#train.document, measure);

  doubt = doubtReading;

  /** Keeps a reading, mm. @returns why it was refused */
  read(measure: StepMeasure, lengthMm: number): string | undefined {
    const { name, maxErrorMm } = this.#instrument;
    return this.#train.dispatch(
      readingOperation(this.#train.document, measure, lengthMm, { instrument: name, errorMm: maxErrorMm }),
      'Keep a reading'
    );
  }

  /** Keeps the length of a thread, mm. @returns why it was refused */
  readThread = (thread: ThreadToMeasure, lengthMm: number): string | undefined =>
    this.#train.dispatch(threadOperation(thread, lengthMm), 'Keep the length of a thread');

  take = ({ operation, kind }: Landing): string | undefined =>
    this.#train.dispatch(operation, kind === 'dial' ? 'Set a dial' : 'Lay shims in');

  /** Time that all steps took together, s. */
  readonly seconds = $derived.by(() => Object.values(this.#kept.seconds ?? {}).reduce((sum, each) => sum + each, 0));
}
