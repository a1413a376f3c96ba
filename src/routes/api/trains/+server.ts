import { validateCreateTrain } from '$lib/api/generated/validate.js';
import { MAX_TRAIN_BYTES, readBody, readDocument } from '$lib/server/requests.ts';
import { createTrain, listTrains } from '$lib/server/trains.ts';
import { error, json } from '@sveltejs/kit';

export const GET = async ({ locals }) => json(await listTrains(locals.owner));

export async function POST({ request, locals }) {
  const { saveId, document, device } = await readBody(request, validateCreateTrain, MAX_TRAIN_BYTES);
  const outcome = await createTrain(locals.owner, saveId, readDocument(document), device);
  switch (outcome.kind) {
    case 'stored':
      return json(outcome.train, { status: 201, headers: { location: `/api/trains/${outcome.train.id}` } });
    case 'already-stored':
      return json(outcome.train);
    default:
      error(422, 'This save id belongs to another save.');
  }
}
