import { doubtsOf, type Doubt } from '../doubt/doubts.ts';
import { Spread } from '../doubt/spread.ts';
import type { Joint } from '../joint/joints.ts';
import { focuserWindows, lengthDials, type FocuserWindow, type LengthDial } from '../length/dial.ts';
import { ledgerOf, type Ledger } from '../length/ledger.ts';
import { axisOf, type Axis } from '../length/axis.ts';
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

  /** The beam and what stands in it; undefined where the sensor is not known. */
  get light(): Light | undefined {
    if (this.#light === undefined) this.#light = lightOf(this.train, this.ledger, this.axis) ?? null;
    return this.#light ?? undefined;
  }

  /** The off-axis guider; undefined where there is none. */
  get guide(): Guide | undefined {
    if (this.#guide === undefined) {
      this.#guide = guideOf(this.train, this.ledger, this.axis, this.light) ?? null;
    }
    return this.#guide ?? undefined;
  }

  /** Whether the draw tube reaches; undefined where nothing is stated of the host’s focus. */
  get focus(): FocusBudget | undefined {
    if (this.#focus === undefined) {
      this.#focus = focusBudget(this.train, this.ledger, this.axis, () => this.spread.halfWidth95Mm) ?? null;
    }
    return this.#focus ?? undefined;
  }

  /** What hangs on the host. */
  get load(): Load {
    return (this.#load ??= new Load(this.train, this.axis));
  }

  get doubts(): readonly Doubt[] {
    return (this.#doubts ??= doubtsOf(this.train, this.ledger));
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
