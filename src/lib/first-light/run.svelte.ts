import { TRAIN, focalRatio, type FocusAttempt, type FocusRun, type Operation } from '@lodestone/core/train';
import { attemptBound, measuredBacklash, readFocusRun, steppingFor, type FocusPoint } from '@lodestone/core/focus';
import { rightNow } from '$lib/ui/time.ts';
import type { TrainSession } from '$lib/train/session.svelte.ts';

/** Where a run goes first where nothing is known of the focuser, steps (common practice, no source). */
const USUAL_STEP = 200;
/** So many steps of depth of focus are one step while stars are still large. */
const COARSE = 8;

const set = (path: [string, ...string[]], to: unknown): Operation => ({
  op: 'set',
  at: TRAIN,
  path: ['focusing', ...path],
  to
});

/** First light of a train: what was tried, the run in hand, and those that were kept. All of it is kept in the train. */
export class FocusSession {
  readonly #train: TrainSession;

  constructor(train: TrainSession) {
    this.#train = train;
  }

  readonly #kept = $derived.by(() => this.#train.document.focusing ?? {});
  readonly run: FocusRun = $derived(this.#kept.run ?? { points: [] });
  readonly points = $derived(this.run.points as readonly FocusPoint[]);
  readonly runs = $derived((this.#kept.runs ?? []) as readonly FocusRun[]);
  readonly attempts = $derived((this.#kept.attempts ?? []) as readonly FocusAttempt[]);
  readonly backlash: number = $derived.by(() => this.#train.document.host.focuser?.backlashSteps ?? 0);
  /** Last position of the focuser, where it is known: by the run itself, or by its travel and what a step moves. */
  readonly maxPosition: number | undefined = $derived.by(() => {
    const { travelMm, umPerStep } = this.#train.document.host.focuser ?? {};
    const byTravel = travelMm === undefined || umPerStep === undefined ? undefined : (travelMm * 1000) / umPerStep;
    return this.run.maxPosition ?? (byTravel === undefined ? undefined : Math.floor(byTravel));
  });
  /** What a step moves, µm: as it is stated, or as the two stops and the travel between them say. */
  readonly umPerStep: number | undefined = $derived.by(() => {
    const { travelMm, umPerStep } = this.#train.document.host.focuser ?? {};
    const { maxPosition } = this.run;
    if (umPerStep !== undefined || travelMm === undefined || !maxPosition) return umPerStep;
    return (travelMm * 1000) / maxPosition;
  });
  readonly answer = $derived(readFocusRun(this.points, this.backlash, this.maxPosition));
  readonly measured = $derived(measuredBacklash(this.points));
  readonly done = $derived(this.#kept.done ?? {});
  readonly note: string = $derived(this.#kept.note ?? '');

  /** Steps between two frames: coarse while stars are large, fine near the best. */
  readonly step: number = $derived.by(() => {
    const { document } = this.#train;
    const umPerStep = document.host.focuser?.umPerStep;
    const fine = umPerStep === undefined ? undefined : steppingFor(focalRatio(document), umPerStep).step;
    if (fine === undefined) return this.answer.curve ? USUAL_STEP / 2 : USUAL_STEP;
    const last = this.points.at(-1);
    const isLarge = last !== undefined && (last.hfrPx === undefined || last.hfrPx > 6);
    return this.answer.curve || !isLarge ? fine : COARSE * fine;
  });

  #dispatch(operations: readonly Operation[], label: string): string | undefined {
    return this.#train.dispatch({ op: 'batch', operations: [...operations] }, label);
  }

  /**
   * Adds a frame to the run.
   *
   * @param lastStep last position the focuser says it has
   * @returns why it was refused
   */
  add(point: FocusPoint, from: NonNullable<FocusRun['from']>, lastStep?: number): string | undefined {
    const run = {
      ...this.run,
      on: this.run.on ?? rightNow(),
      from: this.run.from ?? from,
      ...(lastStep === undefined ? {} : { maxPosition: lastStep }),
      points: [...this.points, point]
    };
    return this.#dispatch([set(['run'], run)], `Add a frame at ${point.position}`);
  }

  remove(index: number): string | undefined {
    return this.#dispatch([set(['run', 'points'], this.points.toSpliced(index, 1))], 'Remove a frame');
  }

  setFilter = (filter: string | undefined): string | undefined =>
    this.#dispatch([set(['run'], { ...this.run, filter: filter || undefined })], 'Name the filter');

  /** Keeps the run and begins another. */
  keep(): string | undefined {
    return this.#dispatch([set(['runs'], [...this.runs, this.run]), set(['run'], undefined)], 'Keep the run');
  }

  startAgain = (): string | undefined => this.#dispatch([set(['run'], undefined)], 'Begin the run again');

  /** Writes down that it did not come to focus. @returns why that cannot be used */
  tried(tube: FocusAttempt['tube'], tubeMm: number): string | undefined {
    const budget = this.#train.assessment.facts.focus;
    const bound = budget && attemptBound(budget, tube, tubeMm);
    if (bound === undefined) return 'How far the draw tube travels has to be stated first: under Build, in the host.';
    const attempt = { tube, ...(tubeMm === 0 ? {} : { tubeMm }), boundMm: Number(bound.toFixed(3)), on: rightNow() };
    return this.#dispatch([set(['attempts'], [...this.attempts, attempt])], 'It did not reach focus');
  }

  forget(index: number): string | undefined {
    const left = this.attempts.toSpliced(index, 1);
    return this.#dispatch([set(['attempts'], left.length === 0 ? undefined : left)], 'Remove an attempt');
  }

  tick = (key: string, on: boolean): string | undefined =>
    this.#dispatch(
      [set(['done', key], on ? true : undefined)],
      on ? 'A step of first light is done' : 'A step is not done'
    );

  setNote = (note: string): string | undefined =>
    this.#train.dispatch(
      set(['note'], note.trim() === '' ? undefined : note.trim()),
      'Note of first light',
      'focus note'
    );

  keepBacklash = (steps: number): string | undefined =>
    this.#train.dispatch(
      { op: 'set', at: 'host', path: ['focuser', 'backlashSteps'], to: Math.round(steps) },
      'Keep the backlash'
    );
}
