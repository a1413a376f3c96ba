import { TRAIN, correctorOf, type Operation, type TriedSpacing } from '@lodestone/core';
import { tuneFrom, type Experiment } from '@lodestone/core/experiment';
import { rightNow } from '$lib/ui/time.ts';
import type { TrainSession } from '$lib/train/session.svelte.ts';
import type { TestFrame } from './frames.svelte.ts';

/** Spacings that were tried with a train; kept in the train. */
export class Tuning {
  readonly #train: TrainSession;

  constructor(train: TrainSession) {
    this.#train = train;
  }

  readonly experiments: readonly TriedSpacing[] = $derived.by(
    () => (this.#train.document.tuning?.experiments ?? []) as readonly TriedSpacing[]
  );
  readonly #required = $derived.by(() => this.#train.assessment.facts.ledger.required);

  /** What the train asks for, as published and as tuned, mm. */
  readonly publishedMm: number | undefined = $derived(this.#required.nominalMm ?? undefined);
  readonly tunedMm: number | undefined = $derived(this.#required.tunedMm ?? undefined);

  /** Spacing of the train as it stands, as a tuned value is measured, mm; undefined while a place is open or nothing is asked for. */
  readonly spacingMm: number | undefined = $derived.by(() => {
    const { document, assessment } = this.#train;
    const { datumMm, glassMm } = this.#required;
    if (datumMm === null || glassMm === null || document.elements.some(({ kind }) => kind === 'gap')) return undefined;
    return assessment.facts.ledger.actualMm - datumMm - glassMm;
  });
  readonly answer = $derived.by(() => tuneFrom(this.experiments as readonly Experiment[], this.publishedMm));

  #set(experiments: readonly TriedSpacing[], label: string): string | undefined {
    const operation: Operation = {
      op: 'set',
      at: TRAIN,
      path: ['tuning', 'experiments'],
      to: experiments.length === 0 ? undefined : experiments
    };
    return this.#train.dispatch(operation, label);
  }

  #add(seen: Partial<TriedSpacing>, label: string): string | undefined {
    if (this.spacingMm === undefined) {
      return 'The spacing of this train is not known: close its open places and give its corrector a back focus first.';
    }
    const experiment: TriedSpacing = {
      on: rightNow(),
      spacingMm: Number(this.spacingMm.toFixed(3)),
      uncertaintyMm: Number(this.#train.assessment.facts.spread.halfWidth95Mm.toFixed(3)),
      ...seen
    };
    return this.#set([...this.experiments, experiment], label);
  }

  /** Writes down what a frame says of the spacing the train has now. @returns why it cannot */
  addFrame({ name, summary }: TestFrame): string | undefined {
    const radial = summary?.field.radial;
    if (!radial) return 'This frame does not tell how its corners are stretched.';
    const value = Math.max(-1, Math.min(1, radial.corner));
    return this.#add(
      {
        radial: { value: Number(value.toFixed(4)), standard: Number(Math.max(0.001, radial.standard).toFixed(4)) },
        frame: name.slice(0, 200)
      },
      `Keep what ${name} says`
    );
  }

  addEye = (eye: NonNullable<TriedSpacing['eye']>): string | undefined => this.#add({ eye }, 'Keep what the eye says');

  remove = (index: number): string | undefined =>
    this.#set(this.experiments.toSpliced(index, 1), 'Take an experiment out');

  /** Makes the best spacing the corrector's own. @returns why it cannot */
  accept(): string | undefined {
    const { bestMm } = this.answer;
    if (bestMm === null) return undefined;
    const { elements, host } = this.#train.document;
    const at = elements.find((element) => correctorOf(element))?.id ?? (host.corrector ? 'host' : undefined);
    if (at === undefined) return 'This train has no corrector to keep it with.';
    return this.#train.dispatch(
      { op: 'set', at, path: ['corrector', 'tunedMm'], to: Number(bestMm.toFixed(2)) },
      'Keep the tuned back focus'
    );
  }
}
