import { fork, type ChildProcess } from 'node:child_process';
import { join } from 'node:path';
import type { Train } from '@lodestone/core/train';
import type { HiddenTruth } from '@lodestone/core/experiment';
import type { FrameSummary, RowOrder } from '@lodestone/core/frame';
import { Gate, Gone } from '../gate.ts';
import { NotAPicture, TooMuch, type Brought, type Errand, type Reply } from './errand.ts';

export { NotAPicture, TooMuch } from './errand.ts';

/** A process nobody needs is ended, and its memory is free again. */
const IDLE_MS = 20_000;

/** A thousand labels take well under this; what takes longer does not end. */
const LONGEST_MS = 60_000;

/** What the build made of `runner.ts`; without a build, its sources. */
const program = (): string => process.env.LODESTONE_ERRANDS ?? join(process.cwd(), 'scripts/errands.mjs');

/** Runs errands of one kind in a process apart: one at a time, so that what one needs bounds what all need. */
class Runner {
  readonly #gate: Gate;
  #child: ChildProcess | undefined;
  #idle: ReturnType<typeof setTimeout> | undefined;

  constructor(what: string, waiting: number) {
    this.#gate = new Gate(what, { atOnce: 1, waiting });
  }

  /**
   * @param signal aborted once nobody waits for it any more
   * @throws Busy when too many wait already
   * @throws NotAPicture
   * @throws TooMuch
   * @throws Gone
   */
  run(errand: Errand, signal?: AbortSignal): Promise<Brought> {
    return this.#gate.run(() => this.#run(errand, signal), signal);
  }

  #start(): ChildProcess {
    const child = fork(program(), {
      serialization: 'advanced',
      // Nothing of this process's environment: there is a password in it.
      env: { PATH: process.env.PATH, NODE_ENV: process.env.NODE_ENV },
      stdio: ['ignore', 'inherit', 'inherit', 'ipc']
    });
    // One that cannot be started, or is written to as it ends, is told to whoever waits for it; to nobody else.
    child.on('error', () => undefined);
    child.once('exit', () => {
      if (this.#child === child) this.#child = undefined;
    });
    // It is no reason to stay.
    child.unref();
    child.channel?.unref();
    return child;
  }

  async #run(errand: Errand, signal?: AbortSignal): Promise<Brought> {
    clearTimeout(this.#idle);
    const child = (this.#child ??= this.#start());
    try {
      const reply = await new Promise<Reply>((done, failed) => {
        const settle = (): void => {
          clearTimeout(late);
          signal?.removeEventListener('abort', left);
          child.off('message', hear).off('exit', gone).off('error', fail);
        };
        const fail = (error: Error): void => {
          settle();
          failed(error);
        };
        const hear = (said: unknown): void => {
          settle();
          done(said as Reply);
        };
        const gone = (): void => fail(new TooMuch('This needs more memory than there is.'));
        const left = (): void => fail(new Gone('The request was given up.'));
        const late = setTimeout(() => fail(new TooMuch(`This took longer than ${LONGEST_MS / 1000} s.`)), LONGEST_MS);
        child.on('message', hear).on('exit', gone).on('error', fail);
        signal?.addEventListener('abort', left, { once: true });
        child.send(errand);
      }).catch((error: unknown) => {
        // It hangs, or is gone: the next errand gets another one.
        this.#end(child);
        throw error;
      });
      if ('brought' in reply) return reply.brought;
      throw reply.notAPicture ? new NotAPicture(reply.failure) : new Error(reply.failure);
    } finally {
      this.#idle = setTimeout(() => this.#child && this.#end(this.#child), IDLE_MS);
      this.#idle.unref();
    }
  }

  #end(child: ChildProcess): void {
    if (this.#child === child) this.#child = undefined;
    child.kill('SIGKILL');
  }
}

const prints = new Runner('prints', 12);
const pictures = new Runner('pictures', 20);
const frames = new Runner('frames', 8);

/** Prints a PDF. @throws Busy */
export const print = async (
  errand: Exclude<Errand, { kind: 'picture' | 'read-frame' | 'take-frame' }>
): Promise<Uint8Array<ArrayBuffer>> => (await prints.run(errand)).bytes;

/**
 * Re-encodes a picture: upright, at most 1600 px, as JPEG, without what phones write into it.
 *
 * @throws NotAPicture, or Busy when too many wait already
 */
export async function reencode(path: string): Promise<Required<Brought>> {
  const { bytes, width = 0, height = 0 } = await pictures.run({ kind: 'picture', path });
  return { bytes, width, height };
}

/**
 * Reads the stars of a frame, and judges them.
 *
 * @throws NotAPicture with what is wrong with the file, or Busy
 */
export async function readFrameFile(
  path: string,
  { signal, ...how }: { signal?: AbortSignal; picture?: number | undefined; rowOrder?: RowOrder | undefined } = {}
): Promise<FrameSummary> {
  const { bytes } = await frames.run({ kind: 'read-frame', path, ...how }, signal);
  return JSON.parse(new TextDecoder().decode(bytes)) as FrameSummary;
}

/** What the simulated camera is to take. */
export interface Taking {
  train: Train;
  truth: HiddenTruth;
  seed: number;
  binning: number;
}

/**
 * Takes a frame with the simulated camera.
 *
 * @param into where the FITS file is written; nothing may be there yet
 * @throws NotAPicture where the train has no sensor to take it with, or Busy
 */
export async function takeFrame(taking: Taking, into: string, signal?: AbortSignal): Promise<void> {
  await frames.run({ kind: 'take-frame', ...taking, into }, signal);
}
