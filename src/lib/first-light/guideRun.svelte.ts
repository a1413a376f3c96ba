import { TRAIN, type FocusRun, type Operation } from '@lodestone/core/train';
import { readFocusRun, type FocusPoint } from '@lodestone/core/focus';
import { rightNow } from '$lib/ui/time.ts';
import type { TrainSession } from '$lib/train/session.svelte.ts';
import type { Instruction } from './guide.ts';

/** Where a run of a helical goes next where nothing is known of it yet: marks (common practice, no source). */
const USUAL_MARKS = 1;

const set = (to: unknown): Operation => ({ op: 'set', at: TRAIN, path: ['focusing', 'guideRun'], to });

/** The guide camera is focused by itself once the main camera is: a run of its own, in the marks of its helical. */
export class GuideRun {
  readonly #train: TrainSession;

  constructor(train: TrainSession) {
    this.#train = train;
  }

  readonly run: FocusRun = $derived.by(() => this.#train.document.focusing?.guideRun ?? { points: [] });
  readonly points = $derived(this.run.points as readonly FocusPoint[]);
  // A helical is turned by hand against a mark: it has no counter that loses steps.
  readonly answer = $derived(readFocusRun(this.points, 0, undefined));
  /** What is due next, where a frame is asked for. */
  readonly next: Pick<Instruction, 'position' | 'way'> | undefined = $derived.by(() => {
    const { nextPosition, enough } = this.answer;
    const last = this.points.at(-1);
    if (enough) return undefined;
    if (!last) return { position: 0, way: 'out' };
    const position = nextPosition ?? last.position + USUAL_MARKS;
    return { position, way: position < last.position ? 'in' : 'out' };
  });
  readonly headline: string = $derived.by(() => {
    const { bestPosition, standard, enough, why } = this.answer;
    if (bestPosition === null || standard === null)
      return why ?? 'Turn the helical to its stop, and take a frame there.';
    const best = `Smallest at ${bestPosition.toFixed(1)} ±${(2 * standard).toFixed(1)}`;
    return enough ? `${best}: turn it there and lock it.` : `${best}, not certain yet.`;
  });

  /** Adds a frame to the run. @returns why it was refused */
  add = (point: FocusPoint, from: NonNullable<FocusRun['from']>): string | undefined =>
    this.#train.dispatch(
      set({ ...this.run, on: this.run.on ?? rightNow(), from: this.run.from ?? from, points: [...this.points, point] }),
      `Add a guide frame at ${point.position}`
    );

  startAgain = (): string | undefined => this.#train.dispatch(set(undefined), 'Begin the guide run again');
}
