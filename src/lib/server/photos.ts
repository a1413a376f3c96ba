import { createHash } from 'node:crypto';
import { asOwner, readAs, readUnchanging } from './database.ts';
import { reencode } from './errands/index.ts';
import type { WrittenFile } from './scratch.ts';
import { nextDrawerNumber } from './following.ts';

/** Largest picture taken in, bytes. */
export const MAX_PHOTO_BYTES = 20 * 1024 * 1024;

/** What is said to a file that is no picture, whatever it is called. */
export const NO_PICTURE = 'This is not a picture that can be read. JPEG, PNG, WebP, GIF, TIFF and AVIF can.';

export interface Photo {
  bytes: Buffer;
  hash: string;
}

/** A photo as an answer; none where the browser has it already. */
export function photoResponse({ bytes, hash }: Photo, request: Request): Response {
  const etag = `"${hash}"`;
  if (request.headers.get('if-none-match') === etag) return new Response(null, { status: 304, headers: { etag } });
  return new Response(new Uint8Array(bytes), {
    headers: { 'content-type': 'image/jpeg', 'cache-control': 'private, no-cache', etag }
  });
}

const isThere = async (owner: string, partId: string): Promise<boolean> => {
  const { rowCount } = await readAs(owner, (on) =>
    on.query('select from part where owner = $1 and part_id = $2 and deleted_at is null', [owner, partId])
  );
  return rowCount !== 0;
};

/** Stores the picture of a part; undefined when there is no such part. @returns its hash */
export async function storePhoto(owner: string, partId: string, { path }: WrittenFile): Promise<string | undefined> {
  // Looked at before the work is done, and again when it is stored.
  if (!(await isThere(owner, partId))) return undefined;
  const { bytes, width, height } = await reencode(path);
  const hash = createHash('sha256').update(bytes).digest();
  return asOwner(
    owner,
    async (on) => {
      const { rowCount } = await on.query(
        `insert into part_photo (owner, part_id, bytes, width, height, hash)
         select owner, part_id, $3, $4, $5, $6 from part where owner = $1 and part_id = $2 and deleted_at is null
         on conflict (owner, part_id) do update
            set bytes = excluded.bytes, width = excluded.width, height = excluded.height, hash = excluded.hash`,
        [owner, partId, bytes, width, height, hash]
      );
      if (rowCount === 0) return undefined;
      await nextDrawerNumber(owner, on);
      return hash.toString('hex');
    },
    'change'
  );
}

/** The photo of a part that is there; one that was deleted keeps its photo to itself. */
export async function readPhoto(owner: string, partId: string): Promise<Photo | undefined> {
  const hash = await readAs(owner, async (on) => {
    const { rows } = await on.query<{ hash: string }>(
      `select encode(hash, 'hex') as hash
         from part_photo
         join part using (owner, part_id)
        where owner = $1 and part_id = $2 and deleted_at is null`,
      [owner, partId]
    );
    return rows[0]?.hash;
  });
  return pictureOf(owner, hash, 'select bytes from part_photo where owner = $1 and part_id = $2', [owner, partId]);
}

/** @param select what finds the bytes, beside which their hash is asked for: a picture may have been replaced meanwhile */
export async function pictureOf(
  owner: string,
  hash: string | undefined,
  select: string,
  values: readonly unknown[]
): Promise<Photo | undefined> {
  if (hash === undefined) return undefined;
  const bytes = await readUnchanging(owner, async (on) => {
    const { rows } = await on.query<{ bytes: Buffer }>(`${select} and hash = decode($${values.length + 1}, 'hex')`, [
      ...values,
      hash
    ]);
    return rows[0]?.bytes;
  });
  return bytes && { bytes, hash };
}

export async function dropPhoto(owner: string, partId: string): Promise<void> {
  await asOwner(
    owner,
    async (on) => {
      const { rowCount } = await on.query('delete from part_photo where owner = $1 and part_id = $2', [owner, partId]);
      if (rowCount !== 0) await nextDrawerNumber(owner, on);
    },
    'change'
  );
}
