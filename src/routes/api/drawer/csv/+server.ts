import { listParts } from '$lib/server/drawer.ts';
import { download } from '$lib/server/requests.ts';
import { LOCAL_OWNER } from '$lib/server/trains.ts';
import { writeCsv } from '@lodestone/core/drawer-csv';

/** Tells spreadsheets that the file is UTF-8. */
const BYTE_ORDER_MARK = '\uFEFF';

export async function GET() {
  const text = BYTE_ORDER_MARK + writeCsv(await listParts(LOCAL_OWNER));
  return download(text, 'text/csv; charset=utf-8', 'drawer.csv', 'drawer.csv');
}
