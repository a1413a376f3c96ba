import { listParts } from '$lib/server/drawer.ts';
import { download } from '$lib/server/requests.ts';
import { LOCAL_OWNER } from '$lib/server/trains.ts';
import { drawerToDocument } from '@lodestone/core/drawer';

export async function GET() {
  const text = `${JSON.stringify(drawerToDocument(await listParts(LOCAL_OWNER)), null, 2)}\n`;
  return download(text, 'application/json', 'drawer.json', 'drawer.json');
}
