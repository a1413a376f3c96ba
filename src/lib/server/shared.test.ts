import { describe, expect, it } from 'vitest';
import { shared } from './shared.ts';

/** Readings that end when they are told, each with its number. */
function readings() {
  const open: { end: () => void; fail: () => void }[] = [];
  const read = (): Promise<number> =>
    new Promise((end, fail) => {
      const number = open.length + 1;
      open.push({ end: () => end(number), fail: () => fail(new Error(`reading ${number}`)) });
    });
  return { open, read };
}
const turn = (): Promise<void> => new Promise((over) => setTimeout(over));

describe('shared readings', () => {
  it('read once for all who come while one runs, and never give them the one that runs', async () => {
    const { open, read } = readings();
    const first = shared('a', 'somebody', read);
    const later = [shared('a', 'somebody', read), shared('a', 'somebody', read), shared('a', 'somebody', read)];
    expect(open).toHaveLength(1);
    open[0]!.end();
    expect(await first).toBe(1);
    await turn();
    expect(open).toHaveLength(2);
    const evenLater = shared('a', 'somebody', read);
    open[1]!.end();
    expect(await Promise.all(later)).toEqual([2, 2, 2]);
    await turn();
    open[2]!.end();
    expect(await evenLater).toBe(3);
    await turn();
    // Nobody waits any more: the next begins at once.
    const anew = shared('a', 'somebody', read);
    expect(open).toHaveLength(4);
    open[3]!.end();
    expect(await anew).toBe(4);
  });

  it('go on after one that failed, and keep what is different apart', async () => {
    const { open, read } = readings();
    const [one, other] = [shared('b', 'somebody', read), shared('c', 'somebody', read)];
    const after = shared('b', 'somebody', read);
    open[0]!.fail();
    await expect(one).rejects.toThrow('reading 1');
    open[1]!.end();
    expect(await other).toBe(2);
    await turn();
    open[2]!.end();
    expect(await after).toBe(3);
  });
});
