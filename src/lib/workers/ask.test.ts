import { expose } from 'comlink';
import { describe, expect, it } from 'vitest';
import { CalledOff, HeldWorker, ask } from './ask.ts';

const api = {
  double: (value: number) => 2 * value,
  never: () => new Promise<number>(() => undefined),
  hungry: () => new ArrayBuffer(Number.MAX_SAFE_INTEGER).byteLength,
  deep: (): number => api.deep() + 1,
  wrong: () => {
    throw new TypeError('no such thing');
  }
};

/** A worker as the browser gives it, in this thread. */
class FakeWorker extends EventTarget {
  static ended = 0;
  readonly #port: MessagePort;

  constructor() {
    super();
    const { port1, port2 } = new MessageChannel();
    expose(api, port2);
    this.#port = port1;
    port1.addEventListener('message', ({ data }) => this.dispatchEvent(new MessageEvent('message', { data })));
    port1.start();
    port2.start();
  }
  postMessage(message: unknown, transfer: Transferable[] = []) {
    this.#port.postMessage(message, transfer);
  }
  terminate() {
    FakeWorker.ended++;
    this.#port.close();
  }
}

let last: FakeWorker;
const start = () => (last = new FakeWorker()) as unknown as Worker;
const still = { signal: new AbortController().signal };
const died = (message?: string) =>
  last.dispatchEvent(message === undefined ? new Event('error') : Object.assign(new Event('error'), { message }));

describe('one question', () => {
  it('is answered, and the worker ended', async () => {
    const before = FakeWorker.ended;
    expect(await ask<typeof api, number>(start, (worker) => worker.double(21), still)).toBe(42);
    expect(FakeWorker.ended).toBe(before + 1);
  });

  it.each([
    ['cannot be loaded', undefined, /could not be loaded/],
    ['dies', 'Uncaught Error: gone', /ended unexpectedly: Uncaught Error: gone/],
    ['runs out of memory', 'Uncaught RangeError: Array buffer allocation failed', /not enough memory/]
  ])('is told when the worker %s', async (_, message, words) => {
    const before = FakeWorker.ended;
    const asked = ask<typeof api, number>(start, (worker) => worker.never(), still);
    died(message);
    await expect(asked).rejects.toThrow(words);
    expect(FakeWorker.ended).toBe(before + 1);
  });

  it('is told what the worker threw: too little memory in words, a fault as it is', async () => {
    await expect(ask<typeof api, number>(start, (worker) => worker.hungry(), still)).rejects.toThrow(/memory/);
    await expect(ask<typeof api, number>(start, (worker) => worker.deep(), still)).rejects.toThrow(/call stack/);
    await expect(ask<typeof api, number>(start, (worker) => worker.wrong(), still)).rejects.toThrow('no such thing');
  });

  it('is called off, before it is asked and after', async () => {
    const call = new AbortController();
    const asked = ask<typeof api, number>(start, (worker) => worker.never(), call);
    call.abort();
    await expect(asked).rejects.toBeInstanceOf(CalledOff);
    const before = FakeWorker.ended;
    await expect(ask<typeof api, number>(start, (worker) => worker.double(1), call)).rejects.toBeInstanceOf(CalledOff);
    expect(FakeWorker.ended).toBe(before);
  });
});

describe('a worker that is held', () => {
  it('answers again and again, and refuses everything once it died', async () => {
    const held = new HeldWorker<typeof api>(start);
    expect(await held.ask((worker) => worker.double(1))).toBe(2);
    expect(await held.ask((worker) => worker.double(2))).toBe(4);
    const waiting = [held.ask((worker) => worker.never()), held.ask((worker) => worker.never())];
    died('boom');
    for (const each of waiting) await expect(each).rejects.toThrow(/boom/);
    await expect(held.ask((worker) => worker.double(1))).rejects.toThrow(/boom/);
    expect(held.isOver).toBe(true);
  });

  it('goes on after one question failed', async () => {
    const held = new HeldWorker<typeof api>(start);
    await expect(held.ask((worker) => worker.wrong())).rejects.toThrow('no such thing');
    expect(await held.ask((worker) => worker.double(3))).toBe(6);
    held.end();
    await expect(held.ask((worker) => worker.double(1))).rejects.toBeInstanceOf(CalledOff);
  });
});
