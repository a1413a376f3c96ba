import type { FocusPoint } from '@lodestone/core/focus';
import { parseNumber } from '$lib/ui/parse.ts';
import type { Instruction } from './guide.ts';
import type { FocusSession } from './run.svelte.ts';

/** A run that frames are added to: the main camera's, or the guide camera's. */
type Run = Pick<FocusSession, 'points' | 'add'>;

/** What is typed of the next frame of a focus run, or was read from one. */
export class FrameForm {
  readonly #run: Run;
  readonly #instruction: () => Pick<Instruction, 'position' | 'way'> | undefined;
  /** A number, not the whole instruction: what is being typed stays while something else is saved. */
  readonly #wanted = $derived.by(() => this.#instruction()?.position);
  position = $derived(String(this.#wanted ?? ''));
  hfr = $state('');
  /** The star is larger than can be measured. */
  isCeiling = $state(false);
  star = $state('');
  /** Name of the frame whose stars are in the form. */
  fromFrame = $state<string>();
  /** Why it could not be added, or read. */
  message = $state<string>();

  constructor(run: Run, instruction: () => Pick<Instruction, 'position' | 'way'> | undefined) {
    this.#run = run;
    this.#instruction = instruction;
  }

  /**
   * Takes over what a frame says.
   *
   * @param hfrPx half-flux radius of its stars; undefined where none could be measured
   * @param at position of the focuser, where the frame knows it
   * @param why it could not be read
   */
  fill(name: string, hfrPx: number | undefined, at: number | undefined, why: string | undefined): void {
    if (at !== undefined) this.position = String(at);
    if (hfrPx === undefined) {
      this.message = `${name}: ${why ?? 'no star was found that can be measured. Press “No star seen”, or type what you see.'}`;
      return;
    }
    this.message = undefined;
    this.hfr = hfrPx.toFixed(2);
    this.fromFrame = name;
  }

  /** Way a position is come to: as the instruction says, else from where the focuser stood. */
  #wayTo(position: number): 'out' | 'in' | undefined {
    const instruction = this.#instruction();
    if (position === instruction?.position) return instruction.way;
    const last = this.#run.points.at(-1);
    return last === undefined || last.position === position ? undefined : position > last.position ? 'out' : 'in';
  }

  /**
   * Adds the frame to the run.
   *
   * @param seen what the star looked like against the frame before, where it was not measured
   * @returns whether it was added; `message` says why not
   */
  add(seen: FocusPoint['seen'] | undefined): boolean {
    const position = parseNumber(this.position, undefined);
    const hfr = parseNumber(this.hfr, undefined);
    if (!position.ok || position.parsed === undefined) {
      return this.#refuse('Type the position of the focuser as a number.');
    }
    if (!hfr.ok || (hfr.parsed === undefined && seen === undefined)) {
      return this.#refuse(
        'How large is the star? Its half-flux radius in pixels is needed, or what you see against the frame before.'
      );
    }
    if (hfr.parsed !== undefined && hfr.parsed <= 0) return this.#refuse('A half-flux radius is more than 0.');
    const last = this.#run.points.at(-1);
    if (last !== undefined && last.position > 0 && position.parsed === -last.position) {
      return this.#refuse('Check the sign: the last frame was on the other side of zero.');
    }
    const star = this.star.trim();
    const direction = this.#wayTo(position.parsed);
    this.message = this.#run.add(
      {
        position: position.parsed,
        ...(seen === undefined ? { hfrPx: hfr.parsed! } : { seen }),
        ...(seen === undefined && this.isCeiling ? { ceiling: true } : {}),
        ...(direction ? { direction } : {}),
        ...(star === '' ? {} : { star })
      },
      'hand'
    );
    if (this.message !== undefined) return false;
    this.hfr = '';
    this.isCeiling = false;
    this.fromFrame = undefined;
    return true;
  }

  #refuse(message: string): false {
    this.message = message;
    return false;
  }
}
