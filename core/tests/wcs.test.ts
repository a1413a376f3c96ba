import { describe, expect, it } from 'vitest';
import { gzipSync } from 'node:zlib';
import { readPlateScale, type Bytes, type WcsReading } from '../src/frame/index.ts';
import { MAX_HEADER_BYTES } from '../src/frame/fits/cards.ts';
import { assess } from '../src/check/index.ts';
import { spacingFromScale } from '../src/light/index.ts';
import type { Train } from '../src/train/index.ts';
import { camera, corrector, part, train } from './trains.ts';

/** A FITS header as programs write them: cards of 80 characters, blocks of 2880 bytes (FITS 4.0, from memory). */
function header(cards: Record<string, number | string>, end = true): Uint8Array {
  const card = (key: string, value: number | string): string =>
    `${key.padEnd(8)}= ${String(typeof value === 'number' ? value : `'${value}'`).padStart(20)} / said by a test`.padEnd(
      80
    );
  const text = [
    'SIMPLE  =                    T'.padEnd(80),
    ...Object.entries(cards).map(([key, value]) => card(key, value))
  ];
  if (end) text.push('END'.padEnd(80));
  const joined = text.join('');
  return new TextEncoder().encode(end ? joined.padEnd(Math.ceil(joined.length / 2880) * 2880) : joined);
}

/** A file as it comes, in one piece. */
const bytesOf = (bytes: Uint8Array): Bytes => ({
  chunks: (async function* () {
    await Promise.resolve();
    yield bytes;
  })(),
  sizeBytes: bytes.length
});
const scaleOf = (bytes: Uint8Array): Promise<WcsReading> => readPlateScale(bytesOf(bytes));

/** Degrees a pixel of a frame of so many arcseconds a pixel, turned by an angle, east to the left. */
function turned(arcsec: number, deg: number) {
  const s = arcsec / 3600;
  const [cos, sin] = [Math.cos((deg * Math.PI) / 180), Math.sin((deg * Math.PI) / 180)];
  return { a: -s * cos, b: s * sin, c: s * sin, d: s * cos };
}

const IMAGE = { BITPIX: 16, NAXIS: 2, NAXIS1: 4, NAXIS2: 4 };

describe('the scale of a solved frame', () => {
  const { a, b, c, d } = turned(1.24, 30);

  it.each([
    ['CD', { CD1_1: a, CD1_2: b, CD2_1: c, CD2_2: d }],
    [
      'PC and CDELT',
      {
        CDELT1: -1.24 / 3600,
        CDELT2: 1.24 / 3600,
        PC1_1: a / (-1.24 / 3600),
        PC1_2: b / (-1.24 / 3600),
        PC2_1: c / (1.24 / 3600),
        PC2_2: d / (1.24 / 3600)
      }
    ],
    ['CDELT and CROTA2', { CDELT1: -1.24 / 3600, CDELT2: 1.24 / 3600, CROTA2: -30 }]
  ] as [string, Record<string, number>][])('is read from %s', async (_how, cards) => {
    const reading = await scaleOf(header({ ...IMAGE, OBJECT: 'M 31 = CD1_1', ...cards }));
    expect(reading).toMatchObject({ ok: true, scale: { mirrored: false, hasDistortion: false } });
    if (!reading.ok) return;
    expect(reading.scale.arcsecPerPx).toBeCloseTo(1.24, 9);
    expect(Math.abs(reading.scale.angleDeg)).toBeCloseTo(30, 9);
  });

  it('says that distortion is left out, and that a frame is mirrored', async () => {
    const sip = await scaleOf(header({ ...IMAGE, CD1_1: -a, CD1_2: b, CD2_1: -c, CD2_2: d, A_ORDER: 3, B_ORDER: 3 }));
    expect(sip).toMatchObject({ ok: true, scale: { mirrored: true, hasDistortion: true } });
  });

  it.each([
    ['nothing', new Uint8Array(0), /no FITS file|empty/],
    ['another file', new TextEncoder().encode('GIF89a'.padEnd(200)), /no FITS file/],
    ['a header cut off', header({ CD1_1: a }, false), /ends before its END/],
    ['no coordinates', header({ ...IMAGE }), /solve the frame first/],
    [
      'a singular matrix',
      header({ ...IMAGE, CD1_1: 1e-4, CD1_2: 2e-4, CD2_1: 2e-4, CD2_2: 4e-4 }),
      /cannot be inverted/
    ],
    ['a matrix of noughts', header({ ...IMAGE, CD1_1: 0, CD2_2: 0 }), /cannot be inverted/],
    ['text where a number belongs', header({ ...IMAGE, CDELT1: 'wide', CDELT2: 'high' }), /solve the frame first/]
  ])('refuses %s', async (_what, bytes, message) => {
    const reading = await scaleOf(bytes);
    expect(reading.ok).toBe(false);
    expect(reading.ok ? '' : reading.message).toMatch(message);
  });

  it('is that of a pixel of the sensor: what was binned is taken out, said by whichever keyword', async () => {
    const cards = { ...IMAGE, CD1_1: a, CD1_2: b, CD2_1: c, CD2_2: d };
    for (const binned of [{ XBINNING: 2 }, { XBINNING: 2, YBINNING: 2, CCDXBIN: 2 }, { BINX: 2 }]) {
      const reading = await scaleOf(header({ ...cards, ...binned }));
      expect(reading.ok && reading.scale.arcsecPerPx).toBeCloseTo(0.62, 9);
    }
    expect(await scaleOf(header({ ...cards, XBINNING: 2, CCDXBIN: 1 }))).toMatchObject({
      ok: false,
      message: expect.stringMatching(/binning twice/)
    });
  });

  it('is read through gzip, and from an image that stands in a later unit', async () => {
    const cards = { CD1_1: a, CD1_2: b, CD2_1: c, CD2_2: d };
    const zipped = await scaleOf(new Uint8Array(gzipSync(header({ ...IMAGE, ...cards }))));
    expect(zipped.ok && zipped.scale.arcsecPerPx).toBeCloseTo(1.24, 9);
    const second = new TextDecoder()
      .decode(header({ ...IMAGE, ...cards }))
      .replace('SIMPLE  =                    T', "XTENSION= 'IMAGE   '          ");
    const later = await scaleOf(Buffer.concat([header({ BITPIX: 8, NAXIS: 0 }), Buffer.from(second)]));
    expect(later.ok && later.scale.arcsecPerPx).toBeCloseTo(1.24, 9);
  });

  it('gives up on a header without end', async () => {
    const endless = new Uint8Array(2 * MAX_HEADER_BYTES).fill(32);
    endless.set(header({ ...IMAGE }, false));
    expect(await scaleOf(endless)).toMatchObject({ ok: false, message: expect.stringMatching(/longer than any/) });
  });
});

