import { xoroshiro128plus, xoroshiro128plusFromState } from 'pure-rand/generator/xoroshiro128plus';
import { normalOf, uniformOf } from '../stats/random.ts';

/** How a simulated focuser is made, and where its star is sharp. */
export interface SimulatedSpec {
  /** Last step on either end: it stops there, whatever it is told. */
  lastStep: number;
  umPerStep: number;
  /** Steps that are lost after a reversal. */
  backlash: number;
  /** Chance that the clutch slips during a move. */
  slip: number;
  /** Where the star is sharp, in true steps from fully in. */
  bestStep: number;
  /** Smallest half-flux radius, px. */
  leastHfrPx: number;
  /** Slope far from focus, px a step. */
  perStepPx: number;
  /** Scatter of one frame, as a share of the radius. */
  scatter: number;
  seed: number;
}

/** What a device says of itself. */
export interface FocuserState {
  /** What it counts: it does not know what it lost. */
  position: number;
  lastStep: number;
  umPerStep: number;
  /** It ran into an end stop with the last move. */
  stopped: boolean;
}

/** One frame. */
export interface FocusFrame {
  position: number;
  hfrPx: number;
  standardPx: number;
  /** The star was larger than the camera’s window. */
  ceiling?: true;
}

/** All a simulated focuser is made of, as it can be kept. */
export interface FocuserMemory {
  spec: SimulatedSpec;
  random: readonly number[];
  tube: number;
  taken: number;
  counted: number;
  stopped: boolean;
}

/** Frames larger than this show no star any more, px. */
const LARGEST_HFR_PX = 900;

/**
 * A focuser and a camera that ship, so that everything can be tried without any: it has steps, backlash, an encoder that
 * is zeroed, end stops and a clutch that may slip, and never says where the tube really is.
 */
export class SimulatedFocuser {
  readonly #spec: SimulatedSpec;
  readonly #source: ReturnType<typeof xoroshiro128plus>;
  /** Where the tube is, and how much of the backlash is taken up on the way in (0) or out (backlash). */
  #tube: number;
  #taken = 0;
  #counted = 0;
  #stopped = false;

  /** @param memory of the one it goes on as, where it is not new */
  constructor(spec: SimulatedSpec, memory?: FocuserMemory) {
    this.#spec = spec;
    if (memory) {
      this.#source = xoroshiro128plusFromState(memory.random);
      this.#tube = memory.tube;
      this.#taken = memory.taken;
      this.#counted = memory.counted;
      this.#stopped = memory.stopped;
      return;
    }
    this.#source = xoroshiro128plus(spec.seed);
    // Whoever had it last left it somewhere.
    this.#tube = Math.round(spec.lastStep * 0.1 * this.#random());
    this.#counted = this.#tube + Math.round(200 * this.#random());
  }

  /** One that goes on where another stood. */
  static from(memory: FocuserMemory): SimulatedFocuser {
    return new SimulatedFocuser(memory.spec, memory);
  }

  #random(): number {
    return uniformOf(this.#source);
  }

  get memory(): FocuserMemory {
    return {
      spec: this.#spec,
      random: this.#source.getState(),
      tube: this.#tube,
      taken: this.#taken,
      counted: this.#counted,
      stopped: this.#stopped
    };
  }

  get state(): FocuserState {
    const { lastStep, umPerStep } = this.#spec;
    return { position: this.#counted, lastStep, umPerStep, stopped: this.#stopped };
  }

  /** Drives it fully in and calls that zero, as one does at the start. */
  zero(): FocuserState {
    this.#tube = 0;
    this.#taken = 0;
    this.#counted = 0;
    this.#stopped = false;
    return this.state;
  }

  /** Moves to a position it counts. */
  move(to: number): FocuserState {
    const { backlash, lastStep, slip } = this.#spec;
    const by = Math.round(to) - this.#counted;
    this.#counted += by;
    // The motor turns in the backlash first, then the tube follows; a slipping clutch loses a part of the way.
    const wanted = this.#taken + by;
    const taken = Math.max(0, Math.min(backlash, wanted));
    const follows = wanted - taken;
    this.#taken = taken;
    const lost = this.#random() < slip ? follows * 0.3 * this.#random() : 0;
    const arrives = this.#tube + follows - lost;
    this.#tube = Math.max(0, Math.min(lastStep, arrives));
    this.#stopped = arrives !== this.#tube;
    return this.state;
  }

  /** Takes a frame where it stands. */
  frame(): FocusFrame {
    const { bestStep, leastHfrPx, perStepPx, scatter } = this.#spec;
    const true_ = Math.hypot(leastHfrPx, perStepPx * (this.#tube - bestStep));
    const noise = normalOf(() => this.#random());
    const hfrPx = Math.min(LARGEST_HFR_PX, Math.max(0.3, true_ * (1 + scatter * noise)));
    return {
      position: this.#counted,
      hfrPx: Number(hfrPx.toFixed(2)),
      standardPx: Number((scatter * hfrPx).toFixed(3)),
      ...(hfrPx >= LARGEST_HFR_PX ? { ceiling: true as const } : {})
    };
  }
}
