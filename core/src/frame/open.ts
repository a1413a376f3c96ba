import { ByteStream } from './fits/stream.ts';
import { readFitsStream } from './fits/read.ts';
import { FrameError, blankInfinities, type Bytes, type Frame } from './frame.ts';
import { MAX_PICTURE_BYTES, pictureKind, readPicture } from './pictures.ts';

/**
 * Reads a frame from a file: FITS (gzip around it or not), TIFF or PNG, whatever its name.
 *
 * @param picture number of the one that is meant, where a file holds several of the same size
 * @throws SeveralPictures where that is not said
 * @throws FrameError with what is wrong and where
 */
export async function readFrame(bytes: Bytes, picture?: number): Promise<Frame> {
  const frame = await readAny(bytes, picture);
  blankInfinities(frame.planes);
  return picture === undefined ? frame : { ...frame, picture };
}

async function readAny(bytes: Bytes, picture: number | undefined): Promise<Frame> {
  const stream = await ByteStream.open(bytes);
  const start = await stream.peek(10);
  if (start.length === 0) throw new FrameError('The file is empty.');
  if (/^SIMPLE/i.test(String.fromCharCode(...start))) return readFitsStream(stream, picture);
  // Before anything of it is gathered: what only looks large is refused by its beginning.
  pictureKind(start);
  if ((bytes.sizeBytes ?? 0) > MAX_PICTURE_BYTES) {
    throw new FrameError(`A picture of more than ${MAX_PICTURE_BYTES / 2 ** 20} MiB is not read; save it as FITS.`);
  }
  return readPicture(await stream.readAll(MAX_PICTURE_BYTES), picture);
}
