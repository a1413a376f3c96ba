import { decode as decodePng } from 'fast-png';
import { FrameError, checkSize, pictureFrame, type Frame, type Pixels } from './frame.ts';
import { mostWithSlack, staysWithin } from './packed.ts';
import { readTiff } from './tiff/read.ts';

/** Largest picture file that is read, bytes: it has to be in memory as a whole. */
export const MAX_PICTURE_BYTES = 1 << 30;

const RAW =
  'Camera raw files are not read: what they hold differs from camera to camera. Have the capture program write FITS, or turn it into a 16-bit TIFF without stretching it.';

/** Pixels of a picture, its channels side by side, as planes: grey or red, green and blue; what is transparent is left out. */
function picture(widthPx: number, heightPx: number, data: Pixels, channels: number, place: string): Frame {
  const count = widthPx * heightPx;
  if (data.length < count * channels) throw new FrameError(`${place}: the file ends before its pixels do.`);
  const colours = channels >= 3 ? 3 : 1;
  const planes =
    channels === 1
      ? [data]
      : Array.from({ length: colours }, (_, colour) => {
          const plane = new (data.constructor as new (length: number) => Pixels)(count);
          for (let at = 0, from = colour; at < count; at++, from += channels) plane[at] = data[from]!;
          return plane;
        });
  return pictureFrame(widthPx, heightPx, planes);
}

/** Chunks that pixels are made of; whatever else a file holds is not unpacked. */
const PNG_CHUNKS: ReadonlySet<string> = new Set(['IHDR', 'PLTE', 'tRNS', 'IDAT', 'IEND']);
const PNG_START = 8;
/** Values a pixel has, by colour type (PNG, §11.2.2). */
const PNG_CHANNELS: Readonly<Record<number, number>> = { 0: 1, 2: 3, 3: 1, 4: 2, 6: 4 };

/**
 * The file with nothing but its pixels, once they are known not to unpack to more than their size says.
 *
 * @throws FrameError where they do
 */
function plainPng(bytes: Uint8Array, view: DataView): Uint8Array {
  const kept: Uint8Array[] = [bytes.subarray(0, PNG_START)];
  const packed: Uint8Array[] = [];
  for (let at = PNG_START; at + 12 <= bytes.length;) {
    const length = view.getUint32(at);
    const name = String.fromCharCode(...bytes.subarray(at + 4, at + 8));
    const end = Math.min(bytes.length, at + 12 + length);
    if (PNG_CHUNKS.has(name)) kept.push(bytes.subarray(at, end));
    if (name === 'IDAT') packed.push(bytes.subarray(at + 8, Math.min(bytes.length, at + 8 + length)));
    if (name === 'IEND') break;
    at = end;
  }
  const [width, height, depth, colour] = [view.getUint32(16), view.getUint32(20), bytes[24]!, bytes[25]!];
  const rowBytes = 1 + Math.ceil((width * depth * (PNG_CHANNELS[colour] ?? 4)) / 8);
  if (packed.length > 0 && !staysWithin(packed, mostWithSlack(height * rowBytes))) {
    throw new FrameError(`PNG: it unpacks to more than its ${width} × ${height} pixels.`);
  }
  const plain = new Uint8Array(kept.reduce((sum, { length }) => sum + length, 0));
  let to = 0;
  for (const part of kept) {
    plain.set(part, to);
    to += part.length;
  }
  return plain;
}

function readPng(bytes: Uint8Array): Frame {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  // Width and height stand first of all (PNG, §11.2.2): nothing is unpacked before they are known to be small enough.
  if (bytes.length < 33) throw new FrameError('PNG: the file ends in its first part.');
  checkSize(view.getUint32(16), view.getUint32(20), 'PNG');
  let read: ReturnType<typeof decodePng>;
  try {
    read = decodePng(plainPng(bytes, view));
  } catch (error) {
    if (error instanceof FrameError) throw error;
    throw new FrameError(`PNG: ${error instanceof Error ? error.message : 'damaged'}.`);
  }
  if (read.palette) throw new FrameError('PNG: its colours come from a palette; save it as grey or colour of 16 bits.');
  if (read.depth < 8) throw new FrameError(`PNG: ${read.depth} bit a pixel is no frame.`);
  return picture(read.width, read.height, read.data as Pixels, read.channels, 'PNG');
}

/**
 * Which kind of picture begins with these bytes.
 *
 * @param start at least its first 8 bytes
 * @throws FrameError where it is none that is read
 */
export function pictureKind(start: Uint8Array): 'PNG' | 'TIFF' {
  const starts = (...wanted: number[]): boolean => wanted.every((byte, at) => start[at] === byte);
  if (starts(0x89, 0x50, 0x4e, 0x47)) return 'PNG';
  // 43: BigTIFF.
  for (const version of [42, 43]) if (starts(0x49, 0x49, version, 0) || starts(0x4d, 0x4d, 0, version)) return 'TIFF';
  if (starts(0xff, 0xd8)) {
    throw new FrameError(
      'JPEG pictures are stretched and squeezed: their stars cannot be measured. Use FITS, or 16-bit TIFF or PNG.'
    );
  }
  // An ISO base media file (box type at byte 4), which newer cameras wrap their raw data in.
  if (String.fromCharCode(...start.subarray(4, 8)) === 'ftyp') throw new FrameError(RAW);
  throw new FrameError(`This is no FITS, TIFF or PNG file. ${RAW}`);
}

/**
 * Reads a TIFF or PNG picture, grey or colour.
 *
 * @throws FrameError where it is neither, or damaged
 */
export const readPicture = (bytes: Uint8Array, picture?: number): Frame =>
  pictureKind(bytes) === 'PNG' ? readPng(bytes) : readTiff(bytes, RAW, picture);
