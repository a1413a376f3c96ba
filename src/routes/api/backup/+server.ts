import { MAX_BACKUP_BYTES } from '$lib/api/backup.ts';
import { archiveResponse, backupGate, verifyBackup } from '$lib/server/backup/kept.ts';
import { restoreFrom } from '$lib/server/backup/restore.ts';
import { writeBackup } from '$lib/server/backup/write.ts';
import { lentPath } from '$lib/server/scratch.ts';
import { whileThere, withUpload } from '$lib/server/upload.ts';
import { json } from '@sveltejs/kit';

/** Everything, as one archive that was read back before it is handed out; `?pixels=yes` with the pixels of frames. */
export async function GET({ url, locals, request, platform }) {
  const pixels = url.searchParams.get('pixels') === 'yes';
  const { path, giveBack } = lentPath();
  try {
    const { madeAt } = await whileThere({ request, platform }, (signal) =>
      backupGate.run(async () => {
        const manifest = await writeBackup(locals.owner, path, pixels);
        await verifyBackup(path);
        return manifest;
      }, signal)
    );
    return archiveResponse(path, `lodestone-${madeAt.slice(0, 10)}.zip`, () => void giveBack());
  } catch (failure) {
    await giveBack();
    throw failure;
  }
}

/** Brings in what a backup has and this installation has not; `?try=yes` only says what that would be. */
export async function POST({ url, locals, request, platform }) {
  const isTry = url.searchParams.get('try') === 'yes';
  return whileThere({ request, platform }, (signal) =>
    backupGate.run(
      () =>
        withUpload(request, MAX_BACKUP_BYTES, async ({ path }) => json(await restoreFrom(locals.owner, path, isTry))),
      signal
    )
  );
}
