import type { MadeLink } from '$lib/api/share.ts';
import { validateMakeLink, validateTrainPath } from '$lib/api/generated/validate.js';
import { qrRows } from '$lib/server/qr.ts';
import { SMALL_BODY_BYTES, readBody, readPath } from '$lib/server/requests.ts';
import { listLinks, makeLink } from '$lib/server/share.ts';
import { error, json } from '@sveltejs/kit';

export async function GET({ params, locals }) {
  const { id } = readPath(params, validateTrainPath);
  return json({ links: await listLinks(locals.owner, id) });
}

export async function POST({ params, url, request, locals }) {
  const { id } = readPath(params, validateTrainPath);
  const { days } = await readBody(request, validateMakeLink, SMALL_BODY_BYTES);
  const outcome = await makeLink(locals.owner, id, days);
  if (outcome.kind === 'missing') error(404, 'There is no such train.');
  if (outcome.kind !== 'made') error(409, 'This train has as many links as it may. Take one back first.');
  const path = `/shared/${outcome.secret}`;
  const made: MadeLink = { ...outcome.link, path, qr: qrRows(`${url.origin}${path}`) };
  return json(made, { status: 201 });
}
