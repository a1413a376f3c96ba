import { createReadStream } from 'node:fs';
import { Readable } from 'node:stream';
import { MAX_BACKUP_BYTES } from '$lib/api/backup.ts';
import { Archive, BadBackup } from '$lib/server/backup/archive.ts';
import { restore, tryRestore } from '$lib/server/backup/restore.ts';
import { writeBackup } from '$lib/server/backup/write.ts';
import { Gate } from '$lib/server/gate.ts';
import { lentPath } from '$lib/server/scratch.ts';
import { whileThere, withUpload } from '$lib/server/upload.ts';
import { error, json } from '@sveltejs/kit';

/** One is written, or read, at a time: it takes the disk and a connection for as long. */
const gate = new Gate('backups', { atOnce: 1, waiting: 4 });

/** Everything, as one archive that was read back before it is handed out; `?pixels=yes` with the pixels of frames. */
export async function GET({ url, locals, request, platform }) {
  const pixels = url.searchParams.get('pixels') === 'yes';
  const { path, giveBack } = lentPath();
  try {
    const { madeAt } = await whileThere({ request, platform }, (signal) =>
      gate.run(async () => {
        const manifest = await writeBackup(locals.owner, path, pixels);
        await readBack(path);
        return manifest;
      }, signal)
    );
    const file = createReadStream(path);
    file.once('close', () => void giveBack());
    return new Response(Readable.toWeb(file) as ReadableStream<Uint8Array>, {
      headers: {
        'content-type': 'application/zip',
        'content-disposition': `attachment; filename="lodestone-${madeAt.slice(0, 10)}.zip"`,
        'cache-control': 'no-store'
      }
    });
  } catch (failure) {
    await giveBack();
    throw failure;
  }
}

/** What was written is read again, all of it: a backup that cannot be read is none. */
async function readBack(path: string): Promise<void> {
  const archive = await Archive.open(path);
  try {
    await archive.verify();
  } finally {
    archive.close();
  }
}

/** Brings in what a backup has and this installation has not; `?try=yes` only says what that would be. */
export async function POST({ url, locals, request, platform }) {
  const isTry = url.searchParams.get('try') === 'yes';
  return whileThere({ request, platform }, (signal) =>
    gate.run(
      () =>
        withUpload(request, MAX_BACKUP_BYTES, async ({ path }) => {
          try {
            const archive = await Archive.open(path);
            try {
              return json(await (isTry ? tryRestore : restore)(locals.owner, archive));
            } finally {
              archive.close();
            }
          } catch (failure) {
            if (failure instanceof BadBackup) error(422, failure.message);
            throw failure;
          }
        }),
      signal
    )
  );
}
