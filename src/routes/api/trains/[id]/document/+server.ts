import { validateTrainPath } from '$lib/api/generated/validate.js';
import { download, readPath } from '$lib/server/requests.ts';
import { LOCAL_OWNER, readRevision } from '$lib/server/trains.ts';
import { writeTrain } from '@lodestone/core/write';
import { error } from '@sveltejs/kit';

export async function GET({ params }) {
  const { id } = readPath(params, validateTrainPath);
  const { document } = (await readRevision(LOCAL_OWNER, id)) ?? error(404, 'There is no such train.');
  return download(writeTrain(document), 'application/json', `${document.name}.json`, 'train.json');
}
