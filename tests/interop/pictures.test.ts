import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { FrameError, SeveralPictures, readFrame, type Frame } from '../../core/src/frame/index.ts';
import { dice } from '../../core/src/stats/random.ts';
import { python } from './tools.ts';

// Files by tifffile, libtiff’s tiffcp, Pillow and astropy (Debian’s packages); what is in them by the arrays they were made
// from, by Pillow and by astropy.
const folder = mkdtempSync(join(tmpdir(), 'lodestone-interop-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
python('pictures.py', folder);

interface Made {
  height: number;
  width: number;
  channels: number;
}
const manifest = JSON.parse(readFileSync(join(folder, 'manifest.json'), 'utf8')) as {
  read: Record<string, Made>;
  refused: Record<string, string>;
  several: string[];
};

/** Files that are broken, each from a good one. */
const BROKEN = Number(process.env.LODESTONE_FUZZ_PICTURES ?? 1500);
const SEED = Number(process.env.LODESTONE_SEED ?? 20261130);

const read = (file: string, picture?: number): Promise<Frame> => readBytes(readFileSync(join(folder, file)), picture);

function readBytes(bytes: Uint8Array, picture?: number): Promise<Frame> {
  const chunks = (async function* () {
    yield bytes;
  })();
  return readFrame({ chunks, sizeBytes: bytes.length }, picture);
}

/** Pixels that differ from what the file should hold, and by how much at most. */
function difference({ planes, scale, zero, widthPx }: Frame, { height, width, channels }: Made, file: string): string {
  if (planes.length !== channels || widthPx !== width) return `${planes.length} planes ${widthPx} px wide`;
  const values = new Float64Array(readFileSync(join(folder, `${file}.f8`)).buffer.slice(0));
  // Floats of 32 bits, in which astropy scales whole numbers of 16, are good for seven digits.
  const rounding = 1e-7 * values.reduce((largest, value) => Math.max(largest, Math.abs(value)), 0);
  let [differ, most] = [0, 0];
  for (const [channel, plane] of planes.entries()) {
    for (let at = 0; at < width * height; at++) {
      const wanted = values[at * channels + channel]!;
      const off = Math.abs(zero + scale * plane[at]! - wanted);
      if (off > rounding) differ++;
      most = Math.max(most, off);
    }
  }
  return differ === 0 ? '' : `${differ} pixels, by up to ${most}`;
}

describe('frames that others wrote', () => {
  const files = Object.entries(manifest.read);

  it('are of every kind', () => {
    for (const kind of ['.tif', '.png', '.fits']) expect(files.some(([file]) => file.endsWith(kind))).toBe(true);
    expect(files.length).toBeGreaterThan(350);
  });

  it('are read pixel by pixel as they were meant', async () => {
    const wrong: string[] = [];
    for (const [file, made] of files) {
      const found = await read(file, manifest.several.includes(file) ? 2 : undefined).then(
        (frame) => difference(frame, made, file),
        (error: Error) => error.message
      );
      if (found) wrong.push(`${file}: ${found}`);
    }
    expect(wrong).toEqual([]);
  });

  it.each(manifest.several)('%s asks which picture is meant', async (file) => {
    const asked = await read(file).catch((error: unknown) => error);
    expect(asked).toBeInstanceOf(SeveralPictures);
    expect((asked as SeveralPictures).pictures.map(({ number }) => number)).toEqual([1, 2]);
    await expect(read(file, 3)).rejects.toThrow('no picture 3: there are 2');
  });

  it(`${BROKEN} of them broken: read, or told what is wrong with them`, async () => {
    const { uniform } = dice(SEED);
    const below = (most: number): number => Math.floor(uniform() * most);
    const pictures = files.filter(([file]) => !file.endsWith('.fits')).map(([file]) => file);
    const ends = { read: 0, told: 0 };
    for (let number = 0; number < BROKEN; number++) {
      const file = pictures[below(pictures.length)]!;
      const bytes = readFileSync(join(folder, file));
      // What says where and how the pixels lie stands in the beginning, or at the end.
      const around = below(2) === 0 ? 0 : Math.max(0, bytes.length - 400);
      for (let times = 1 + below(4); times > 0; times--) {
        bytes[Math.min(bytes.length - 1, around + below(400))] = [0, 1, 255, below(256)][below(4)]!;
      }
      const broken = below(5) === 0 ? bytes.subarray(0, below(bytes.length)) : bytes;
      const memory = process.memoryUsage().arrayBuffers;
      try {
        const frame = await readBytes(broken);
        expect(frame.planes.every(({ length }) => length === frame.widthPx * frame.heightPx)).toBe(true);
        ends.read++;
      } catch (error) {
        expect(error, `${file}, case ${number} of seed ${SEED}: ${String(error)}`).toBeInstanceOf(FrameError);
        ends.told++;
      }
      // A word of the file alone makes no room.
      if (memory < 50e6) expect(process.memoryUsage().arrayBuffers - memory).toBeLessThan(200e6);
    }
    expect(ends.read).toBeGreaterThan(BROKEN / 20);
    expect(ends.told).toBeGreaterThan(BROKEN / 5);
  });

  it.each(Object.entries(manifest.refused))('%s is refused by name', async (file, words) => {
    await expect(read(file)).rejects.toThrow(words);
  });
});
