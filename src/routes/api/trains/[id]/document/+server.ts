import { validateTrainPath } from '$lib/api/generated/validate.js';
import { download, readPath } from '$lib/server/requests.ts';
import { readAsStored } from '$lib/server/revisions.ts';
import { isReadable } from '$lib/api/trains.ts';
import { writeTrain } from '@lodestone/core/write';
import { error } from '@sveltejs/kit';

/** The newest revision as a file; one that this version cannot read goes out as it is stored. */
export async function GET({ params, locals }) {
  const { id } = readPath(params, validateTrainPath);
  const { listed, json } = (await readAsStored(locals.owner, id)) ?? error(404, 'There is no such train.');
  return isReadable(listed)
    ? download(writeTrain(listed.document), 'application/json', `${listed.document.name}.json`, 'train.json')
    : download(JSON.stringify(json, null, 2), 'application/json', `${listed.name}.json`, 'train.json');
}
