import { crc32, deflateSync } from 'node:zlib';
import { encode as encodePng } from 'fast-png';
import { describe, expect, it } from 'vitest';
import { FramePyramid, TILE_PX, readFrame, readStars, type Frame } from '../src/frame/index.ts';
import { unpack } from '../src/frame/tiff/unpack.ts';
import { plainFrame, sketched } from './frames.ts';

const read = (bytes: Uint8Array): Promise<Frame> =>
  readFrame({
    chunks: (async function* () {
      yield bytes;
    })(),
    sizeBytes: bytes.length
  });

/** LZW of zeros (TIFF 6.0, §13): a clear code, then so many codes, each for a byte more than the one before. */
function lzwOfZeros(codes: number): Uint8Array {
  const bits: number[] = [];
  const put = (code: number, width: number): void => {
    for (let bit = width - 1; bit >= 0; bit--) bits.push((code >> bit) & 1);
  };
  put(256, 9);
  put(0, 9);
  for (let at = 0; at < codes; at++) {
    const entries = 258 + at;
    put(258 + at, entries >= 2047 ? 12 : entries >= 1023 ? 11 : entries >= 511 ? 10 : 9);
  }
  return Uint8Array.from({ length: Math.ceil(bits.length / 8) }, (_, at) =>
    Array.from({ length: 8 }, (_bit, bit) => bits[8 * at + bit] ?? 0).reduce((byte, bit) => 2 * byte + bit, 0)
  );
}

/** A TIFF of one strip, packed by whoever asks for it, or not at all (TIFF 6.0, §2, from memory). */
function tiff(
  width: number,
  height: number,
  channels: 1 | 3,
  photometric: number,
  values: Uint16Array,
  { packed, compression = 1 }: { packed?: Uint8Array; compression?: number } = {}
): Uint8Array {
  const strip = packed ?? new Uint8Array(values.buffer, values.byteOffset, values.byteLength);
  const entries: [number, number, number, number][] = [
    [256, 3, 1, width],
    [257, 3, 1, height],
    [258, 3, 1, 16],
    [259, 3, 1, compression],
    [262, 3, 1, photometric],
    [273, 4, 1, 0],
    [277, 3, 1, channels],
    [278, 3, 1, height],
    [279, 4, 1, strip.length],
    [339, 3, 1, 1]
  ];
  const directory = 8;
  const bitsAt = directory + 2 + entries.length * 12 + 4;
  const dataAt = bitsAt + 6;
  const file = new DataView(new ArrayBuffer(dataAt + strip.length));
  file.setUint16(0, 0x4949);
  file.setUint16(2, 42, true);
  file.setUint32(4, directory, true);
  file.setUint16(directory, entries.length, true);
  for (const [at, [tag, type, count, value]] of entries.entries()) {
    const to = directory + 2 + at * 12;
    const isBits = tag === 258 && channels === 3;
    file.setUint16(to, tag, true);
    file.setUint16(to + 2, type, true);
    file.setUint32(to + 4, isBits ? 3 : count, true);
    if (isBits) file.setUint32(to + 8, bitsAt, true);
    else if (type === 3) file.setUint16(to + 8, value, true);
    else file.setUint32(to + 8, tag === 273 ? dataAt : value, true);
  }
  for (let at = 0; at < 3; at++) file.setUint16(bitsAt + 2 * at, 16, true);
  const bytes = new Uint8Array(file.buffer);
  bytes.set(strip, dataAt);
  return bytes;
}

const grey = Uint16Array.from({ length: 30 * 20 }, (_, at) => (at * 997) % 65_536);
const colour = Uint16Array.from({ length: 30 * 20 * 3 }, (_, at) => (at * 331) % 65_536);
const every = (from: Uint16Array, channel: number): Uint16Array => from.filter((_, at) => at % 3 === channel);

