import { FrameError, readRow, type Frame } from '../frame.ts';
import { BLOCK_BYTES, CARD_BYTES, type CardValue } from './cards.ts';

/** A card of eight letters at most, its value in fixed format (FITS 4.0, §4.2). */
function card(key: string, value: CardValue, comment = ''): string {
  if (!/^[A-Z0-9_-]{1,8}$/.test(key)) throw new FrameError(`FITS header: “${key}” cannot be a keyword.`);
  const written =
    typeof value === 'boolean'
      ? (value ? 'T' : 'F').padStart(20)
      : typeof value === 'number'
        ? numberText(value).padStart(20)
        : `'${value
            .replaceAll(/[^ -~]/g, '?')
            .replaceAll("'", "''")
            .padEnd(8)}'`;
  if (written.length > CARD_BYTES - 10)
    throw new FrameError(`FITS header: the text of ${key} is too long for one card.`);
  const line = `${key.padEnd(8)}= ${written}${comment ? ` / ${comment}` : ''}`;
  return line.slice(0, CARD_BYTES).padEnd(CARD_BYTES);
}

/** A number as Fortran reads it: a real one has a point. */
function numberText(value: number): string {
  if (!Number.isFinite(value)) throw new FrameError('FITS header: a number must be finite.');
  if (Number.isInteger(value) && Math.abs(value) < 1e15) return String(value);
  const text = String(value).toUpperCase().replace('E+', 'E');
  return text.includes('.') ? text : text.replace('E', '.0E');
}

export interface WriteOptions {
  /** 16 writes whole numbers from 0 to 65 535 (BZERO 32768), what lies outside is cut; −32 any value. */
  bitpix: 16 | -32;
  /** Beside those that the pixels need. */
  keywords?: Readonly<Record<string, CardValue>>;
}

const NEEDED = new Set(['SIMPLE', 'BITPIX', 'NAXIS', 'NAXIS1', 'NAXIS2', 'NAXIS3', 'BZERO', 'BSCALE', 'EXTEND', 'END']);

/** A frame as a FITS file (FITS 4.0), one plane or three. */
export function writeFits(frame: Frame, { bitpix, keywords = {} }: WriteOptions): Uint8Array<ArrayBuffer> {
  const { widthPx, heightPx, planes } = frame;
  const cards = [
    card('SIMPLE', true, 'FITS 4.0'),
    card('BITPIX', bitpix),
    card('NAXIS', planes.length === 1 ? 2 : 3),
    card('NAXIS1', widthPx),
    card('NAXIS2', heightPx),
    ...(planes.length === 1 ? [] : [card('NAXIS3', planes.length)]),
    ...(bitpix === 16 ? [card('BZERO', 32_768), card('BSCALE', 1)] : []),
    card('ROWORDER', frame.bottomUp ? 'BOTTOM-UP' : 'TOP-DOWN'),
    ...Object.entries(keywords)
      .filter(([key]) => !NEEDED.has(key) && key !== 'ROWORDER')
      .map(([key, value]) => card(key, value)),
    'END'.padEnd(CARD_BYTES)
  ];
  const header = cards.join('');
  const headerBytes = Math.ceil(header.length / BLOCK_BYTES) * BLOCK_BYTES;
  const size = Math.abs(bitpix) / 8;
  const dataBytes = widthPx * heightPx * planes.length * size;
  const file = new Uint8Array(headerBytes + Math.ceil(dataBytes / BLOCK_BYTES) * BLOCK_BYTES);
  for (let at = 0; at < headerBytes; at++) file[at] = at < header.length ? header.charCodeAt(at) : 0x20;
  const view = new DataView(file.buffer);
  const row = new Float32Array(widthPx);
  let at = headerBytes;
  for (let plane = 0; plane < planes.length; plane++) {
    for (let y = 0; y < heightPx; y++) {
      readRow(frame, plane, y, 0, widthPx, row);
      for (let x = 0; x < widthPx; x++, at += size) {
        const value = row[x]!;
        if (bitpix === -32) view.setFloat32(at, value);
        else view.setUint16(at, Math.max(0, Math.min(65_535, Math.round(value) || 0)) ^ 0x8000);
      }
    }
  }
  return file;
}
