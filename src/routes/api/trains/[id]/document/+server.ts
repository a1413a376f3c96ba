import { validateTrainPath } from '$lib/api/generated/validate.js';
import { exportTrain } from '$lib/server/exports.ts';
import { download, readPath } from '$lib/server/requests.ts';
import { error } from '@sveltejs/kit';

/** The newest revision as a file; one that this version cannot read goes out as it is stored. */
export async function GET({ params, locals }) {
  const { id } = readPath(params, validateTrainPath);
  const { name, text } = (await exportTrain(locals.owner, id)) ?? error(404, 'There is no such train.');
  return download(text, 'application/json', `${name}.json`, 'train.json');
}
