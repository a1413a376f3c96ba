import { readFileSync, readdirSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';
import { describe, expect, it } from 'vitest';
import { FrameError, readFits, readRow, writeFits, type Frame } from '../src/frame/index.ts';

const FOLDER = new URL('./fits/', import.meta.url);
const fixture = (name: string): Buffer => readFileSync(new URL(`${name}.fits.gz`, FOLDER));
/** Written beside the frames by astropy 5.2.1 (`fits/make.py`). */
const truth = JSON.parse(gunzipSync(readFileSync(new URL('truth.json.gz', FOLDER))).toString()) as Record<
  string,
  (number | null)[]
>;

/** Bytes in pieces of odd lengths, as they come over a network. */
async function* inPieces(bytes: Uint8Array, size: number): AsyncGenerator<Uint8Array> {
  for (let at = 0; at < bytes.length; at += size) yield bytes.subarray(at, at + size);
}
const read = (bytes: Uint8Array, size = 1 << 16): Promise<Frame> =>
  readFits({ chunks: inPieces(bytes, size), sizeBytes: bytes.length });

function values(frame: Frame): (number | null)[] {
  return frame.planes.flatMap((plane) =>
    Array.from(plane, (pixel) => {
      const value = pixel === frame.blank ? NaN : frame.zero + frame.scale * pixel;
      return Number.isNaN(value) ? null : value;
    })
  );
}

const message = async (frame: Promise<Frame>): Promise<string> => {
  const error = await frame.then(
    () => undefined,
    (reason: unknown) => reason
  );
  expect(error).toBeInstanceOf(FrameError);
  return (error as FrameError).message;
};

/** A header of cards with the data behind it, padded as FITS wants. */
function fits(cards: readonly string[], data = new Uint8Array(0)): Uint8Array {
  const text = [...cards, 'END'].map((card) => card.padEnd(80)).join('');
  const header = text.padEnd(Math.ceil(text.length / 2880) * 2880);
  return Buffer.concat([Buffer.from(header, 'latin1'), data, Buffer.alloc((2880 - (data.length % 2880)) % 2880)]);
}
const line = (key: string, value: string | number): string => `${key.padEnd(8)}= ${String(value).padStart(20)}`;
const image = (width: number, height: number, ...more: string[]): string[] => [
  line('SIMPLE', 'T'),
  line('BITPIX', 16),
  line('NAXIS', 2),
  line('NAXIS1', width),
  line('NAXIS2', height),
  ...more
];

describe('FITS files of astropy', () => {
  const names = readdirSync(FOLDER)
    .filter((file) => file.endsWith('.fits.gz') && !file.startsWith('HCOMPRESS'))
    .map((file) => file.replace('.fits.gz', ''));
  it.each(names)('%s reads back equal, gzip around it or not, in pieces of any size', async (name) => {
    const zipped = fixture(name);
    const plain = gunzipSync(zipped);
    const wanted = truth[name]!;
    for (const frame of [await read(zipped), await read(plain), await read(plain, 997), await read(zipped, 13)]) {
      expect([frame.widthPx, frame.heightPx]).toEqual([37, 19]);
      const got = values(frame);
      expect(got).toHaveLength(wanted.length);
      // Dithered pixels are computed from numbers of single precision here and there.
      const near = /dither/.test(name) ? 1e-6 : 0;
      for (const [at, value] of got.entries()) {
        const expected = wanted[at]!;
        if (expected === null || value === null) expect([at, value]).toEqual([at, expected]);
        else expect(Math.abs(value - expected)).toBeLessThanOrEqual(near * Math.abs(expected));
      }
    }
  });

  it('keywords come with it: long strings, HIERARCH, quotes and slashes in strings', async () => {
    const { keywords } = await read(fixture('u16'));
    expect(keywords.get('LONGSTR')).toBe(`${'x'.repeat(150)}it's`);
    expect(keywords.get('our long keyword')).toBe(3.5);
    expect(keywords.get('OBJECT')).toBe('A / B');
  });

  it('HCOMPRESS_1 is refused by name, with what to do', async () => {
    expect(await message(read(fixture('HCOMPRESS_1')))).toMatch(/HCOMPRESS_1.*RICE_1, GZIP_1 and GZIP_2/);
  });
});

describe('colour mosaics', () => {
  const data = new Uint8Array(2 * 6 * 4);
  const pattern = async (...more: string[]) => (await read(fits(image(6, 4, ...more), data))).mosaic;
  it('are counted from the first row, moved by their offsets', async () => {
    expect(await pattern()).toBeUndefined();
    expect(await pattern(line('BAYERPAT', "'RGGB    '"))).toBe('RGGB');
    expect(await pattern(line('BAYERPAT', "'RGGB    '"), line('XBAYROFF', 1))).toBe('GRBG');
    expect(await pattern(line('BAYERPAT', "'RGGB    '"), line('YBAYROFF', 1))).toBe('GBRG');
    expect(await pattern(line('BAYERPAT', "'GBRG    '"), line('XBAYROFF', 1), line('YBAYROFF', 1))).toBe('GRBG');
  });
  it('are counted from the last row where the file says that its rows go up', async () => {
    const stated = line('BAYERPAT', "'RGGB    '");
    expect(await pattern(stated, line('ROWORDER', "'BOTTOM-UP'"))).toBe('GBRG');
    expect(await pattern(stated, line('ROWORDER', "'TOP-DOWN'"))).toBe('RGGB');
  });
});

describe('what is wrong is told with its place', () => {
  it.each<[string, Uint8Array, RegExp]>([
    ['no FITS at all', Buffer.alloc(5000), /does not begin with SIMPLE/],
    ['nothing', new Uint8Array(0), /does not begin with SIMPLE/],
    ['a header without END', fits(image(4, 4)).subarray(0, 300), /ends before its END/],
    ['a size no memory holds', fits(image(65_000, 65_000)), /65000 × 65000 pixels is more than/],
    ['a side that is too long', fits(image(100_000, 10)), /100000 pixels wide/],
    ['a size the file cannot hold', fits(image(9000, 9000)), /9000 × 9000 pixels, but the file is too short/],
    ['a negative size', fits(image(-4, 4)), /NAXIS1 is -4/],
    ['no size', fits([line('SIMPLE', 'T'), line('BITPIX', 16), line('NAXIS', 2)]), /NAXIS1 is missing/],
    ['BITPIX 12', fits([line('SIMPLE', 'T'), line('BITPIX', 12), line('NAXIS', 0)]), /BITPIX is 12|holds no image/],
    ['a stack', fits([...image(2, 2).with(2, line('NAXIS', 3)), line('NAXIS3', 7)]), /NAXIS3 is 7/],
    [
      'data without end',
      fits([
        line('SIMPLE', 'T'),
        line('BITPIX', 8),
        line('NAXIS', 40),
        ...Array.from({ length: 40 }, (_, at) => line(`NAXIS${at + 1}`, at === 0 ? 0 : 2 ** 39)),
        line('GROUPS', 'T')
      ]).map((byte) => byte),
      /holds no image|longer than any file/
    ],
    ['no image', fits([line('SIMPLE', 'T'), line('BITPIX', 8), line('NAXIS', 0)]), /holds no image/],
    ['BSCALE 0', fits(image(2, 2, line('BSCALE', 0)), new Uint8Array(8)), /BSCALE is 0/]
  ])('%s', async (_, bytes, wanted) => {
    expect(await message(read(bytes))).toMatch(wanted);
  });

  it('a file that ends too soon tells the row', async () => {
    const whole = fits(image(100, 100), new Uint8Array(20_000));
    const cut = whole.subarray(0, 2880 + 5100);
    expect(await message(readFits({ chunks: inPieces(cut, 4096) }))).toMatch(/ends in row 26 of 100/);
  });

  it('gzip that lies about what it holds makes no room', async () => {
    const zipped = Buffer.concat([Buffer.from([0x1f, 0x8b]), Buffer.alloc(40, 7)]);
    expect(await message(read(zipped))).toMatch(/gzip|SIMPLE/);
  });
});

describe('what we write', () => {
  const frame: Frame = {
    widthPx: 37,
    heightPx: 19,
    planes: [Float32Array.from({ length: 37 * 19 }, (_, at) => at * 93.7 - 500)],
    scale: 1,
    zero: 0,
    blank: undefined,
    mosaic: undefined,
    bottomUp: true,
    keywords: new Map()
  };
  it('reads back as it was, in floating point', async () => {
    const again = await read(
      writeFits(frame, { bitpix: -32, keywords: { OBJECT: "Owl's eye", EXPTIME: 0.5, GAIN: 1e-7 } })
    );
    expect(again.planes[0]).toEqual(frame.planes[0]);
    expect(again.keywords.get('OBJECT')).toBe("Owl's eye");
    expect(again.keywords.get('EXPTIME')).toBe(0.5);
    expect(again.keywords.get('GAIN')).toBe(1e-7);
  });
  it('is cut to what sixteen bits hold', async () => {
    const again = await read(writeFits(frame, { bitpix: 16 }));
    const row = new Float32Array(37);
    readRow(again, 0, 0, 0, 37, row);
    expect(row[0]).toBe(0);
    expect(row[10]).toBe(Math.round(10 * 93.7 - 500));
    readRow(again, 0, 18, 0, 37, row);
    expect(row[36]).toBe(Math.min(65_535, Math.round((37 * 19 - 1) * 93.7 - 500)));
  });
});

describe('sloppy files, and files of several units', () => {
  const pixels = (
    values: readonly number[],
    write: (view: DataView, at: number, value: number) => void,
    size: number
  ) => {
    const data = new Uint8Array(values.length * size);
    const view = new DataView(data.buffer);
    values.forEach((value, at) => write(view, at * size, value));
    return data;
  };
  const shorts = (...values: number[]) => pixels(values, (view, at, value) => view.setInt16(at, value), 2);
  const floats = (...values: number[]) => pixels(values, (view, at, value) => view.setFloat32(at, value), 4);
  const extension = (bitpix: number, width: number, height: number, ...more: string[]): string[] => [
    `XTENSION= 'IMAGE   '`,
    line('BITPIX', bitpix),
    line('NAXIS', 2),
    line('NAXIS1', width),
    line('NAXIS2', height),
    line('PCOUNT', 0),
    line('GCOUNT', 1),
    ...more
  ];
  const empty = [line('SIMPLE', 'T'), line('BITPIX', 8), line('NAXIS', 0)];

  it('what scales the pixels of one unit scales no other; the rest is inherited, unless INHERIT forbids it', async () => {
    const primary = fits([
      ...empty,
      line('BZERO', 32_768),
      line('BSCALE', 2),
      line('BLANK', 7),
      `INSTRUME= 'camera  '`
    ]);
    const file = (...more: string[]) => Buffer.concat([primary, fits(extension(-32, 2, 1, ...more), floats(7, 0.5))]);
    const inherited = await read(file());
    expect(values(inherited)).toEqual([7, 0.5]);
    expect(inherited.keywords.get('INSTRUME')).toBe('camera');
    const alone = await read(file(line('INHERIT', 'F')));
    expect(values(alone)).toEqual([7, 0.5]);
    expect(alone.keywords.has('INSTRUME')).toBe(false);
  });

  it('unsigned numbers of 64 bits are read to the last digit', async () => {
    const wanted = [0, 1, 1023, 2 ** 40 + 3];
    const data = pixels(wanted, (view, at, value) => view.setBigUint64(at, BigInt(value) ^ (1n << 63n)), 8);
    const cards = [line('SIMPLE', 'T'), line('BITPIX', 64), line('NAXIS', 2), line('NAXIS1', 4), line('NAXIS2', 1)];
    expect(values(await read(fits([...cards, line('BZERO', '9223372036854775808')], data)))).toEqual(wanted);
  });

  it('capital letters or not, nothing behind END, an equals sign without its blank', async () => {
    const sloppy = Buffer.from(fits(image(2, 1, 'BZERO   =              5'), shorts(3, 4)));
    const text = sloppy.toString('latin1').replace('BITPIX  = ', 'bitpix  = ').replace('SIMPLE  = ', 'simple  = ');
    const end = text.indexOf('END ');
    const bytes = Buffer.from(`${text.slice(0, end)}END${'\0'.repeat(77)}${text.slice(end + 80)}`, 'latin1');
    expect(values(await read(bytes))).toEqual([8, 9]);
  });

  it('a spectrum, a small mask or a preview before the picture is not the picture', async () => {
    const picture = fits(extension(16, 3, 2), shorts(1, 2, 3, 4, 5, 6));
    const spectrum = fits(
      [line('SIMPLE', 'T'), line('BITPIX', 16), line('NAXIS', 1), line('NAXIS1', 4)],
      shorts(9, 9, 9, 9)
    );
    expect(values(await read(Buffer.concat([spectrum, picture])))).toEqual([1, 2, 3, 4, 5, 6]);
    const mask = fits(image(2, 1), shorts(0, 1));
    expect(values(await read(Buffer.concat([mask, picture]), 500))).toEqual([1, 2, 3, 4, 5, 6]);
    // Of one as large as the first nobody knows which is meant; what is no picture at all changes nothing.
    const other = fits(extension(16, 3, 2), shorts(7, 7, 7, 7, 7, 7));
    await expect(read(Buffer.concat([fits(empty), picture, other]))).rejects.toThrow(
      '2 pictures of the same size: 1, 2'
    );
    expect(values(await read(Buffer.concat([mask, Buffer.from('what follows is nothing')])))).toEqual([0, 1]);
  });
});
