import { createReadStream } from 'node:fs';
import { stat, writeFile } from 'node:fs/promises';
import { Facts } from '@lodestone/core/check';
import { takeFits } from '@lodestone/core/experiment';
import { FrameError, readFrame, readStars, summaryOf, withRowOrder } from '@lodestone/core/frame';
import { NotAPicture, type Errand } from './errand.ts';

const PIECE_BYTES = 1024 * 1024;

const refused = (error: unknown): never => {
  throw error instanceof FrameError ? new NotAPicture(error.message) : error;
};

/** What a frame says, as JSON. @throws NotAPicture */
export async function readFrameErrand({
  path,
  picture,
  rowOrder
}: Extract<Errand, { kind: 'read-frame' }>): Promise<Uint8Array<ArrayBuffer>> {
  const { size: sizeBytes } = await stat(path);
  const chunks = createReadStream(path, { highWaterMark: PIECE_BYTES });
  const frame = withRowOrder(await readFrame({ chunks, sizeBytes }, picture).catch(refused), rowOrder);
  return new TextEncoder().encode(JSON.stringify(summaryOf(readStars(frame), frame)));
}

/** Writes a frame of the simulated camera. @throws NotAPicture */
export async function takeFrameErrand({
  train,
  truth,
  seed,
  binning,
  into
}: Extract<Errand, { kind: 'take-frame' }>): Promise<void> {
  let bytes: Uint8Array<ArrayBuffer> | undefined;
  try {
    bytes = takeFits(new Facts(train), truth, seed, binning);
  } catch (error) {
    return refused(error);
  }
  if (!bytes) throw new NotAPicture('The camera has no sensor and pixel size: state them.');
  await writeFile(into, bytes, { flag: 'wx', mode: 0o600 });
}
