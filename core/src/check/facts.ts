import { doubtsOf, type Doubt } from '../doubt/doubts.ts';
import { Spread } from '../doubt/spread.ts';
import type { Joint } from '../joint/joints.ts';
import { focuserWindows, lengthDials, type FocuserWindow, type LengthDial } from '../length/dial.ts';
import { ledgerOf, type Ledger } from '../length/ledger.ts';
import type { Train } from '../train/model.ts';

/** What is known about a train: each field reckoned when it is first asked for, once a document. */
export class Facts {
  readonly train: Train;
  readonly ledger: Ledger;
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

  get doubts(): readonly Doubt[] {
    return (this.#doubts ??= doubtsOf(this.train, this.ledger));
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
