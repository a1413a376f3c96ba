import { validatePrintLabels } from '$lib/api/generated/validate.js';
import { readParts, toPart } from '$lib/server/drawer.ts';
import { printLabels } from '$lib/server/labels.ts';
import { SMALL_BODY_BYTES, download, readBody } from '$lib/server/requests.ts';
import { LOCAL_OWNER } from '$lib/server/trains.ts';
import { error } from '@sveltejs/kit';

export async function POST({ request, url }) {
  const { partIds } = await readBody(request, validatePrintLabels, SMALL_BODY_BYTES);
  const parts = (await readParts(LOCAL_OWNER, partIds)).map(toPart);
  const missing = partIds.find((partId) => !parts.some((part) => part.partId === partId));
  if (missing !== undefined) error(404, `There is no part “${missing}”.`);
  const ordered = partIds.map((partId) => parts.find((part) => part.partId === partId)!);
  const pdf = await printLabels(ordered, url.origin);
  return download(new Uint8Array(pdf), 'application/pdf', 'labels.pdf', 'labels.pdf');
}
