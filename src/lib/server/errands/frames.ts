import { Facts } from '@lodestone/core';
import { takeFits } from '@lodestone/core/experiment';
import { FrameError, readFrame, readStars, summaryOf } from '@lodestone/core/frame';
import { NotAPicture, type Errand } from './errand.ts';

const refused = (error: unknown): never => {
  throw error instanceof FrameError ? new NotAPicture(error.message) : error;
};

/** What a frame says, as JSON. @throws NotAPicture */
export async function readFrameErrand(upload: Uint8Array): Promise<Uint8Array<ArrayBuffer>> {
  async function* whole(): AsyncGenerator<Uint8Array> {
    yield upload;
  }
  const frame = await readFrame({ chunks: whole(), sizeBytes: upload.byteLength }).catch(refused);
  return new TextEncoder().encode(JSON.stringify(summaryOf(readStars(frame), frame)));
}

/** A frame of the simulated camera. @throws NotAPicture */
export function takeFrameErrand({
  train,
  truth,
  seed,
  binning
}: Extract<Errand, { kind: 'take-frame' }>): Uint8Array<ArrayBuffer> {
  let bytes: Uint8Array<ArrayBuffer> | undefined;
  try {
    bytes = takeFits(new Facts(train), truth, seed, binning);
  } catch (error) {
    return refused(error);
  }
  if (!bytes) throw new NotAPicture('The camera does not say its sensor and the size of its pixels.');
  return bytes;
}
