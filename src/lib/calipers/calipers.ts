import { readCaliperLine } from '@lodestone/core/drawer';
import { readCaliper } from '$lib/parts/transport.ts';

/** A way readings come from an instrument; the page knows no more of one than this. */
export interface CaliperDriver {
  /** Takes a reading now. @param what the part between the jaws, or `closed` @returns mm */
  read?: (what: string) => Promise<number>;
  /** Begins to hear an instrument that sends by itself. @param ongone it was unplugged @returns what ends it */
  listen?: (onreading: (mm: number) => void, ongone?: () => void) => Promise<() => Promise<void>>;
}

/** An instrument that ships, so that everything can be tried without one; it is never mixed with a real one. */
export const simulated: CaliperDriver = { read: async (what) => (await readCaliper(what)).lengthMm };

interface Port {
  readonly readable: ReadableStream<Uint8Array> | null;
  open: (options: { baudRate: number }) => Promise<void>;
  close: () => Promise<void>;
}
interface Serial {
  requestPort: () => Promise<Port>;
}

const serialOf = (): Serial | undefined => (navigator as Navigator & { serial?: Serial }).serial;

/** Whether this browser can hear a caliper at a serial port. */
export const hasSerial = (): boolean => typeof navigator !== 'undefined' && serialOf() !== undefined;

/** What calipers with a serial cable mostly send at (common practice, no source). */
const BAUD = 9600;

/** A line is never longer: what has no end is no reading. */
const LONGEST_LINE = 200;

/** Lines of a stream of text pieces, whatever ends them. */
export async function* linesOf(pieces: AsyncIterable<string>): AsyncGenerator<string> {
  let rest = '';
  for await (const piece of pieces) {
    const lines = (rest + piece).split(/[\r\n]+/);
    rest = lines.pop()!.slice(-LONGEST_LINE);
    yield* lines.filter(Boolean);
  }
}

async function* textOf(reader: ReadableStreamDefaultReader<Uint8Array>): AsyncGenerator<string> {
  const decoder = new TextDecoder();
  for (;;) {
    const { value, done } = await reader.read();
    if (done) return;
    yield decoder.decode(value, { stream: true });
  }
}

/** A caliper at a serial port, heard by Web Serial; it sends when its own key is pressed. */
export const serial: CaliperDriver = {
  listen: async (onreading, ongone) => {
    const port = await serialOf()!.requestPort();
    await port.open({ baudRate: BAUD });
    const reader = port.readable!.getReader();
    const hear = async (): Promise<void> => {
      for await (const line of linesOf(textOf(reader))) {
        const mm = readCaliperLine(line);
        if (mm !== undefined) onreading(mm);
      }
    };
    let ended = false;
    const heard = hear().then(
      () => ended || ongone?.(),
      () => ended || ongone?.()
    );
    return async () => {
      ended = true;
      await reader.cancel().catch(() => undefined);
      await heard;
      reader.releaseLock();
      // One that was unplugged is closed already.
      await port.close().catch(() => undefined);
    };
  }
};
