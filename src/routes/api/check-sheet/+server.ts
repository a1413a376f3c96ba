import { validatePrintCheckSheet } from '$lib/api/generated/validate.js';
import { checkSheet } from '$lib/server/checkSheet.ts';
import { MAX_TRAIN_BYTES, download, readBody, readDocument } from '$lib/server/requests.ts';

export async function POST({ request }) {
  const { document, buy } = await readBody(request, validatePrintCheckSheet, MAX_TRAIN_BYTES);
  const pdf = await checkSheet(readDocument(document), buy);
  return download(new Uint8Array(pdf), 'application/pdf', 'please-check.pdf', 'please-check.pdf');
}
