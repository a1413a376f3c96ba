import { validatePrintCheckSheet } from '$lib/api/generated/validate.js';
import { print } from '$lib/server/errands/index.ts';
import { MAX_TRAIN_BYTES, download, readBody, readDocument } from '$lib/server/requests.ts';

export async function POST({ request, locals }) {
  const { document, buy } = await readBody(request, validatePrintCheckSheet, MAX_TRAIN_BYTES);
  const train = readDocument(document);
  const pdf = await print({ kind: 'check-sheet', train, buy, unit: locals.preferences.unit });
  return download(pdf, 'application/pdf', `${train.name} please check.pdf`, 'please-check.pdf');
}
