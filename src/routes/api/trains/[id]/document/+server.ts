import { validateTrainPath } from '$lib/api/generated/validate.js';
import { readPath } from '$lib/server/requests.ts';
import { LOCAL_OWNER, readRevision } from '$lib/server/trains.ts';
import { writeTrain } from '@lodestone/core/write';
import { error } from '@sveltejs/kit';

/** Letters, digits, spaces and a few marks: what every file system takes. */
const fileName = (name: string): string => name.replace(/[^\p{L}\p{N} ._-]+/gu, '_').slice(0, 80);

export async function GET({ params }) {
  const { id } = readPath(params, validateTrainPath);
  const { document } = (await readRevision(LOCAL_OWNER, id)) ?? error(404, 'There is no such train.');
  const name = encodeURIComponent(`${fileName(document.name)}.json`);
  return new Response(writeTrain(document), {
    headers: {
      'content-type': 'application/json',
      'content-disposition': `attachment; filename="train.json"; filename*=UTF-8''${name}`
    }
  });
}
