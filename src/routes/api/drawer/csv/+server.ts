import { listParts } from '$lib/server/parts.ts';
import { download } from '$lib/server/requests.ts';
import { writeCsv } from '@lodestone/core/drawer-csv';

/** Tells spreadsheets that the file is UTF-8. */
const BYTE_ORDER_MARK = '\uFEFF';

export async function GET({ locals }) {
  const text = BYTE_ORDER_MARK + writeCsv(await listParts(locals.owner));
  return download(text, 'text/csv; charset=utf-8', 'drawer.csv', 'drawer.csv');
}
