import type { Measurement } from '@lodestone/core/drawer';
import { serial, simulated, type CaliperDriver } from './calipers.ts';
import { today } from '$lib/ui/time.ts';

const STORED_AS = 'lodestone.instrument';

/** Name of the instrument that ships; readings with it are told by it. */
export const SIMULATED = 'Simulated caliper';
const SIMULATED_ERROR_MM = 0.02;

/** How readings come: typed or sent as keys, from a serial port, or made up for trying. */
export type Source = 'typed' | 'serial' | 'simulated';

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
  source = $state<Source>('typed');
  #name = $state('Caliper');
  #maxErrorMm = $state(0.03);
  /** What the closed jaws of each read; a zero belongs to one instrument and one evening. */
  #zeros = $state.raw<Partial<Record<string, number>>>({});

  get isSimulated(): boolean {
    return this.source === 'simulated';
  }

  get name(): string {
    return this.isSimulated ? SIMULATED : this.#name;
  }

  get maxErrorMm(): number {
    return this.isSimulated ? SIMULATED_ERROR_MM : this.#maxErrorMm;
  }

  /** Undefined until the closed jaws were looked at. */
  get zeroMm(): number | undefined {
    return this.#zeros[this.name];
  }

  set zeroMm(zeroMm: number | undefined) {
    this.#zeros = { ...this.#zeros, [this.name]: zeroMm };
  }

  get driver(): CaliperDriver | undefined {
    return this.source === 'simulated' ? simulated : this.source === 'serial' ? serial : undefined;
  }

  /** Takes over what this browser remembers of one's own instrument; in the browser only. */
  recall(): void {
    try {
      const stored: unknown = JSON.parse(localStorage.getItem(STORED_AS) ?? 'null');
      if (isStored(stored) && stored.name !== SIMULATED) {
        [this.#name, this.#maxErrorMm] = [stored.name, stored.maxErrorMm];
      }
    } catch {
      // Nothing that was stored can be read: start afresh.
    }
  }

  /** Another instrument of one's own is taken up. The simulated one is as it is. */
  take(name: string, maxErrorMm: number): void {
    if (this.isSimulated || name === SIMULATED) return;
    this.#name = name;
    this.#maxErrorMm = maxErrorMm;
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
