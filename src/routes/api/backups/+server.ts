import { validateSetBackups } from '$lib/api/generated/validate.js';
import { backupGate, backupsFolder, keepBackup, keptBackups, setSchedule } from '$lib/server/backup/kept.ts';
import { SMALL_BODY_BYTES, readBody } from '$lib/server/requests.ts';
import { whileThere } from '$lib/server/upload.ts';
import { error, json } from '@sveltejs/kit';

export const GET = async ({ locals }) => json(await keptBackups(locals.owner));

/** Makes one now, among those that are kept. */
export async function POST({ locals, request, platform }) {
  const folder =
    (await backupsFolder(locals.owner)) ??
    error(409, 'This server keeps no backups: LODESTONE_BACKUPS names no folder.');
  const { schedule } = await keptBackups(locals.owner);
  await whileThere({ request, platform }, (signal) =>
    backupGate.run(() => keepBackup(locals.owner, folder, schedule.keep), signal)
  );
  return json(await keptBackups(locals.owner), { status: 201 });
}

/** Sets how often one is made by itself, and how many are kept. */
export async function PUT({ request, locals }) {
  await setSchedule(locals.owner, await readBody(request, validateSetBackups, SMALL_BODY_BYTES));
  return json(await keptBackups(locals.owner));
}
