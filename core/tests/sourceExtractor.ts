import { spawnSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

/** Columns that are asked of source-extractor, in their order. */
const COLUMNS = [
  'XWIN_IMAGE',
  'YWIN_IMAGE',
  'FLUX_RADIUS',
  'FWHM_IMAGE',
  'A_IMAGE',
  'B_IMAGE',
  'THETA_IMAGE',
  'SNR_WIN',
  'FLAGS',
  'CLASS_STAR'
];

/** A catalogue of source-extractor 2.25 (Debian's package), of the same file. */
export function catalogue(
  folder: string,
  file: string,
  { seeingPx = 2.5, backgroundPx = 64 }: { seeingPx?: number; backgroundPx?: number } = {}
) {
  const parameters = join(folder, 'se.param');
  writeFileSync(parameters, `${COLUMNS.join('\n')}\n`);
  const shared = '/usr/share/source-extractor';
  const { status, stderr } = spawnSync(
    'source-extractor',
    [
      file,
      ...['-c', `${shared}/default.sex`, '-PARAMETERS_NAME', parameters, '-CATALOG_NAME', join(folder, 'se.cat')],
      ...['-FILTER_NAME', `${shared}/gauss_2.0_3x3.conv`, '-STARNNW_NAME', `${shared}/default.nnw`],
      ...['-DETECT_THRESH', '3', '-ANALYSIS_THRESH', '1.5', '-PHOT_FLUXFRAC', '0.5', '-GAIN', '0'],
      ...['-SATUR_LEVEL', '65000', '-VERBOSE_TYPE', 'QUIET', '-PIXEL_SCALE', '1'],
      ...['-SEEING_FWHM', String(seeingPx), '-BACK_SIZE', String(backgroundPx)]
    ],
    { cwd: folder, encoding: 'utf8' }
  );
  if (status !== 0) throw new Error(`source-extractor: ${stderr}`);
  return readFileSync(join(folder, 'se.cat'), 'utf8')
    .split('\n')
    .filter((line) => line.trim() !== '' && !line.startsWith('#'))
    .map((line) => {
      const [x, y, hfr, fwhm, a, b, angle, snr, flags, starness] = line.trim().split(/\s+/).map(Number) as [
        number,
        number,
        number,
        number,
        number,
        number,
        number,
        number,
        number,
        number
      ];
      return { x, y, hfr, fwhm, ellipticity: 1 - b / a, angle, snr, flags, starness };
    });
}

export const median = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1]!;
