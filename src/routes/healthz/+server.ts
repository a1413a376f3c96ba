import { database } from '$lib/server/database.ts';
import { json } from '@sveltejs/kit';

export async function GET() {
  try {
    await database().query('select 1');
    return json({ status: 'ok' });
  } catch {
    return json({ status: 'no database' }, { status: 503 });
  }
}
