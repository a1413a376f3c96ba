import { createHash } from 'node:crypto';
import sharp from 'sharp';
import { asOwner, readAs } from './database.ts';
import { nextDrawerNumber } from './following.ts';
import { Gate } from './gate.ts';

/** Largest picture taken in, bytes. */
export const MAX_PHOTO_BYTES = 20 * 1024 * 1024;

/** A camera's picture has well under this; more is a trick to fill the memory. */
const MAX_PIXELS = 120_000_000;
const LONGEST_SIDE = 1600;
const FORMATS = new Set(['jpeg', 'png', 'webp', 'gif', 'avif', 'heif', 'tiff']);

export interface Photo {
  bytes: Buffer;
  hash: string;
}

/** Something that is not a picture, whatever it called itself. */
export class NotAPicture extends Error {}

/** A large picture takes hundreds of megabytes while it is read: two at once, on threads of their own. */
const gate = new Gate('pictures', { atOnce: 2, waiting: 20 });
sharp.concurrency(1);

/**
 * Re-encodes a picture: upright, at most 1600 px, as JPEG, without the place and camera that phones write into it.
 * What it is is decided by its content.
 *
 * @throws NotAPicture, or Busy when too many wait already
 */
export const reencode = (bytes: Uint8Array): Promise<{ bytes: Buffer; width: number; height: number }> =>
  gate.run(() => reencodeNow(bytes));

async function reencodeNow(bytes: Uint8Array): Promise<{ bytes: Buffer; width: number; height: number }> {
  try {
    const picture = sharp(bytes, { limitInputPixels: MAX_PIXELS, failOn: 'error' });
    const { format } = await picture.metadata();
    if (!format || !FORMATS.has(format)) throw new NotAPicture(format);
    const { data, info } = await picture
      .rotate()
      .resize({ width: LONGEST_SIDE, height: LONGEST_SIDE, fit: 'inside', withoutEnlargement: true })
      .flatten({ background: '#ffffff' })
      .jpeg({ quality: 82, mozjpeg: true })
      .toBuffer({ resolveWithObject: true });
    return { bytes: data, width: info.width, height: info.height };
  } catch (error) {
    throw error instanceof NotAPicture ? error : new NotAPicture('unreadable', { cause: error });
  }
}

/** Stores the picture of a part; undefined when there is no such part. @returns its hash */
export async function storePhoto(owner: string, partId: string, upload: Uint8Array): Promise<string | undefined> {
  const { bytes, width, height } = await reencode(upload);
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
export function readPhoto(owner: string, partId: string): Promise<Photo | undefined> {
  return readAs(owner, async (on) => {
    const { rows } = await on.query<{ bytes: Buffer; hash: string }>(
      `select bytes, encode(hash, 'hex') as hash
         from part_photo
         join part using (owner, part_id)
        where owner = $1 and part_id = $2 and deleted_at is null`,
      [owner, partId]
    );
    return rows[0];
  });
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
