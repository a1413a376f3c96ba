import { closeDatabase, isUnreachable } from '$lib/server/database.ts';
import { loadDemo } from '$lib/server/demo.ts';
import { endStreams } from '$lib/server/live.ts';
import { migrate } from '$lib/server/migrations.ts';
import { readPreferences } from '$lib/ui/preferences.ts';
import type { Handle, HandleServerError, ServerInit } from '@sveltejs/kit';

export const init: ServerInit = async () => {
  const owner = process.env.LODESTONE_MIGRATE_URL ?? process.env.DATABASE_URL;
  if (!owner) throw new Error('DATABASE_URL must say where the database is');
  const carriedOut = await migrate(owner);
  if (carriedOut.length > 0) console.log(`Database brought up to date: ${carriedOut.join(', ')}`);
  if (process.env.LODESTONE_DEMO !== 'off') {
    const { trains, parts } = await loadDemo();
    if (trains + parts > 0) console.log(`Loaded the demo: ${trains} trains, ${parts} parts`);
  }
  process.on('sveltekit:shutdown', () => {
    endStreams();
    void closeDatabase();
  });
};

export const handle: Handle = async ({ event, resolve }) => {
  event.locals.preferences = readPreferences((name) => event.cookies.get(name));
  const { theme } = event.locals.preferences;
  const response = await resolve(event, {
    transformPageChunk: ({ html }) => html.replace('%lodestone.theme%', theme)
  });
  // The framework calls every unexpected error a 500; this one says "try again".
  return event.locals.databaseLost ? new Response(response.body, { status: 503, headers: response.headers }) : response;
};

export const handleError: HandleServerError = ({ error, event, status, message }) => {
  if (isUnreachable(error)) {
    console.error(`${event.request.method} ${event.url.pathname}: the database cannot be reached`);
    event.locals.databaseLost = true;
    return { message: 'The database cannot be reached just now. Nothing was changed; try again shortly.' };
  }
  if (status === 404) return { message: 'There is nothing at this address.' };
  if (status < 500) return { message };
  console.error(`${event.request.method} ${event.url.pathname}:`, error);
  return { message: 'Something went wrong on the server. Nothing was changed; its log says more.' };
};
