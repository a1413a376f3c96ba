import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { PERFECT_OPTICS, QUIET_NIGHT, simulateFrame, writeFits, type Frame } from '../../core/src/frame/index.ts';
import { python, run } from './tools.ts';

const folder = mkdtempSync(join(tmpdir(), 'lodestone-interop-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const simulated = (mosaic?: 'RGGB'): Frame =>
  simulateFrame({
    ...{ widthPx: 211, heightPx: 157, pixelUm: 3.76, seed: 3, optics: PERFECT_OPTICS, conditions: QUIET_NIGHT, mosaic },
    field: { count: 30, faintestAdu: 2000, brightestAdu: 200_000, power: 0.6 },
    keywords: { FILTER: "O'III", EXPTIME: 30 }
  }).frame;
const grey = simulated();
const rgb: Frame = { ...grey, planes: [0, 1, 2].map((colour) => grey.planes[0]!.map((pixel) => pixel + colour)) };

describe.each([
  ['grey, 16 bits', grey, 16],
  ['grey, floats', grey, -32],
  ['colours, 16 bits', rgb, 16],
  ['colours, floats', rgb, -32],
  ['a mosaic', simulated('RGGB'), 16]
] as const)('a FITS file that is written: %s', (name, frame, bitpix) => {
  it('is accepted by fitsverify, and astropy reads the pixels that were written', () => {
    const file = join(folder, `${name.replace(/\W+/g, '-')}.fits`);
    writeFileSync(file, writeFits(frame, { bitpix, keywords: Object.fromEntries(frame.keywords) }));
    expect(run('fitsverify', ['-q', file])).toMatch(/verification OK/);
    python('values.py', file);
    const values = new Float64Array(readFileSync(`${file}.f8`).buffer.slice(0));
    const { planes } = frame;
    expect(values).toHaveLength(planes.length * planes[0]!.length);
    let differ = 0;
    for (const [channel, plane] of planes.entries()) {
      for (const [at, pixel] of plane.entries()) if (values[at * planes.length + channel] !== pixel) differ++;
    }
    expect(differ).toBe(0);
  });
});
