// Test frames: kept once, the oldest pixels make room, nobody sees another's.
import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readTrain } from '@lodestone/core/train';
import { NO_FAULTS, tuneFrom } from '@lodestone/core/experiment';
import { migrate } from '../../../scripts/setup/migrate.mjs';
import { MOST_WITH_PIXELS } from '../api/frames.ts';
import type { FrameSummary, RowOrder } from '@lodestone/core/frame';
import { closeDatabase } from './database.ts';
import longTomFile from '../../../demo/long-tom.json';
import { photographExperiments } from './demo.ts';
import { NotAPicture, readFrameFile } from './errands/index.ts';
import { dropFrame, framePixels, listFrames, storeFrame } from './frames.ts';
import { endStreams } from './live.ts';
import { asFile, frameOf, heron, owner, ownerUrl, summaryOf } from './testing.ts';
import { createTrain, changeState } from './trains.ts';

beforeAll(() => migrate(ownerUrl));
afterAll(async () => {
  await endStreams();
  await closeDatabase();
});

const kept = (by: string, train: string, name: string, bytes: Uint8Array, summary: FrameSummary) =>
  asFile(bytes, (file) => storeFrame(by, train, name, file, summary));

async function made(by: string): Promise<string> {
  const outcome = await createTrain(by, randomUUID(), heron);
  if (outcome.kind !== 'stored') throw new Error(outcome.kind);
  return outcome.train.id;
}
const fixture = readFileSync(new URL('../../../core/tests/fits/u16.fits.gz', import.meta.url));

async function whole(stream: ReadableStream<Uint8Array>): Promise<Buffer> {
  const pieces: Uint8Array[] = [];
  for await (const piece of stream) pieces.push(piece);
  return Buffer.concat(pieces);
}

describe('the frames of the demo', () => {
  it('say what its experiments say, and lead to the tuned value', async () => {
    const reading = readTrain(longTomFile);
    if (!reading.ok) throw new Error('the demo must be a train');
    const { document } = reading;
    const by = owner();
    const outcome = await createTrain(by, randomUUID(), document);
    if (outcome.kind !== 'stored') throw new Error(outcome.kind);
    const { id } = outcome.train;
    expect(await photographExperiments(by, { id, document })).toBe(3);
    const frames = (await listFrames(by, id)).toReversed();
    const experiments = document.tuning!.experiments!;
    expect(frames.map(({ name }) => name)).toEqual(experiments.map(({ frame }) => frame));
    frames.forEach(({ summary }, at) => {
      expect(Math.abs(summary.field.radial!.corner - experiments[at]!.radial!.value)).toBeLessThan(0.002);
    });
    const seen = frames.map(({ summary }, at) => {
      const { corner: value, standard } = summary.field.radial!;
      return { spacingMm: experiments[at]!.spacingMm, radial: { value, standard } };
    });
    expect(Math.abs(tuneFrom(seen).bestMm! - 86.4)).toBeLessThan(0.1);
    // Taken once more they are the same.
    await photographExperiments(by, { id, document });
    expect(await listFrames(by, id)).toHaveLength(3);
    expect(await photographExperiments(by, { id, document: heron })).toBe(0);
  });
});

