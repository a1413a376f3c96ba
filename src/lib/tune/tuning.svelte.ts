import { reasonOf } from '$lib/api/reason.ts';
import { TRAIN, apply, type Operation, type TiltPlate, type Train, type TriedSpacing } from '@lodestone/core/train';
import { assess } from '@lodestone/core/check';
import { spacingFromScale, type MeasuredSpacing } from '@lodestone/core/light';
import {
  cornerStars,
  frameScatterOf,
  knownTilt,
  solvedScale,
  spacingOf,
  startingSchools,
  strangerIn,
  takenWith,
  tuneFrom,
  tunedOperation,
  type Experiment,
  type KnownTilt,
  type NextTry,
  type SensorTilt
} from '@lodestone/core/experiment';
import type { LengthUnit } from '@lodestone/core/why';
import { isFilling } from '@lodestone/core/finder';
import type { Drawer } from '$lib/parts/drawer.svelte.ts';
import { tiedBut } from '$lib/parts/tied.ts';
import type { FinderWorker } from '$lib/workers/finder.worker.ts';
import { ask } from '$lib/workers/ask.ts';
import { startFinder } from '$lib/workers/start.ts';
import { rightNow } from '$lib/ui/time.ts';
import type { TrainSession } from '$lib/train/session.svelte.ts';
import type { TestFrame } from '$lib/frames/frames.svelte.ts';
import type { ReadSweep } from '$lib/frames/sweep.svelte.ts';

/** Spacings an experiment may be of (its schema). */
const LEAST_SPACING_MM = -100;
const MOST_SPACING_MM = 2000;
/** Nearer than this to a wanted spacing, nothing has to be changed, mm. */
const NEAR_ENOUGH_MM = 0.08;
/** Spacings nearer to each other than this are of one setup, mm. */
const SAME_SETUP_MM = 0.005;

/** Spacings that were tried with a train; kept in the train. */
export class Tuning {
  readonly #train: TrainSession;
  readonly #drawer: Drawer;
  readonly #unit: () => LengthUnit;

  constructor(train: TrainSession, drawer: Drawer, unit: () => LengthUnit) {
    this.#train = train;
    this.#drawer = drawer;
    this.#unit = unit;
  }

