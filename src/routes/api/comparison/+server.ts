import { validatePrintComparison } from '$lib/api/generated/validate.js';
import { print } from '$lib/server/errands/index.ts';
import { listParts } from '$lib/server/parts.ts';
import { MAX_TRAIN_BYTES, download, readBody, readDocument } from '$lib/server/requests.ts';
import { error } from '@sveltejs/kit';

/** Trains side by side on one sheet. */
const MOST_TRAINS = 4;

export async function POST({ request, locals }) {
  const { trains, counts = [] } = await readBody(request, validatePrintComparison, MOST_TRAINS * MAX_TRAIN_BYTES);
  if (trains.length > MOST_TRAINS) error(400, `At most ${MOST_TRAINS} trains fit on one sheet, not ${trains.length}.`);
  const read = trains.map(({ title, document }) => ({ title, train: readDocument(document) }));
  const parts = await listParts(locals.owner);
  const pdf = await print({ kind: 'comparison', trains: read, parts, counts, unit: locals.preferences.unit });
  return download(
    pdf,
    'application/pdf',
    `${read.map(({ train }) => train.name).join(', ')} side by side.pdf`,
    'comparison.pdf'
  );
}
