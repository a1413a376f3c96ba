import { validatePrintSheet } from '$lib/api/generated/validate.js';
import { print } from '$lib/server/errands/index.ts';
import { readParts, readablePart } from '$lib/server/parts.ts';
import { MAX_TRAIN_BYTES, download, readBody, readDocument } from '$lib/server/requests.ts';
import { standingIn } from '@lodestone/core/train';

/** A train at its true size on paper, with the tins that its parts are kept in. */
export async function POST({ request, locals }) {
  const { document } = await readBody(request, validatePrintSheet, MAX_TRAIN_BYTES);
  const train = readDocument(document);
  const parts = (await readParts(locals.owner, [...standingIn(train).keys()])).flatMap(readablePart);
  const pdf = await print({ kind: 'bench-sheet', train, parts, unit: locals.preferences.unit });
  return download(pdf, 'application/pdf', `${train.name} bench sheet.pdf`, 'bench-sheet.pdf');
}