  readonly experiments: readonly TriedSpacing[] = $derived.by(
    () => (this.#train.document.tuning?.experiments ?? []) as readonly TriedSpacing[]
  );
  readonly #required = $derived.by(() => this.#train.assessment.facts.ledger.required);

  /** What the train asks for, as published and as tuned, mm. */
  readonly publishedMm: number | undefined = $derived(this.#required.nominalMm ?? undefined);
  readonly tunedMm: number | undefined = $derived(this.#required.tunedMm ?? undefined);

  /** Spacing of the train as it stands, as a tuned value is measured, mm; undefined while a place is open or nothing is asked for. */
  readonly spacingMm: number | undefined = $derived.by(() => spacingOf(this.#train.document));
  /** Where the two schools would go first, while nothing decides between them. */
  readonly schools = $derived.by(() => startingSchools(this.experiments as readonly Experiment[]));
  /** What makes the best spacing the corrector's own; undefined where nothing is known, or there is no corrector. */
  readonly #accepting: Operation | undefined = $derived.by(() => {
    const { bestMm } = this.answer;
    return bestMm === null ? undefined : tunedOperation(this.#train.document, Number(bestMm.toFixed(2)));
  });
  /** What a check says of the tuned value, or of the one that is offered: that the published one was probably measured from elsewhere. */
  readonly misread = $derived.by(() => {
    const accepting = this.#accepting;
    const { findings } = accepting ? assess(apply(this.#train.document, accepting)) : this.#train.assessment;
    return findings.find(({ code }) => code === 'datum-misread');
  });
  readonly plate: TiltPlate | undefined = $derived.by(
    () => this.#train.document.tuning?.plate as TiltPlate | undefined
  );
  /** The last sweep that was kept before one with this tilt, with when it was. */
  tiltBefore({ slopeUm }: Pick<SensorTilt, 'slopeUm'>): { tilt: KnownTilt; on: string | undefined } | undefined {
    for (const { sweep, on } of this.experiments.toReversed()) {
      const { tiltUm, tiltStandardUm } = sweep ?? {};
      if (!tiltUm || tiltStandardUm === undefined) continue;
      // Kept already, it is not its own predecessor.
      if (tiltUm.every((um, axis) => Math.abs(um - slopeUm[axis]!) < 0.01)) continue;
      return { tilt: { slopeUm: tiltUm as [number, number], standardUm: tiltStandardUm }, on };
    }
    return undefined;
  }
  /** Tilt by the last sweep that was kept. */
  readonly keptTilt: Pick<SensorTilt, 'slopeUm' | 'covariance'> | undefined = $derived.by(() => {
    const sweep = this.experiments.findLast(({ sweep }) => sweep?.tiltUm !== undefined)?.sweep;
    const variance = (sweep?.tiltStandardUm ?? 0) ** 2;
    return sweep?.tiltUm && { slopeUm: sweep.tiltUm, covariance: [variance, 0, variance] };
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

  /** @param atMm spacing it was seen at; the one the train has now where it is left out */
  #add(seen: readonly Partial<TriedSpacing>[], label: string, atMm?: number): string | undefined {
    if (atMm === undefined && this.spacingMm === undefined) {
      return 'The spacing of this train is not known: fill its gaps and state the back focus of its corrector, or type the spacing of the try.';
    }
    if (atMm !== undefined && !(atMm >= LEAST_SPACING_MM && atMm <= MOST_SPACING_MM)) {
      return `A spacing must be between ${LEAST_SPACING_MM} and ${MOST_SPACING_MM} mm.`;
    }
    const place =
      atMm === undefined
        ? {
            spacingMm: Number(this.spacingMm!.toFixed(3)),
            uncertaintyMm: Number(this.#train.assessment.facts.spread.halfWidth95Mm.toFixed(3))
          }
        : { spacingMm: Number(atMm.toFixed(3)) };
    const on = rightNow();
    return this.#set([...this.experiments, ...seen.map((each) => ({ on, ...place, ...each }))], label);
  }

  /** What a frame says, as an experiment without its place; a sentence where it says nothing, or is of another camera. */
  #entryOf({ name, summary }: TestFrame): Partial<TriedSpacing> | string {
    const { radial, cornerSizePct = null, cornerSizeStandardPct = null } = summary?.field ?? {};
    if (!summary || !radial) return `${name} does not show how its corners are elongated.`;
    const taken = takenWith(summary);
    const stranger = strangerIn(this.experiments, taken);
    if (stranger !== undefined) return `${name} does not go with the other experiments. ${stranger}`;
    const value = Math.max(-1, Math.min(1, radial.corner));
    return {
      radial: { value: Number(value.toFixed(4)), standard: Number(Math.max(0.001, radial.standard).toFixed(4)) },
      ...(cornerSizePct === null || cornerSizeStandardPct === null
        ? {}
        : {
            size: {
              cornerPct: Number(cornerSizePct.toFixed(1)),
              standardPct: Number(Math.max(0.1, cornerSizeStandardPct).toFixed(1))
            }
          }),
      frame: name.slice(0, 200),
      ...taken,
      corners: cornerStars(summary)
    };
  }

  /**
   * Writes down what frames of one setup say of the spacing the train has now, or of another one, in one change.
   *
   * @returns why it cannot
   */
  addFrames(frames: readonly TestFrame[], atMm?: number): string | undefined {
    const entries: Partial<TriedSpacing>[] = [];
    for (const frame of frames) {
      const entry = this.#entryOf(frame);
      if (typeof entry === 'string') return entry;
      entries.push(entry);
    }
    const [one] = entries;
    if (entries.some(({ camera, binning }) => camera !== one!.camera || binning !== one!.binning))
      return 'These frames are not of one camera and binning: they do not show how far frames of one setup differ.';
    const [first] = frames;
    const label =
      frames.length === 1 ? `Keep ${first!.name} as an experiment` : `Keep ${frames.length} frames of one setup`;
    return this.#add(entries, label, atMm);
  }

  /** Frames that could be kept: read, with stretch in their corners, and not kept at this spacing yet. */
  keepable(frames: readonly TestFrame[]): TestFrame[] {
    const { spacingMm: now } = this;
    const kept = this.experiments
      .filter(({ spacingMm }) => now !== undefined && Math.abs(spacingMm - now) < SAME_SETUP_MM)
      .map(({ frame }) => frame);
    return frames.filter(({ summary, name }) => summary?.field.radial && !kept.includes(name.slice(0, 200)));
  }

  /** How far frames of one setup differ by themselves, once several were kept. */
  readonly scatter = $derived.by(() => frameScatterOf(this.experiments as readonly Experiment[]));

  /** Writes down what a focus sweep says of the spacing the train has now. @returns why it cannot */
  addSweep({ reading }: ReadSweep, frame: TestFrame | undefined): string | undefined {
    const { astigmatismUm, astigmatismStandardUm, curvatureUm, tilt, frames } = reading;
    const rounded = (um: number): number => Number(um.toFixed(2));
    const taken = frame?.summary ? takenWith(frame.summary) : {};
    const stranger = strangerIn(this.experiments, taken);
    if (stranger !== undefined) return `This sweep does not go with the other experiments. ${stranger}`;
    return this.#add(
      [
        {
          sweep: {
            astigmatismUm: rounded(astigmatismUm),
            curvatureUm: rounded(curvatureUm),
            standardUm: Math.max(0.01, rounded(astigmatismStandardUm)),
            tiltUm: [rounded(tilt.slopeUm[0]), rounded(tilt.slopeUm[1])],
            tiltStandardUm: rounded(knownTilt(tilt).standardUm)
          },
          frame: `a sweep of ${frames} frames`,
          ...taken
        }
      ],
      'Keep the sweep as an experiment'
    );
  }

  setPlate = (plate: TiltPlate | undefined): string | undefined =>
    this.#train.dispatch(
      { op: 'set', at: TRAIN, path: ['tuning', 'plate'], to: plate },
      'Describe the tilt plate',
      'plate'
    );

  /** What a solved frame says of the spacing; undefined where it was not solved, a sentence where it says nothing. */
  bySolved(frame: TestFrame | undefined): (MeasuredSpacing & { offMm: number }) | string | undefined {
    const scale = frame?.summary && solvedScale(frame.summary);
    const { light, ledger } = this.#train.assessment.facts;
    if (!scale || !light) return undefined;
    const spacing = spacingFromScale(this.#train.document, light, scale.arcsecPerPx);
    return typeof spacing === 'string' ? spacing : { ...spacing, offMm: spacing.actualMm - ledger.actualMm };
  }

  /** The try the drawer can build, while it is looked for and when it was found. */
  trying = $state<'looking' | 'found' | 'placed' | 'there' | 'unread' | 'none' | 'failed'>();
  found = $state.raw<NextTry & { from: Train }>();
  tryFailure = $state('');
  #looking: AbortController | undefined;
  #lookedForMm: number | undefined;

  /** Asks the drawer for the change that gives another spacing with the fewest joints opened. */
  async lookFor(spacingMm: number): Promise<void> {
    this.letGo();
    this.#lookedForMm = spacingMm;
    if (this.spacingMm !== undefined && Math.abs(spacingMm - this.spacingMm) < NEAR_ENOUGH_MM) {
      this.trying = 'there';
      return;
    }
    if (!this.#drawer.isRead) {
      this.trying = 'unread';
      return;
    }
    this.trying = 'looking';
    const looking = new AbortController();
    this.#looking = looking;
    const from = $state.snapshot(this.#train.document) as Train;
    try {
      const task = {
        train: from,
        parts: this.#drawer.plain.filter((part) => isFilling(part)),
        prefer: 'fewest' as const,
        maxPieces: 4,
        cornerLight: undefined,
        unit: this.#unit(),
        withShop: false,
        pinned: [],
        forbidden: [],
        tied: tiedBut(this.#drawer.uses, [this.#train.id])
      };
      const found = await ask<FinderWorker, NextTry | undefined>(
        startFinder,
        (finder) => finder.nextTry(task, spacingMm),
        looking
      );
      this.found = found && { ...found, from };
      this.trying = found ? 'found' : 'none';
    } catch (error) {
      if (looking.signal.aborted) return;
      this.trying = 'failed';
      this.tryFailure = reasonOf(error);
    }
  }

  /** Looks once more for what was looked for last. */
  async lookAgain(): Promise<void> {
    if (this.#lookedForMm !== undefined) await this.lookFor(this.#lookedForMm);
  }

  /** Forgets what was found, and stops looking. */
  letGo(): void {
    this.#looking?.abort();
    this.found = undefined;
    this.trying = undefined;
  }

  /** Puts the rings of the next try on the rail. @returns why it cannot */
  putOnRail(): string | undefined {
    const { found } = this;
    if (!found) return undefined;
    const refusal = this.#train.dispatch(found.operation, `Try ${found.spacingMm.toFixed(2)} mm`);
    if (refusal === undefined) this.trying = 'placed';
    return refusal;
  }

  addEye = (eye: NonNullable<TriedSpacing['eye']>, atMm?: number): string | undefined =>
    this.#add([{ eye }], 'Keep an entry by eye', atMm);

  remove = (index: number): string | undefined =>
    this.#set(this.experiments.toSpliced(index, 1), 'Remove an experiment');

  /** Makes the best spacing the corrector's own. @returns why it cannot */
  accept(): string | undefined {
    if (this.answer.bestMm === null) return undefined;
    const operation = this.#accepting;
    if (!operation) return 'This train has no corrector to keep it with.';
    return this.#train.dispatch(operation, 'Keep the tuned back focus');
  }
}
