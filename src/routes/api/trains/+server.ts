import { validateCreateTrain } from '$lib/api/generated/validate.js';
import { MAX_TRAIN_BYTES, readBody, readDocument } from '$lib/server/requests.ts';
import { LOCAL_OWNER, createTrain, listTrains } from '$lib/server/trains.ts';
import { error, json } from '@sveltejs/kit';

export const GET = async () => json(await listTrains(LOCAL_OWNER));

export async function POST({ request }) {
  const { saveId, document } = await readBody(request, validateCreateTrain, MAX_TRAIN_BYTES);
  const outcome = await createTrain(LOCAL_OWNER, saveId, readDocument(document));
  switch (outcome.kind) {
    case 'stored':
      return json(outcome.train, { status: 201, headers: { location: `/api/trains/${outcome.train.id}` } });
    case 'already-stored':
      return json(outcome.train);
    default:
      error(409, 'This save id belongs to another save.');
  }
}
