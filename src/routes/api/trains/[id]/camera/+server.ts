import { NO_FAULTS } from '@lodestone/core/experiment';
import { validateSimulateFrame, validateTrainPath } from '$lib/api/generated/validate.js';
import { NotAPicture, takeFrame } from '$lib/server/errands/index.ts';
import { SMALL_BODY_BYTES, readBody, readPath } from '$lib/server/requests.ts';
import { readRevision } from '$lib/server/revisions.ts';
import { error } from '@sveltejs/kit';

/** The simulated camera on a train: takes a frame, as FITS. */
export async function POST({ params, request, locals }) {
  const { id } = readPath(params, validateTrainPath);
  const {
    seed = Math.floor(Math.random() * 2 ** 31),
    binning = 2,
    ...truth
  } = await readBody(request, validateSimulateFrame, SMALL_BODY_BYTES);
  const train = (await readRevision(locals.owner, id)) ?? error(404, 'There is no such train.');
  try {
    const bytes = await takeFrame(train.document, { ...NO_FAULTS, ...truth }, seed, binning);
    return new Response(bytes, { headers: { 'content-type': 'application/fits' } });
  } catch (refused) {
    if (!(refused instanceof NotAPicture)) throw refused;
    error(422, refused.message);
  }
}
