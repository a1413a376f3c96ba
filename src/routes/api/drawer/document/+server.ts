import { listPartDocuments } from '$lib/server/parts.ts';
import { download } from '$lib/server/requests.ts';

export async function GET({ locals }) {
  // As they are stored: a part that this version cannot read is exported all the same.
  const parts = await listPartDocuments(locals.owner);
  const text = `${JSON.stringify({ lodestone: 'drawer/1', parts }, null, 2)}\n`;
  return download(text, 'application/json', 'drawer.json', 'drawer.json');
}
