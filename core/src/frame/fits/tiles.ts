import { FrameError, checkSize, type Pixels } from '../frame.ts';
import type { Header } from './cards.ts';
import { DITHER_COUNT, unrounding } from './rounded.ts';
import { HeapTable } from './table.ts';
import { TileReader, pixelsFor, tileCodeOf } from './tileCode.ts';

export interface TiledImage {
  widthPx: number;
  heightPx: number;
  planes: Pixels[];
}

const BITPIX = [8, 16, 32, 64, -32, -64];

/** How an image lies in its tiles: its own size, and that of a tile, px. */
interface TileLayout {
  bitpix: number;
  size: readonly [widthPx: number, heightPx: number, depth: number];
  tile: readonly [number, number, number];
  /** Tiles along each axis. */
  count: readonly [number, number, number];
}

function layoutOf(header: Header): TileLayout {
  const bitpix = header.number('ZBITPIX') ?? NaN;
  if (!BITPIX.includes(bitpix)) throw new FrameError(`FITS header: ZBITPIX is ${bitpix}, which no image has.`);
  const axes = header.whole('ZNAXIS', 1, 999);
  if (axes < 2) throw new FrameError('FITS header: ZNAXIS is 1; a frame has two.');
  const widthPx = header.whole('ZNAXIS1', 1, 1e9);
  const heightPx = header.whole('ZNAXIS2', 1, 1e9);
  checkSize(widthPx, heightPx, 'FITS header');
  const depth = axes > 2 ? header.whole('ZNAXIS3', 1, 1e9) : 1;
  if (axes > 3 || (depth !== 1 && depth !== 3)) {
    throw new FrameError(`FITS header: a stack of ${depth} images is no frame; one plane or three are read.`);
  }
  const size = [widthPx, heightPx, depth] as const;
  const tile = [
    header.whole('ZTILE1', 1, 1e9, widthPx),
    header.whole('ZTILE2', 1, 1e9, 1),
    header.whole('ZTILE3', 1, 1e9, 1)
  ] as const;
  const along = (axis: 0 | 1 | 2): number => Math.ceil(size[axis] / tile[axis]);
  return { bitpix, size, tile, count: [along(0), along(1), along(2)] };
}

/** Where a tile lies in its image, and how much of it is there: those at the far ends may be smaller. */
function placeOf(row: number, { size, tile, count }: TileLayout) {
  const at = [row % count[0], Math.floor(row / count[0]) % count[1], Math.floor(row / (count[0] * count[1]))] as const;
  const from = [at[0] * tile[0], at[1] * tile[1], at[2] * tile[2]] as const;
  const span = (axis: 0 | 1 | 2): number => Math.min(tile[axis], size[axis] - from[axis]);
  return { from, wide: span(0), high: span(1), thick: span(2) };
}

/**
 * An image that is kept in tiles, each compressed, as the rows of a binary table (FITS 4.0, §10).
 *
 * @param bytes the table’s rows, then its heap
 * @throws FrameError naming what is wrong with header or table
 */
export function readTiles(header: Header, bytes: Uint8Array): TiledImage {
  const code = tileCodeOf(header, header.number('ZBITPIX') ?? NaN);
  const layout = layoutOf(header);
  const { bitpix, size, count } = layout;
  const [widthPx, heightPx, depth] = size;
  const table = new HeapTable(header, bytes);
  const tiles = count[0] * count[1] * count[2];
  if (table.rows !== tiles) {
    throw new FrameError(`FITS table: ${table.rows} rows, but the image has ${tiles} tiles.`);
  }
  const reader = new TileReader(table, code);
  const method = (header.text('ZQUANTIZ') ?? 'NO_DITHER').toUpperCase();
  const seed = header.whole('ZDITHER0', 0, DITHER_COUNT, 1);
  const planes = Array.from({ length: depth }, () => pixelsFor(bitpix, widthPx * heightPx));

  for (let row = 0; row < tiles; row++) {
    const { from, wide, high, thick } = placeOf(row, layout);
    const scale = table.number(row, 'ZSCALE') ?? header.number('ZSCALE');
    const zero = table.number(row, 'ZZERO') ?? header.number('ZZERO') ?? 0;
    const blank = table.number(row, 'ZBLANK') ?? header.number('ZBLANK');
    const { numbers, isRounded } = reader.read(row, wide * high * thick, scale !== undefined);
    const pixelOf = isRounded ? unrounding({ scale: scale!, zero, blank, method, seed }, row) : undefined;
    let at = 0;
    for (let z = from[2]; z < from[2] + thick; z++) {
      const plane = planes[z]!;
      for (let y = from[1]; y < from[1] + high; y++) {
        let to = y * widthPx + from[0];
        if (pixelOf) for (let x = 0; x < wide; x++) plane[to++] = pixelOf(numbers[at++]!);
        else for (let x = 0; x < wide; x++) plane[to++] = numbers[at++]!;
      }
    }
  }
  return { widthPx, heightPx, planes };
}
