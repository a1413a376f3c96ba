import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { judgeField, readFrame, readStars, type Star } from '../src/frame/index.ts';
import { catalogue, median } from './sourceExtractor.ts';

// Real pixels, as Debian's packages carry them for trying out astronomy programs (their copyright files: /usr/share/doc):
// iraf 2.17 (a spiral galaxy of 512 × 512 pixels, free of restrictions), eso-midas-testdata 22.02 (GPL-2+): an infrared
// field of 1024 × 1024 and two scanned plates of 177 × 177. scripts/setup fetches and unpacks them for the tests.
const FOLDER = join(import.meta.dirname, '../../node_modules/.cache/lodestone-frames');
const MIDAS = join(FOLDER, 'usr/lib/eso-midas/22FEB/test/prim');
const folder = mkdtempSync(join(tmpdir(), 'lodestone-real-'));

/** The galaxy, whose pixels stand bare behind 2048 bytes, as a FITS file. */
function galaxy(): string {
  const pixels = readFileSync(join(FOLDER, 'usr/lib/iraf/dev/pix.pix')).subarray(-512 * 512 * 2);
  const cards = ['SIMPLE  =                    T', 'BITPIX  =                   16', 'NAXIS   =                    2'];
  const header = [...cards, 'NAXIS1  =                  512', 'NAXIS2  =                  512', 'END'];
  const file = join(folder, 'galaxy.fits');
  const text = header.map((card) => card.padEnd(80)).join('');
  const padding = Buffer.alloc(2880 - ((512 * 512 * 2) % 2880));
  writeFileSync(file, Buffer.concat([Buffer.from(text.padEnd(2880)), pixels, padding]));
  return file;
}

/** What both make of a file: stars of theirs that are surely stars, and ours nearest to them. */
async function both(file: string, seeingPx: number) {
  const bytes = readFileSync(file);
  const frame = await readFrame({
    chunks: (async function* () {
      await Promise.resolve();
      yield new Uint8Array(bytes);
    })(),
    sizeBytes: bytes.length
  });
  const reading = readStars(frame);
  const theirs = catalogue(folder, file, { seeingPx, backgroundPx: 32 }).filter(
    ({ snr, flags, starness, hfr, fwhm, x, y }) =>
      snr > 20 &&
      flags === 0 &&
      starness > 0.9 &&
      // A single hot pixel is a star to them, and so is a knot of a galaxy's arm.
      hfr > HOT_RADIUS_PX &&
      fwhm > 0.5 &&
      fwhm < 2 * seeingPx &&
      Math.min(x, y, frame.widthPx - x, frame.heightPx - y) > 5
  );
  const nearest = (x: number, y: number): Star | undefined =>
    reading.stars.find((star) => Math.hypot(star.x - x, star.y - y) < 1.2);
  const pairs = theirs.flatMap((one) => {
    const ours = nearest(one.x, one.y);
    return ours ? [{ one, ours }] : [];
  });
  return { reading, theirs, pairs };
}

const HOT_RADIUS_PX = 0.8;

describe('real frames beside source-extractor', () => {
  it('was unpacked', () => {
    expect(spawnSync('source-extractor', ['-v']).status).toBe(0);
  });

  it('a large galaxy: its stars are found, its clouds are none, and it is no filter that is too small', async () => {
    const { reading, theirs, pairs } = await both(galaxy(), 2.5);
    expect(theirs.length).toBeGreaterThan(5);
    expect(pairs.length).toBeGreaterThanOrEqual(0.85 * theirs.length);
    const ratio = (of: (pair: (typeof pairs)[number]) => number): number => median(pairs.map(of));
    expect(Math.abs(ratio(({ one, ours }) => ours.fwhmPx / one.fwhm) - 1)).toBeLessThan(0.05);
    expect(Math.abs(ratio(({ one, ours }) => ours.hfrPx / one.hfr) - 1)).toBeLessThan(0.05);
    expect(median(reading.stars.map(({ fwhmPx }) => fwhmPx))).toBeLessThan(2.7);
    expect(reading.stars.filter(({ hfrPx }) => hfrPx > 3)).toEqual([]);
    const { findings } = judgeField(reading);
    expect(findings.filter(({ cause, confidence }) => cause !== 'unclear' && confidence > 0.9)).toEqual([]);
  });

  it.each([
    ['a crowded infrared field', 'ISAAC.2006-04-13T06:32:38.944.fits', 2.8, 100],
    ['a scanned plate', 'dss_test1.fits', 2.3, 3],
    ['another', 'dss_test2.fits', 2.1, 3]
  ])('%s: the same stars, places and sizes', async (_, name, seeingPx, least) => {
    const { theirs, pairs } = await both(join(MIDAS, name), seeingPx);
    expect(theirs.length).toBeGreaterThanOrEqual(least);
    // A few of them is hardly a share: of the plates two stand in a clump that they part otherwise.
    expect(pairs.length / theirs.length).toBeGreaterThanOrEqual(theirs.length > 50 ? 0.9 : 0.8);
    expect(median(pairs.map(({ one, ours }) => Math.hypot(one.x - ours.x, one.y - ours.y)))).toBeLessThan(0.15);
    expect(Math.abs(median(pairs.map(({ one, ours }) => ours.hfrPx / one.hfr)) - 1)).toBeLessThan(0.05);
    // Of a dozen stars as narrow as the plates' theirs scatters by a tenth itself.
    const allowed = theirs.length > 50 ? 0.05 : 0.12;
    expect(Math.abs(median(pairs.map(({ one, ours }) => ours.fwhmPx / one.fwhm)) - 1)).toBeLessThan(allowed);
  });
});
