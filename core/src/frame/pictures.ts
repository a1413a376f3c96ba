import { decode as decodePng } from 'fast-png';
import { decode as decodeTiff } from 'tiff';
import { FrameError, checkSize, type Frame, type Pixels } from './frame.ts';

/** Largest picture file that is read, bytes: it has to be in memory as a whole. */
export const MAX_PICTURE_BYTES = 1 << 30;

const PHOTOMETRIC_MOSAIC = 32_803;
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
  return {
    widthPx,
    heightPx,
    planes,
    scale: 1,
    zero: 0,
    blank: undefined,
    mosaic: undefined,
    bottomUp: false,
    keywords: new Map()
  };
}

function readPng(bytes: Uint8Array): Frame {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  // Width and height stand first of all (PNG, §11.2.2): nothing is unpacked before they are known to be small enough.
  if (bytes.length < 33) throw new FrameError('PNG: the file ends in its first part.');
  checkSize(view.getUint32(16), view.getUint32(20), 'PNG');
  let read: ReturnType<typeof decodePng>;
  try {
    read = decodePng(bytes);
  } catch (error) {
    throw new FrameError(`PNG: ${error instanceof Error ? error.message : 'damaged'}.`);
  }
  if (read.palette) throw new FrameError('PNG: its colours come from a palette; save it as grey or colour of 16 bits.');
  if (read.depth < 8) throw new FrameError(`PNG: ${read.depth} bit a pixel is no frame.`);
  return picture(read.width, read.height, read.data as Pixels, read.channels, 'PNG');
}

function readTiff(bytes: Uint8Array): Frame {
  const damaged = (error: unknown): never => {
    throw new FrameError(`TIFF: ${error instanceof Error ? error.message : 'damaged'}.`);
  };
  let directory: ReturnType<typeof decodeTiff>[number] | undefined;
  try {
    [directory] = decodeTiff(bytes, { ignoreImageData: true, pages: [0] });
  } catch (error) {
    damaged(error);
  }
  if (!directory) throw new FrameError('TIFF: it holds no picture.');
  if (directory.type === PHOTOMETRIC_MOSAIC) throw new FrameError(RAW);
  checkSize(directory.width, directory.height, 'TIFF');
  const bits = directory.bitsPerSample;
  const channels = directory.samplesPerPixel;
  // What is not there cannot be unpacked: no compression that is read makes more than this of a byte.
  if ((directory.width * directory.height * channels * bits) / 8 > bytes.length * 1032) {
    throw new FrameError(`TIFF: ${directory.width} × ${directory.height} pixels cannot be in so short a file.`);
  }
  let read: ReturnType<typeof decodeTiff>[number] | undefined;
  try {
    [read] = decodeTiff(bytes, { pages: [0] });
  } catch (error) {
    damaged(error);
  }
  if (read!.palette)
    throw new FrameError('TIFF: its colours come from a palette; save it as grey or colour of 16 bits.');
  return picture(read!.width, read!.height, read!.data as Pixels, channels, 'TIFF');
}

/**
 * Reads a TIFF or PNG picture of 8, 16 or (TIFF) 32 bits, grey or colour.
 *
 * @throws FrameError where it is neither, or damaged
 */
export function readPicture(bytes: Uint8Array): Frame {
  const starts = (...wanted: number[]): boolean => wanted.every((byte, at) => bytes[at] === byte);
  if (starts(0x89, 0x50, 0x4e, 0x47)) return readPng(bytes);
  if (starts(0x49, 0x49, 42, 0) || starts(0x4d, 0x4d, 0, 42)) return readTiff(bytes);
  if (starts(0xff, 0xd8)) {
    throw new FrameError(
      'JPEG pictures are stretched and squeezed: their stars cannot be measured. Use FITS, or 16-bit TIFF or PNG.'
    );
  }
  // An ISO base media file (box type at byte 4), which newer cameras wrap their raw data in.
  if (String.fromCharCode(...bytes.subarray(4, 8)) === 'ftyp') throw new FrameError(RAW);
  throw new FrameError(`This is no FITS, TIFF or PNG file. ${RAW}`);
}
