import { ASSUMED_CALIPER_MM, TRAIN } from '@lodestone/core';
import {
  assemblySheet,
  doubtReading,
  readAt,
  readingOperation,
  type AssemblyOrder,
  type AssemblyStep,
  type StepMeasure
} from '@lodestone/core/assembly';
import type { TrainSession } from '$lib/train/session.svelte.ts';

/** What a step is remembered by: its joint, or the holder that is filled. */
export const keyOf = ({ joint, parts }: AssemblyStep): string => joint ?? `fill ${parts[0] ?? ''}`;

/**
 * The assembly of a train, step by step. Order, what is done and every reading are kept in the train itself: they find
 * their way to other devices and back after a reload like any other change.
 */
export class Bench {
  /** A step that is looked at out of turn; the next one that is not done where undefined. */
  #looked = $state<string>();
  readonly #train: TrainSession;

  constructor(train: TrainSession) {
    this.#train = train;
  }

  readonly #kept = $derived.by(() => this.#train.document.assembly ?? {});
  readonly order: AssemblyOrder = $derived(this.#kept.order ?? 'camera');
  readonly steps: readonly AssemblyStep[] = $derived.by(() => assemblySheet(this.#train.document, this.order));
  readonly #done: readonly string[] = $derived(this.#kept.done ?? []);

  isDone = (step: AssemblyStep): boolean => this.#done.includes(keyOf(step));

  readonly doneCount = $derived(this.steps.filter((step) => this.#done.includes(keyOf(step))).length);

  /** What is in hand; undefined where everything is done. */
  readonly current: AssemblyStep | undefined = $derived.by(() => {
    const looked = this.steps.find((step) => keyOf(step) === this.#looked);
    return looked ?? this.steps.find((step) => !this.#done.includes(keyOf(step)));
  });

  look(step: AssemblyStep): void {
    this.#looked = keyOf(step);
    if (step.joint !== null) this.#train.select({ kind: 'joint', id: step.joint });
    else if (step.parts[0] !== undefined) this.#train.select({ kind: 'element', id: step.parts[0] });
  }

  /** Walks the steps. */
  walk(by: 1 | -1): void {
    const index = this.current ? this.steps.indexOf(this.current) : this.steps.length;
    const to = this.steps[Math.max(0, Math.min(this.steps.length - 1, index + by))];
    if (to) this.look(to);
  }

  #keep(to: Record<string, unknown>, label: string): string | undefined {
    return this.#train.dispatch({ op: 'set', at: TRAIN, path: ['assembly'], to: { ...this.#kept, ...to } }, label);
  }

  choose = (order: AssemblyOrder): string | undefined => this.#keep({ order }, 'Assemble the other way');

  /** Marks a step done, and goes on to the next that is not; done again, it is taken back. */
  toggle(step: AssemblyStep): string | undefined {
    const key = keyOf(step);
    const isDone = this.#done.includes(key);
    const others = (this.#kept.done ?? []).filter((each) => each !== key);
    const refusal = this.#keep(
      { done: isDone ? others : [...others, key] },
      isDone ? `Step ${step.n} is not done` : `Step ${step.n} is done`
    );
    if (refusal === undefined && !isDone) {
      this.#looked = undefined;
      const next = this.current;
      if (next) this.look(next);
      this.#looked = undefined;
    }
    return refusal;
  }

  startAgain = (): string | undefined => this.#keep({ done: [] }, 'Begin the assembly again');

  /** What was read at a step already, mm. */
  readAt = (measure: StepMeasure): number | undefined => readAt(this.#train.document, measure);

  doubt = doubtReading;

  /** Keeps a reading, mm. @returns why it was refused */
  read(measure: StepMeasure, lengthMm: number): string | undefined {
    return this.#train.dispatch(
      readingOperation(this.#train.document, measure, lengthMm, ASSUMED_CALIPER_MM),
      'Keep a reading'
    );
  }
}
