import { validateBackupPath } from '$lib/api/generated/validate.js';
import { archiveResponse, backupGate, dropKept, keptBackups, pathOfKept } from '$lib/server/backup/kept.ts';
import { restoreFrom } from '$lib/server/backup/restore.ts';
import { readPath } from '$lib/server/requests.ts';
import { whileThere } from '$lib/server/upload.ts';
import { error, json } from '@sveltejs/kit';

async function keptOf(owner: string, params: Record<string, string>): Promise<{ name: string; path: string }> {
  const { name } = readPath(params, validateBackupPath, 'backup');
  return { name, path: (await pathOfKept(owner, name)) ?? error(404, 'There is no such backup here.') };
}

export async function GET({ params, locals }) {
  const { name, path } = await keptOf(locals.owner, params);
  return archiveResponse(path, name);
}

/** Restores it; `?try=yes` only says what that would bring. */
export async function POST({ params, url, locals, request, platform }) {
  const { path } = await keptOf(locals.owner, params);
  const isTry = url.searchParams.get('try') === 'yes';
  return whileThere({ request, platform }, (signal) =>
    backupGate.run(async () => json(await restoreFrom(locals.owner, path, isTry)), signal)
  );
}

export async function DELETE({ params, locals }) {
  const { path } = await keptOf(locals.owner, params);
  await dropKept(path);
  return json(await keptBackups(locals.owner));
}
