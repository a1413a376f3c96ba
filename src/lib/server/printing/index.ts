import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import { Gate } from '../gate.ts';
import type { PrintJob, Printed } from './jobs.ts';

export type { PrintJob } from './jobs.ts';

/** A printer that nobody needs is put away. */
const IDLE_MS = 60_000;

/** A thousand labels take well under this; what takes longer does not end. */
const LONGEST_MS = 60_000;

const gate = new Gate('prints', { atOnce: 1, waiting: 12 });

let printer: Worker | undefined;
let idle: ReturnType<typeof setTimeout> | undefined;

function startPrinter(): Worker {
  const worker = new Worker(join(process.env.LODESTONE_ROOT ?? process.cwd(), 'scripts/printer.mjs'), { env: {} });
  worker.unref();
  worker.once('exit', () => {
    if (printer === worker) printer = undefined;
  });
  return worker;
}

/**
 * Prints on another thread, one job after the other.
 *
 * @throws Busy when too many wait already
 */
export function print(job: PrintJob): Promise<Uint8Array<ArrayBuffer>> {
  return gate.run(async () => {
    clearTimeout(idle);
    const worker = (printer ??= startPrinter());
    try {
      return await new Promise<Uint8Array<ArrayBuffer>>((done, failed) => {
        const late = setTimeout(() => failed(new Error('Printing took too long.')), LONGEST_MS);
        const settle = (): void => {
          clearTimeout(late);
          worker.off('message', hear);
          worker.off('error', fail);
        };
        const fail = (error: Error): void => {
          settle();
          failed(error);
        };
        const hear = (printed: Printed): void => {
          settle();
          if ('pdf' in printed) done(printed.pdf);
          else failed(new Error(printed.failure));
        };
        worker.on('message', hear);
        worker.on('error', fail);
        worker.postMessage(job);
      });
    } catch (error) {
      if (printer === worker) printer = undefined;
      await worker.terminate();
      throw error;
    } finally {
      idle = setTimeout(() => void printer?.terminate(), IDLE_MS);
      idle.unref();
    }
  });
}