describe('pictures of sixteen bits', () => {
  it('PNG, grey and colour', async () => {
    const one = await read(encodePng({ width: 30, height: 20, data: grey, depth: 16, channels: 1 }));
    expect([one.widthPx, one.heightPx, one.bottomUp]).toEqual([30, 20, false]);
    expect(Uint16Array.from(one.planes[0]!)).toEqual(grey);
    const three = await read(encodePng({ width: 30, height: 20, data: colour, depth: 16, channels: 3 }));
    expect(three.planes.map((plane) => Uint16Array.from(plane))).toEqual([0, 1, 2].map((at) => every(colour, at)));
  });

  it('TIFF, grey and colour', async () => {
    const one = await read(tiff(30, 20, 1, 1, grey));
    expect(Uint16Array.from(one.planes[0]!)).toEqual(grey);
    const three = await read(tiff(30, 20, 3, 2, colour));
    expect(three.planes.map((plane) => Uint16Array.from(plane))).toEqual([0, 1, 2].map((at) => every(colour, at)));
  });

  it('a camera’s raw mosaic in a TIFF is refused, with what to do', async () => {
    await expect(read(tiff(30, 20, 1, 32_803, grey))).rejects.toThrow(/raw files are not read.*16-bit TIFF/);
  });

  it('a PNG that unpacks to more than its pixels is refused before it is unpacked, and its texts never are', async () => {
    const small = encodePng({ width: 8, height: 8, data: new Uint16Array(64), channels: 1, depth: 16 });
    const chunk = (name: string, data: Uint8Array): Buffer => {
      const body = Buffer.concat([Buffer.from(name, 'latin1'), data]);
      const frame = Buffer.alloc(8);
      frame.writeUInt32BE(data.length, 0);
      frame.writeUInt32BE(crc32(body), 4);
      return Buffer.concat([frame.subarray(0, 4), body, frame.subarray(4)]);
    };
    const [start, end] = [small.subarray(0, 33), Buffer.from(small.subarray(small.length - 12))];
    const bomb = deflateSync(Buffer.alloc(300_000_000));
    await expect(read(Buffer.concat([start, chunk('IDAT', bomb), end]))).rejects.toThrow(
      'it unpacks to more than its 8 × 8 pixels'
    );
    // A text of 300 MB beside pixels that are right.
    const text = chunk('zTXt', Buffer.concat([Buffer.from('Comment\0\0', 'latin1'), bomb]));
    const before = process.memoryUsage().rss;
    const frame = await read(Buffer.concat([start, text, Buffer.from(small.subarray(33))]));
    expect(frame.widthPx).toBe(8);
    expect(process.memoryUsage().rss - before).toBeLessThan(150_000_000);
  });

  it('so is a TIFF: deflated, by LZW, or with strips that lie on each other', async () => {
    const values = Uint16Array.from({ length: 64 }, (_, at) => 1000 + at);
    const [width, height] = [8, 8];
    const right = deflateSync(new Uint8Array(values.buffer));
    expect((await read(tiff(width, height, 1, 1, values, { packed: right, compression: 8 }))).planes[0]).toEqual(
      values
    );
    const bomb = deflateSync(Buffer.alloc(300_000_000));
    await expect(read(tiff(width, height, 1, 1, values, { packed: bomb, compression: 8 }))).rejects.toThrow(
      'strip 1 unpacks to more than its rows'
    );
    // Codes of growing repetitions of one byte: 0, 258, 259, … each a byte longer than the one before.
    await expect(read(tiff(width, height, 1, 1, values, { packed: lzwOfZeros(3000), compression: 5 }))).rejects.toThrow(
      'strip 1 unpacks to more than its rows'
    );
    // As many codes as need every width make 2 + 3 + … bytes, and the first.
    const exactly = 1 + (3000 * 3003) / 2;
    const unpacked = (bytes: number) => () => unpack(lzwOfZeros(3000), 5, false, new Uint8Array(bytes), 'strip 1');
    expect(unpacked(exactly)).not.toThrow();
    expect(unpacked(exactly + 1)).toThrow('strip 1 ends before its rows do');
    const few = lzwOfZeros(15);
    expect((await read(tiff(width, height, 1, 1, values, { packed: few, compression: 5 }))).planes[0]).toHaveLength(64);
  });

  it('hold the same stars as the frame they were made from', async () => {
    const { frame } = sketched({ widthPx: 500, heightPx: 400, field: { count: 60 } });
    const file = encodePng({ width: 500, height: 400, data: frame.planes[0] as Uint16Array, depth: 16, channels: 1 });
    const stars = readStars(await read(file)).stars;
    const wanted = readStars({ ...frame, bottomUp: false }).stars;
    expect(stars).toEqual(wanted);
  });
});

describe('the picture of a frame in tiles', () => {
  const frame = plainFrame(700, 500, (x, y) => (x > 400 && x < 500 && y > 300 && y < 350 ? 30_000 : 1000));
  const pyramid = new FramePyramid(frame, { background: 1000, noise: 10 });
  it('has levels of half the size each, down to one tile', () => {
    expect(pyramid.sizes).toEqual([
      { width: 700, height: 500 },
      { width: 350, height: 250 },
      { width: 175, height: 125 }
    ]);
  });
  it.each([0, 1, 2])('level %i shows the same place bright, upright', (level) => {
    const scale = 2 ** level;
    const grey = (x: number, yUp: number): number => {
      const size = pyramid.sizes[level]!;
      const [column, row] = [Math.floor(x / scale), Math.floor((500 - 1 - yUp) / scale)];
      expect(row).toBeLessThan(size.height);
      const tile = pyramid.tile(level, Math.floor(column / TILE_PX), Math.floor(row / TILE_PX))!;
      return tile.grey[(row % TILE_PX) * tile.width + (column % TILE_PX)]!;
    };
    expect(grey(450, 325)).toBe(255);
    expect(grey(100, 100)).toBeLessThan(40);
    expect(grey(450, 175)).toBeLessThan(40);
  });
  it('there is nothing beyond its edges', () => {
    expect(pyramid.tile(0, 3, 0)).toBeUndefined();
    expect(pyramid.tile(0, -1, 0)).toBeUndefined();
    expect(pyramid.tile(9, 0, 0)).toBeUndefined();
  });
});
