import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { judgeField, readFrame, readStars, writeFits, type Star } from '../src/frame/index.ts';
import { shaded, sketched, type Sketch } from './frames.ts';
import { catalogue, median } from './sourceExtractor.ts';

const causes = (sketch: Sketch): string[] =>
  judgeField(readStars(sketched(sketch).frame)).findings.map(({ cause }) => cause);
const NIGHT = (n: number) => ({ seeingPx: 2.6 + 0.2 * (n % 6), hotPixels: 60, cosmicRays: 4 });

describe('nights of the simulated camera', () => {
  it('there is none in at least 98 % of clean frames', () => {
    const told = Array.from({ length: 100 }, (_, n) => causes({ seed: 3000 + n, conditions: NIGHT(n) }));
    expect(told.filter(({ length }) => length > 0).length).toBeLessThanOrEqual(2);
  });

  it('the stronger of two comes first', () => {
    const pairs: [string, Pick<Sketch, 'optics' | 'conditions'>][] = [
      ['spacing', { optics: { spacingErrorMm: 1.6 }, conditions: { driftPx: 2.2, driftDirectionDeg: 20 } }],
      ['tracking', { optics: { spacingErrorMm: 0.7 }, conditions: { driftPx: 6, driftDirectionDeg: 20 } }],
      ['tilt', { optics: { tiltUm: 130, spacingErrorMm: 0.6, tiltDirectionDeg: 10 } }],
      ['spacing', { optics: { tiltUm: 50, spacingErrorMm: 1.7, tiltDirectionDeg: 10 } }],
      ['focus', { optics: { defocusUm: 300 }, conditions: { driftPx: 2.4 } }],
      ['tracking', { conditions: { driftPx: 7, illumination: shaded(0.3) } }]
    ];
    const wrong: string[] = [];
    for (const [cause, fault] of pairs) {
      for (let n = 0; n < 5; n++) {
        const [named = 'none', ...rest] = causes({ seed: 5000 + n, ...fault });
        if (named !== cause) wrong.push(`${cause} ${n}: ${[named, ...rest].join(' ')}`);
      }
    }
    expect(wrong.length, wrong.join(', ')).toBeLessThanOrEqual(2);
  });
});

const share = <T>(values: readonly T[], holds: (value: T) => boolean): number =>
  values.filter(holds).length / values.length;

describe('beside source-extractor on the same file', () => {
  const folder = mkdtempSync(join(tmpdir(), 'lodestone-frames-'));
  it('the same stars, places, sizes and shapes', async () => {
    const file = join(folder, 'frame.fits');
    const { frame, stars: truth } = sketched({
      widthPx: 2400,
      heightPx: 1600,
      seed: 77,
      optics: { spacingErrorMm: 1.2, tiltUm: 30 },
      conditions: { driftPx: 1, driftDirectionDeg: 30 },
      field: { count: 1500, brightestAdu: 800_000 }
    });
    const written = writeFits(frame, { bitpix: 16 });
    writeFileSync(file, written);
    const theirs = catalogue(folder, file);
    const read = await readFrame({
      chunks: (async function* () {
        yield written;
      })(),
      sizeBytes: written.length
    });
    const { stars } = readStars(read);
    const nearest = (x: number, y: number): Star | undefined =>
      stars.find((star) => Math.abs(star.x - x) < 1 && Math.abs(star.y - y) < 1);
    const bright = theirs.filter(
      ({ snr, flags, x, y }) => snr > 50 && flags === 0 && Math.min(x, y, 2401 - x, 1601 - y) > 8
    );
    const pairs = bright.flatMap((one) => {
      const ours = nearest(one.x, one.y);
      return ours ? [{ one, ours }] : [];
    });
    expect(bright.length).toBeGreaterThan(300);
    expect(pairs.length / bright.length).toBeGreaterThanOrEqual(0.98);
    const invented = stars.filter(
      ({ snr, x, y }) => snr > 50 && truth.every((star) => Math.hypot(star.x - x, star.y - y) > 3)
    );
    expect(invented.length).toBeLessThanOrEqual(0.01 * pairs.length);
    expect(share(pairs, ({ one, ours }) => Math.hypot(one.x - ours.x, one.y - ours.y) < 0.1)).toBeGreaterThan(0.99);
    expect(share(pairs, ({ one, ours }) => Math.abs(ours.hfrPx / one.hfr - 1) < 0.03)).toBeGreaterThan(0.95);
    // Its width, axes and angle come from the pixels above a threshold, and are noisier than its radius.
    expect(Math.abs(median(pairs.map(({ one, ours }) => ours.fwhmPx / one.fwhm)) - 1)).toBeLessThan(0.05);
    expect(share(pairs, ({ one, ours }) => Math.abs(ours.fwhmPx / one.fwhm - 1) < 0.05)).toBeGreaterThan(0.8);
    const firm = pairs.filter(({ one }) => one.snr > 150);
    expect(Math.abs(median(firm.map(({ one, ours }) => ours.ellipticity - one.ellipticity)))).toBeLessThan(0.02);
    const turned = firm.filter(({ ours }) => ours.ellipticity > 0.1);
    const apart = (a: number, b: number): number => Math.abs(((((a - b) % 180) + 270) % 180) - 90);
    expect(turned.length).toBeGreaterThan(50);
    expect(share(turned, ({ one, ours }) => apart(one.angle, ours.angleDeg) < 5)).toBeGreaterThan(0.8);
  });

  afterAll(() => rmSync(folder, { recursive: true, force: true }));
});
