import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { NO_FAULTS } from '@lodestone/core/experiment';
import { validateSimulateFrame, validateTrainPath } from '$lib/api/generated/validate.js';
import { NotAPicture, takeFrame } from '$lib/server/errands/index.ts';
import { SMALL_BODY_BYTES, readBody, readPath } from '$lib/server/requests.ts';
import { readRevision } from '$lib/server/revisions.ts';
import { lentPath } from '$lib/server/scratch.ts';
import { whileThere } from '$lib/server/upload.ts';
import { error } from '@sveltejs/kit';

/** The simulated camera on a train: takes a frame, as FITS. */
export async function POST({ params, request, locals, platform }) {
  const { id } = readPath(params, validateTrainPath);
  const {
    seed = Math.floor(Math.random() * 2 ** 31),
    binning = 2,
    ...truth
  } = await readBody(request, validateSimulateFrame, SMALL_BODY_BYTES);
  const { document } = (await readRevision(locals.owner, id)) ?? error(404, 'There is no such train.');
  const { path, giveBack } = lentPath();
  try {
    await whileThere({ request, platform }, (signal) =>
      takeFrame({ train: document, truth: { ...NO_FAULTS, ...truth }, seed, binning }, path, signal)
    );
  } catch (refused) {
    await giveBack();
    if (!(refused instanceof NotAPicture)) throw refused;
    error(422, refused.message);
  }
  const { size } = await stat(path);
  const bytes = createReadStream(path).once('close', () => void giveBack());
  return new Response(Readable.toWeb(bytes) as ReadableStream, {
    headers: { 'content-type': 'application/fits', 'content-length': String(size) }
  });
}
