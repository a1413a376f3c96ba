import { validateSaveRevision, validateTrainPath } from '$lib/api/generated/validate.js';
import type { StaleSave } from '$lib/api/trains.ts';
import { MAX_TRAIN_BYTES, readBody, readDocument, readPath } from '$lib/server/requests.ts';
import { saveRevision } from '$lib/server/trains.ts';
import { error, json } from '@sveltejs/kit';

export async function POST({ params, request, locals }) {
  const { id } = readPath(params, validateTrainPath);
  const { document, ...save } = await readBody(request, validateSaveRevision, MAX_TRAIN_BYTES);
  const { basedOn } = save;
  const outcome = await saveRevision(locals.owner, id, { ...save, document: readDocument(document) });
  switch (outcome.kind) {
    case 'stored':
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
    case 'other-save':
      error(422, 'This save id belongs to another save.');
    // error() never returns, which the linter does not know.
    // eslint-disable-next-line no-fallthrough
    case 'deleted':
      error(410, 'This train was deleted. Bring it back from the list of trains to go on.');
    // eslint-disable-next-line no-fallthrough
    case 'missing':
      error(404, 'There is no such train.');
  }
}
