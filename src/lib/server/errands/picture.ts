import sharp from 'sharp';
import { NotAPicture, type Brought } from './errand.ts';

/** A camera's picture has well under this; more is a trick to fill the memory. */
const MAX_PIXELS = 120_000_000;
const LONGEST_SIDE = 1600;
const FORMATS = new Set(['jpeg', 'png', 'webp', 'gif', 'avif', 'heif', 'tiff']);

sharp.concurrency(1);
sharp.cache(false);

/**
 * Re-encodes a picture: upright, at most 1600 px, as JPEG, without the place and camera that phones write into it.
 * What it is is decided by its content.
 *
 * @throws NotAPicture
 */
export async function reencode(path: string): Promise<Brought> {
  try {
    const picture = sharp(path, { limitInputPixels: MAX_PIXELS, failOn: 'error' });
    const { format } = await picture.metadata();
    if (!format || !FORMATS.has(format)) throw new NotAPicture(format);
    const { data, info } = await picture
      .rotate()
      .resize({ width: LONGEST_SIDE, height: LONGEST_SIDE, fit: 'inside', withoutEnlargement: true })
      .flatten({ background: '#ffffff' })
      .jpeg({ quality: 82, mozjpeg: true })
      .toBuffer({ resolveWithObject: true });
    return { bytes: new Uint8Array(data), width: info.width, height: info.height };
  } catch (error) {
    throw error instanceof NotAPicture ? error : new NotAPicture('unreadable', { cause: error });
  }
}
