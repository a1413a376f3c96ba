import { createHash } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { ZipFile } from 'yazl';
import { BACKUP_TAG, type BackupFile, type BackupManifest } from '$lib/api/backup.ts';
import { readSnapshot, type Queryable } from '../database.ts';
import { MANIFEST, TABLES, fileOf, type BackedTable } from './tables.ts';

/** Pixels are noise for the most part: more effort packs them hardly smaller. */
const LITTLE_EFFORT = 1;
const USUAL_EFFORT = 6;

/** Entries carry no time of their own: equal contents make equal archives. */
const NO_TIME = new Date(Date.UTC(1980, 0, 1));

/** A row may be a piece of a frame: it comes in slices of so many bytes, and no more of them are held than come at once. */
const SLICE = 65_536;
const SLICES_AT_ONCE = 32;
const LINE_END = Buffer.from('\n');

/** Rows of a table as lines of JSON, in the order of its key, slice by slice. What it yields is added up in `file`. */
async function* linesOf(
  { name, key, leave = [], beside = {} }: BackedTable,
  owner: string,
  on: Queryable,
  file: BackupFile
): AsyncGenerator<Buffer> {
  const further = Object.entries(beside).map(([word, sql]) => `'${word}', ${sql}`);
  const row = `(to_jsonb(t) - $2::text[])${further.length > 0 ? ` || jsonb_build_object(${further.join(', ')})` : ''}`;
  const cursor = `backup_${name}`;
  await on.query(
    `declare ${cursor} no scroll cursor for
     select substring(line from at * $3 + 1 for $3) as slice, at = last as ends
       from (select * from ${name}
              where owner = $1 order by ${key.join(', ')} offset 0) t
      cross join lateral (select convert_to((${row})::text, 'UTF8') as line offset 0) lines
      cross join lateral (select (length(line) - 1) / $3 as last) slices
      cross join lateral generate_series(0, last) at`,
    [owner, ['owner', ...leave], SLICE]
  );
  const hash = createHash('sha256');
  for (;;) {
    // As bytes, which nobody turns into words and back.
    const fetched = { text: `fetch forward ${SLICES_AT_ONCE} from ${cursor}`, binary: true };
    const { rows } = await on.query<{ slice: Buffer; ends: boolean }>(fetched);
    if (rows.length === 0) break;
    for (const { slice, ends } of rows) {
      const bytes = ends ? Buffer.concat([slice, LINE_END]) : slice;
      hash.update(bytes);
      if (ends) file.rows++;
      file.bytes += bytes.byteLength;
      yield bytes;
    }
  }
  await on.query(`close ${cursor}`);
  file.sha256 = hash.digest('hex');
}

/**
 * Writes everything an owner has into an archive: one moment of the database, a file a table, a manifest with the hash of
 * each.
 *
 * @param path of the file to be written
 * @param pixels of test frames go along
 */
export async function writeBackup(owner: string, path: string, pixels: boolean): Promise<BackupManifest> {
  const zip = new ZipFile();
  const written = pipeline(
    Readable.from(zip.outputStream as AsyncIterable<Buffer>),
    createWriteStream(path, { flags: 'wx', mode: 0o600 })
  );
  // Told where it is waited for.
  written.catch(() => undefined);
  const manifest: BackupManifest = { lodestone: BACKUP_TAG, madeAt: new Date().toISOString(), pixels, files: [] };
  await readSnapshot(owner, async (on) => {
    for (const table of TABLES) {
      if (table.name === 'frame_piece' && !pixels) continue;
      const file: BackupFile = { path: fileOf(table), rows: 0, bytes: 0, sha256: '' };
      manifest.files.push(file);
      // No more slices wait than one is written.
      const lines = Readable.from(linesOf(table, owner, on, file), { objectMode: true, highWaterMark: 1 });
      const added = new Promise<void>((done, failed) => {
        lines.once('end', done);
        lines.once('error', failed);
      });
      zip.addReadStream(lines, file.path, {
        mtime: NO_TIME,
        compressionLevel: table.name === 'frame_piece' ? LITTLE_EFFORT : USUAL_EFFORT
      });
      await Promise.race([added, written.then(() => undefined)]);
    }
  });
  zip.addBuffer(Buffer.from(JSON.stringify(manifest, null, 2)), MANIFEST, { mtime: NO_TIME });
  zip.end();
  await written;
  return manifest;
}
