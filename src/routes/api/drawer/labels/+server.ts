import { validatePrintLabels } from '$lib/api/generated/validate.js';
import { readParts, readablePart } from '$lib/server/parts.ts';
import { print } from '$lib/server/errands/index.ts';
import { SMALL_BODY_BYTES, download, readBody } from '$lib/server/requests.ts';
import { error } from '@sveltejs/kit';

export async function POST({ request, url, locals }) {
  const { partIds } = await readBody(request, validatePrintLabels, SMALL_BODY_BYTES);
  const parts = new Map(
    (await readParts(locals.owner, partIds)).flatMap(readablePart).map((part) => [part.partId, part])
  );
  const missing = partIds.find((partId) => !parts.has(partId));
  if (missing !== undefined) error(404, `There is no part “${missing}”.`);
  const pdf = await print({
    kind: 'labels',
    parts: partIds.map((partId) => parts.get(partId)!),
    origin: url.origin,
    unit: locals.preferences.unit
  });
  return download(
    pdf,
    'application/pdf',
    `labels ${partIds.length === 1 ? partIds[0]! : `of ${partIds.length} parts`}.pdf`,
    'labels.pdf'
  );
}
