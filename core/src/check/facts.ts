import { doubtsOf, type Doubt } from '../doubt/doubts.ts';
import { Spread } from '../doubt/spread.ts';
import type { Joint } from '../joint/joints.ts';
import { focuserWindows, lengthDials, type FocuserWindow, type LengthDial } from '../length/dial.ts';
import { ledgerOf, type Ledger } from '../length/ledger.ts';
import { axisOf, type Axis } from '../length/axis.ts';
import { filledOf, type Filled } from '../length/filling.ts';
import { focusBudget, type FocusBudget } from '../focus/budget.ts';
import { guideOf, type Guide } from '../guide/guide.ts';
import { Load } from '../load/load.ts';
import { lightOf, type Light } from '../light/light.ts';
import type { Train } from '../train/model.ts';

/** What is known about a train: each field reckoned when it is first asked for, once a document. */
export class Facts {
  readonly train: Train;
  readonly ledger: Ledger;
  #axis: Axis | undefined;
  #filled: Filled | null | undefined;
  #light: Light | null | undefined;
  #guide: Guide | null | undefined;
  #load: Load | undefined;
  #focus: FocusBudget | null | undefined;
  #doubts: Doubt[] | undefined;
  #spread: Spread | undefined;
  #dials: LengthDial[] | undefined;
  #windows: FocuserWindow[] | undefined;

  /** @param train a valid document, as `readTrain` hands it over */
  constructor(train: Train) {
    this.train = train;
    this.ledger = ledgerOf(train);
  }

  get joints(): readonly Joint[] {
    return this.ledger.joints;
  }

  /** Where everything stands along the axis. */
  get axis(): Axis {
    return (this.#axis ??= axisOf(this.train, this.ledger));
  }

  /** The train with its gaps filled; undefined where it has none, or nothing goes into them. */
  get filled(): Filled | undefined {
    if (this.#filled === undefined) this.#filled = filledOf(this.train, this.ledger) ?? null;
    return this.#filled ?? undefined;
  }

  /** Ledger and axis that light, guiding, load and focus are judged by: a half-built train is not judged as if whole. */
  get standing(): { ledger: Ledger; axis: Axis } {
    return this.filled ?? this;
  }

  /** Where a place on the axis of the filled train lies on that of the train as it is, its gaps closed, mm. */
  drawnAt(alongMm: number): number {
    const { filled } = this;
    if (!filled) return alongMm;
    let closedMm = 0;
    for (const [index, lengthMm] of filled.lengths) {
      const { fromMm } = filled.axis.spans[index]!;
      // Behind the datum what lies sky-ward of a place is taken out, ahead of it what lies toward the camera.
      const insideMm = Math.min(lengthMm, Math.max(0, alongMm - fromMm));
      closedMm += index > this.ledger.datum.index ? insideMm : insideMm - lengthMm;
    }
    return alongMm - closedMm;
  }

  /** The beam and what stands in it; undefined where the sensor is not known. */
  get light(): Light | undefined {
    if (this.#light === undefined) this.#light = lightOf(this.train, this.standing.ledger, this.standing.axis) ?? null;
    return this.#light ?? undefined;
  }

  /** The off-axis guider; undefined where there is none. */
  get guide(): Guide | undefined {
    if (this.#guide === undefined) {
      this.#guide = guideOf(this.train, this.standing.ledger, this.standing.axis, this.light) ?? null;
    }
    return this.#guide ?? undefined;
  }

  /** Whether the draw tube reaches; undefined where nothing is stated of the host’s focus. */
  get focus(): FocusBudget | undefined {
    if (this.#focus === undefined) {
      const { ledger, axis } = this.standing;
      this.#focus = focusBudget(this.train, ledger, axis, () => this.spread.halfWidth95Mm) ?? null;
    }
    return this.#focus ?? undefined;
  }

  /** What hangs on the host. */
  get load(): Load {
    return (this.#load ??= new Load(this.train, this.standing.axis));
  }

  get doubts(): readonly Doubt[] {
    return (this.#doubts ??= doubtsOf(this.train, this.ledger));
  }

  /** A gap that has to hold something is empty. */
  get hasEmptyPlace(): boolean {
    return this.train.elements.some((element) => element.kind === 'gap' && (element.minMm ?? 0) > 0);
  }

  /** Whether the tolerance of the back focus, or that of a length, is assumed: then nothing about it is certain. */
  get assumed(): { tolerance: boolean; lengths: boolean } {
    return {
      tolerance: this.ledger.toleranceSource === 'rule',
      lengths: this.doubts.some(({ kind }) => kind === 'assumed')
    };
  }

  /** How all that is not known spreads together. */
  get spread(): Spread {
    return (this.#spread ??= new Spread(this.doubts));
  }

  get dials(): readonly LengthDial[] {
    return (this.#dials ??= lengthDials(this.train, this.ledger));
  }

  get focuserWindows(): readonly FocuserWindow[] {
    return (this.#windows ??= focuserWindows(this.train, this.ledger));
  }
}
