import { readFileSync, readdirSync } from 'node:fs';
import { gunzipSync, gzipSync } from 'node:zlib';
import { describe, expect, it } from 'vitest';
import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus';
import { FrameError, judgeField, readFrame, readStars, writeFits } from '../src/frame/index.ts';
import { sketched } from './frames.ts';

/** Files that are broken, each from a good one; more with LODESTONE_FUZZ_FITS=N. */
const CASES = Number(process.env.LODESTONE_FUZZ_FITS ?? 1500);
const SEED = Number(process.env.LODESTONE_SEED ?? 20261126);
/** A file of some thousand bytes is told to be wrong at once, however it lies. */
const SLOW_MS = 30_000;

const random = xoroshiro128plus(SEED);
const chance = (): number => (random.next() >>> 0) / 2 ** 32;
const below = (most: number): number => Math.floor(chance() * most);
const pick = <T>(from: readonly T[]): T => from[below(from.length)]!;

const FOLDER = new URL('./fits/', import.meta.url);
const plain = readdirSync(FOLDER)
  .filter((file) => file.endsWith('.fits.gz'))
  .map((file) => ({ file, bytes: new Uint8Array(gunzipSync(readFileSync(new URL(file, FOLDER)))) }));
plain.push({
  file: 'ours',
  bytes: writeFits(sketched({ widthPx: 64, heightPx: 48, field: { count: 3 } }).frame, { bitpix: 16 })
});

const KEYS = [
  ...['BITPIX', 'NAXIS', 'NAXIS1', 'NAXIS2', 'NAXIS3', 'PCOUNT', 'GCOUNT', 'TFIELDS', 'THEAP', 'BZERO', 'BSCALE'],
  ...['ZBITPIX', 'ZNAXIS', 'ZNAXIS1', 'ZNAXIS2', 'ZTILE1', 'ZTILE2', 'ZVAL1', 'ZVAL2', 'ZDITHER0', 'BLANK', 'SATURATE']
];
const VALUES = [
  ...['-1', '0', '1', '2', '3', '7', '16', '-32', '64', '1000', '65535', '65536', '2147483647', '4294967296', '1E300'],
  ...['-1E300', 'NaN', 'INF', 'T', "'X       '", '', '999999999999', '0.5', '-2147483648', "'RICE_1  '", "'1PB(1)'"]
];

/** Rewrites the value of a card, or a text one. */
function lie(bytes: Uint8Array): Uint8Array {
  const out = bytes.slice();
  const text = Buffer.from(out).toString('latin1');
  const key = pick(KEYS);
  const at = text.indexOf(key.padEnd(8) + '= ');
  if (at < 0) return out;
  Buffer.from(pick(VALUES).padStart(20).slice(0, 20), 'latin1').copy(out, at + 10);
  return out;
}

function scramble(bytes: Uint8Array): Uint8Array {
  const out = bytes.slice();
  for (let times = 1 + below(30); times > 0; times--) out[below(out.length)] = below(256);
  return out;
}
const cut = (bytes: Uint8Array): Uint8Array => bytes.slice(0, below(bytes.length));
const doubled = (bytes: Uint8Array): Uint8Array => Buffer.concat([bytes, bytes.subarray(below(bytes.length))]);
/** Within the data or a table: descriptors, tiles. */
function scrambleBehind(bytes: Uint8Array): Uint8Array {
  const out = bytes.slice();
  const from = Math.min(out.length - 1, 2880 * (1 + below(4)));
  for (let times = 1 + below(12); times > 0; times--)
    out[from + below(out.length - from)] = pick([0, 255, 127, 128, below(256)]);
  return out;
}
const zipped = (bytes: Uint8Array): Uint8Array => {
  const packed = new Uint8Array(gzipSync(bytes));
  return pick([cut, scramble, (whole: Uint8Array) => whole])(packed);
};

async function* pieces(bytes: Uint8Array): AsyncGenerator<Uint8Array> {
  const size = pick([1 << 20, 2880, 997]);
  for (let at = 0; at < bytes.length; at += size) yield bytes.subarray(at, at + size);
}

describe('broken files', () => {
  it(`${CASES} of them: read, or told what is wrong with them; never anything else, never slow`, async () => {
    const ends = { read: 0, told: 0 };
    for (let number = 0; number < CASES; number++) {
      const { file, bytes } = pick(plain);
      let broken = bytes;
      for (let times = 1 + below(3); times > 0; times--) {
        broken = pick([lie, lie, lie, scramble, scrambleBehind, cut, doubled])(broken);
      }
      if (chance() < 0.15) broken = zipped(broken);
      const began = performance.now();
      const memory = process.memoryUsage().arrayBuffers;
      try {
        const frame = await readFrame({
          chunks: pieces(broken),
          ...(chance() < 0.8 ? { sizeBytes: broken.length } : {})
        });
        expect(frame.planes.every(({ length }) => length === frame.widthPx * frame.heightPx)).toBe(true);
        const { findings } = judgeField(readStars(frame));
        expect(findings.every(({ message }) => message.length > 0 && !/NaN|undefined/.test(message))).toBe(true);
        ends.read++;
      } catch (error) {
        expect(error, `${file}, case ${number} of seed ${SEED}: ${String(error)}`).toBeInstanceOf(FrameError);
        ends.told++;
      }
      expect(performance.now() - began, `${file}, case ${number} of seed ${SEED}`).toBeLessThan(SLOW_MS);
      // A header's word alone makes no room: whatever it says, the file is small.
      if (memory < 50e6) expect(process.memoryUsage().arrayBuffers - memory).toBeLessThan(400e6);
    }
    expect(ends.read).toBeGreaterThan(CASES / 20);
    expect(ends.told).toBeGreaterThan(CASES / 5);
  });
});

describe('files that are no frames', () => {
  const read = (bytes: Uint8Array): Promise<string> =>
    readFrame({
      chunks: (async function* () {
        yield bytes;
      })(),
      sizeBytes: bytes.length
    }).then(
      () => 'read',
      (error: unknown) => (error instanceof FrameError ? error.message : `not told: ${String(error)}`)
    );
  it.each<[string, Uint8Array, RegExp]>([
    ['nothing', new Uint8Array(0), /empty/],
    ['text', Buffer.from('{"lodestone": "train/1"}'), /no FITS, TIFF or PNG.*raw/],
    ['a JPEG', Uint8Array.of(0xff, 0xd8, 0xff, 0xe0, 0, 0), /JPEG.*FITS/],
    ['a container of raw data', Buffer.from('\0\0\0\x18ftypabc \0\0\0\0'), /raw files are not read.*16-bit TIFF/],
    ['the first bytes of a PNG', Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a), /PNG: the file ends/],
    [
      'a PNG that lies',
      Buffer.concat([Buffer.from('89504e470d0a1a0a0000000d49484452', 'hex'), Buffer.alloc(40, 0x7f)]),
      /PNG.*pixels/
    ],
    ['the first bytes of a TIFF', Uint8Array.of(0x49, 0x49, 42, 0, 8, 0, 0, 0), /TIFF/]
  ])('%s', async (_, bytes, wanted) => {
    expect(await read(bytes)).toMatch(wanted);
  });
});
