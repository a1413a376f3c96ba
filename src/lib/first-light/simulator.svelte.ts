import type { FocuserState } from '@lodestone/core/focus';
import { device } from './device.ts';
import type { Instruction } from './guide.ts';
import type { FocusSession } from './run.svelte.ts';

/** The focuser and camera that ship, moved as the instructions say. */
export class Simulator {
  /** How the focuser stands by its own count, once it was moved. */
  state = $state.raw<FocuserState>();
  busy = $state(false);
  readonly #trainId: string;
  readonly #session: FocusSession;

  constructor(trainId: string, session: FocusSession) {
    this.#trainId = trainId;
    this.#session = session;
  }

  /**
   * Moves the focuser where the instruction wants it, from the same side, and takes a frame.
   *
   * @returns why that cannot be
   * @throws Error where the server does not answer
   */
  async take({ position, way }: Instruction): Promise<string | undefined> {
    if (position === undefined) return undefined;
    this.busy = true;
    try {
      const before = await device.state(this.#trainId);
      const state = await this.#move(position);
      this.state = state;
      if (state.stopped) {
        return `It ran into its end stop on the way from ${before.position} to ${position}: the position it counts is wrong from here on. Drive it fully in, and begin the run again.`;
      }
      const taken = await device.frame(this.#trainId);
      const point = { ...taken, ...(way ? { direction: way } : {}), star: 'simulated' };
      return this.#session.add(point, 'simulated', state.lastStep);
    } finally {
      this.busy = false;
    }
  }

  async #move(position: number): Promise<FocuserState> {
    const { points, answer, backlash, step } = this.#session;
    const last = points.at(-1);
    if (!last) return device.zero(this.#trainId);
    const out = answer.direction !== 'in';
    const isBack = out ? position < last.position : position > last.position;
    if (isBack) await device.move(this.#trainId, position - (out ? 1 : -1) * (backlash + step));
    return device.move(this.#trainId, position);
  }
}