describe('the spacing that a scale tells', () => {
  const reduced = (kind: Train['host']['kind'], magnification = 0.79): Train => {
    const made = train([
      corrector({ backFocusMm: 58.3, magnification }),
      part('rings', 40.8, { glass: [{ thicknessMm: 3, index: 1.5, fromSkyMm: 10 }] }),
      camera(17.5, { sensor: { widthMm: 23.4, heightMm: 15.6, pixelUm: 3.8 } })
    ]);
    return { ...made, host: { ...made.host, kind, focalLengthMm: 805, apertureMm: 115 } };
  };
  const told = (made: Train, arcsec: number) => spacingFromScale(made, assess(made).facts.light!, arcsec);

  it('is what the train has, when the frame has the scale that is reckoned for it', () => {
    const made = reduced('refractor');
    const { light } = assess(made).report;
    const spacing = told(made, light!.scaleArcsecPerPx);
    expect(spacing).toMatchObject({ magnification: expect.closeTo(light!.magnification!.reckoned, 9) });
    // 58.3 physical, 1 mm of it made up by glass.
    expect(spacing).toMatchObject({ actualMm: expect.closeTo(58.3, 9), distanceMm: expect.closeTo(57.3, 9) });
  });

  it('a tenth of a per cent of scale is so much spacing (thin lens, calculated)', () => {
    const made = reduced('refractor');
    const { scaleArcsecPerPx } = assess(made).report.light!;
    const [a, b] = [told(made, scaleArcsecPerPx), told(made, scaleArcsecPerPx * 1.001)] as { actualMm: number }[];
    // f = 58.3 / 0.21 = 277.6 mm; dm = −m/1001.
    expect(b!.actualMm - a!.actualMm).toBeCloseTo((277.62 * 0.7936) / 1001, 3);
  });

  it('is not told of a moving mirror, of a flattener, or by a scale that is none', () => {
    expect(told(reduced('schmidt-cassegrain'), 1.2)).toMatch(/changes with its focus/);
    expect(told(reduced('refractor', 1), 1.2)).toMatch(/does not give the spacing/);
    expect(told(reduced('refractor'), 0)).toMatch(/more than 0/);
    expect(told(reduced('refractor'), NaN)).toMatch(/more than 0/);
  });
});
