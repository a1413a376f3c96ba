import { validateTrainPath } from '$lib/api/generated/validate.js';
import { listRecords } from '$lib/server/records.ts';
import { readPath } from '$lib/server/requests.ts';
import { json } from '@sveltejs/kit';

export async function GET({ params, locals }) {
  const { id } = readPath(params, validateTrainPath);
  return json({ records: await listRecords(locals.owner, id) });
}
