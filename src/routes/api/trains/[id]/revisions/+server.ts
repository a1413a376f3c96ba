import { validateSaveRevision, validateTrainPath } from '$lib/api/generated/validate.js';
import type { StaleSave } from '$lib/api/trains.ts';
import { publish } from '$lib/server/live.ts';
import { MAX_TRAIN_BYTES, readBody, readDocument, readPath } from '$lib/server/requests.ts';
import { LOCAL_OWNER, saveRevision } from '$lib/server/trains.ts';
import { error, json } from '@sveltejs/kit';

export async function POST({ params, request }) {
  const { id } = readPath(params, validateTrainPath);
  const { saveId, basedOn, document } = await readBody(request, validateSaveRevision, MAX_TRAIN_BYTES);
  const outcome = await saveRevision(LOCAL_OWNER, id, { saveId, basedOn, document: readDocument(document) });
  switch (outcome.kind) {
    case 'stored':
      publish(outcome.train);
      return json(outcome.train, {
        status: 201,
        headers: { location: `/api/trains/${id}/revisions/${outcome.train.revision.number}` }
      });
    case 'already-stored':
      return json(outcome.train);
    case 'stale': {
      const refusal: StaleSave = {
        message: `This was made from revision ${basedOn}, but the train is at revision ${outcome.head.revision.number}. Nothing was overwritten.`,
        head: outcome.head
      };
      return json(refusal, { status: 409 });
    }
    case 'other-train':
      error(422, 'This save id belongs to another train.');
    // error() never returns, which the linter does not know.
    // eslint-disable-next-line no-fallthrough
    case 'deleted':
      error(410, 'This train was deleted. Bring it back from the list of trains to go on.');
    // eslint-disable-next-line no-fallthrough
    case 'missing':
      error(404, 'There is no such train.');
  }
}