describe('a frame that is brought', () => {
  it('has its rows as its camera’s are known to run, where its file does not say it', async () => {
    const said = await frameOf(heron, { ...NO_FAULTS, driftPx: 20, driftDirectionDeg: 35 }, 3, 4);
    const silent = Buffer.from(said);
    silent.write('OTHERKEY', silent.indexOf('ROWORDER'), 'ascii');
    const read = (bytes: Uint8Array, rowOrder?: RowOrder) =>
      asFile(bytes, ({ path }) => readFrameFile(path, { rowOrder }));
    const [assumed, turned] = [await read(silent), await read(silent, 'top-down')];
    expect(assumed).toMatchObject({ bottomUp: true, rowsAssumed: true });
    expect(turned).toMatchObject({ bottomUp: false, rowsAssumed: true });
    expect(turned.field.tracking!.angleDeg).toBeCloseTo(-assumed.field.tracking!.angleDeg, 6);
    expect(await read(said, 'top-down')).toMatchObject({ bottomUp: true });
  });

  it('is read, kept in pieces, and handed out as it came', async () => {
    const by = owner();
    const train = await made(by);
    const bytes = await frameOf(heron, { ...NO_FAULTS, driftPx: 20 }, 3, 4);
    expect(bytes.byteLength).toBeGreaterThan(2e6);
    const summary = await summaryOf(bytes);
    expect(summary.field.findings[0]?.cause).toBe('tracking');
    const stored = (await kept(by, train, 'one', bytes, summary))!;
    expect(stored.isNew).toBe(true);
    expect(stored.frame).toMatchObject({ number: 1, name: 'one', size: bytes.byteLength, hasPixels: true, summary });
    const pixels = (await framePixels(by, train, stored.frame.id))!;
    expect(Buffer.compare(await whole(pixels.stream), Buffer.from(bytes))).toBe(0);
  });

  it('twice is one frame', async () => {
    const by = owner();
    const train = await made(by);
    const summary = await summaryOf(fixture);
    const [one, two] = [
      await kept(by, train, 'one', fixture, summary),
      await kept(by, train, 'again', fixture, summary)
    ];
    expect(two).toMatchObject({ isNew: false, frame: { id: one!.frame.id, name: 'one' } });
    expect(await listFrames(by, train)).toHaveLength(1);
  });

  it('makes room: pixels of the oldest go, what they said stays', async () => {
    const by = owner();
    const train = await made(by);
    const summary = await summaryOf(fixture);
    for (let frame = 1; frame <= MOST_WITH_PIXELS + 2; frame++) {
      // Bytes behind the last block are nobody's business.
      await kept(by, train, `frame ${frame}`, Buffer.concat([fixture, Buffer.alloc(frame)]), summary);
    }
    const frames = await listFrames(by, train);
    expect(frames.map(({ number }) => number)).toEqual(
      Array.from({ length: MOST_WITH_PIXELS + 2 }, (_, at) => MOST_WITH_PIXELS + 2 - at)
    );
    expect(frames.filter(({ hasPixels }) => !hasPixels).map(({ number }) => number)).toEqual([2, 1]);
    expect(await framePixels(by, train, frames.at(-1)!.id)).toBeUndefined();
    expect((await listFrames(by, train, MOST_WITH_PIXELS)).map(({ number }) => number)).toHaveLength(2);
  });

  it('comes with its stars only while it is among the newest', async () => {
    const by = owner();
    const train = await made(by);
    const summary = await summaryOf(await frameOf(heron, NO_FAULTS, 3, 8));
    expect(summary.stars.length).toBeGreaterThan(20);
    for (let frame = 1; frame <= 5; frame++) {
      await kept(by, train, `frame ${frame}`, Buffer.concat([fixture, Buffer.alloc(frame)]), summary);
    }
    const frames = await listFrames(by, train);
    expect(frames.map(({ summary: { stars } }) => stars.length > 0)).toEqual([true, true, true, false, false]);
    expect(frames.every(({ summary: { field } }) => field.count === summary.field.count)).toBe(true);
  });

  it('of somebody else, of another train or of a deleted one is not there', async () => {
    const by = owner();
    const [train, other] = [await made(by), await made(by)];
    const summary = await summaryOf(fixture);
    const { id } = (await kept(by, train, 'mine', fixture, summary))!.frame;
    expect(await framePixels(owner(), train, id)).toBeUndefined();
    expect(await framePixels(by, other, id)).toBeUndefined();
    expect(await kept(owner(), train, 'theirs', fixture, summary)).toBeUndefined();
    expect(await dropFrame(by, other, id)).toBe(false);
    expect(await dropFrame(by, train, id)).toBe(true);
    expect(await listFrames(by, train)).toEqual([]);
    await changeState(by, other, 'deleted');
    expect(await kept(by, other, 'late', fixture, summary)).toBeUndefined();
  });

  it('that is none is refused, with what is wrong', async () => {
    await expect(summaryOf(fixture.subarray(0, 900))).rejects.toThrow(NotAPicture);
    await expect(summaryOf(Buffer.from('no frame'))).rejects.toThrow(/no FITS, TIFF or PNG/);
  });
});
