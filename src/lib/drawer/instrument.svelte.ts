import type { Measurement } from '@lodestone/core/drawer';
import { today } from './words.ts';

const STORED_AS = 'lodestone.instrument';

interface Stored {
  name: string;
  maxErrorMm: number;
}

const isStored = (candidate: unknown): candidate is Stored =>
  typeof candidate === 'object' &&
  candidate !== null &&
  'name' in candidate &&
  typeof candidate.name === 'string' &&
  'maxErrorMm' in candidate &&
  typeof candidate.maxErrorMm === 'number';

/** The instrument in hand: its name, what its maker allows it to be wrong by, and what its closed jaws read. */
export class Instrument {
  name = $state('Caliper');
  maxErrorMm = $state(0.03);
  /** What the closed jaws read; undefined until it was looked at. A zero belongs to one instrument and one evening. */
  zeroMm = $state<number>();

  /** Takes over what this browser remembers; in the browser only. */
  recall(): void {
    try {
      const stored: unknown = JSON.parse(localStorage.getItem(STORED_AS) ?? 'null');
      if (isStored(stored)) [this.name, this.maxErrorMm] = [stored.name, stored.maxErrorMm];
    } catch {
      // Nothing that was stored can be read: start afresh.
    }
  }

  /** Another instrument is taken up: its zero is not known yet. */
  take(name: string, maxErrorMm: number): void {
    if (name !== this.name) this.zeroMm = undefined;
    this.name = name;
    this.maxErrorMm = maxErrorMm;
    localStorage.setItem(STORED_AS, JSON.stringify({ name, maxErrorMm }));
  }

  /** A reading as it is kept: the zero taken off. */
  measurement(readMm: number): Measurement {
    const zero = this.zeroMm ?? 0;
    return {
      lengthMm: Number(Math.max(0, readMm - zero).toFixed(4)),
      ...(zero === 0 ? {} : { zeroMm: zero }),
      instrument: this.name,
      maxErrorMm: this.maxErrorMm,
      date: today()
    };
  }
}
