import { validatePrintSheet } from '$lib/api/generated/validate.js';
import { print } from '$lib/server/errands/index.ts';
import { MAX_TRAIN_BYTES, download, readBody, readDocument } from '$lib/server/requests.ts';

export async function POST({ request, locals }) {
  const { document, order = 'camera' } = await readBody(request, validatePrintSheet, MAX_TRAIN_BYTES);
  const train = readDocument(document);
  const pdf = await print({ kind: 'sheet', train, order, unit: locals.preferences.unit });
  return download(pdf, 'application/pdf', `${train.name} assembly.pdf`, 'assembly.pdf');
}
