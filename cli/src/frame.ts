import { open, type FileHandle } from 'node:fs/promises';
import {
  FrameError,
  SeveralPictures,
  judgeField,
  readFrame,
  readStars,
  type FieldReading,
  type StarReading
} from '@lodestone/core/frame';
import { GOOD, InputError, NOT_GOOD, USAGE, fileTrouble, parsedFiles, pathOf } from './input.ts';

const PIECE_BYTES = 1 << 20;

/** A file's bytes, always in the same room: what reads them keeps none. */
async function* pieces(file: FileHandle): AsyncGenerator<Uint8Array> {
  const room = new Uint8Array(PIECE_BYTES);
  for (;;) {
    const { bytesRead } = await file.read(room, 0, PIECE_BYTES);
    if (bytesRead === 0) return;
    yield room.subarray(0, bytesRead);
  }
}

async function* standardInput(): AsyncGenerator<Uint8Array> {
  for await (const chunk of process.stdin) yield chunk as Buffer;
}

/** @throws InputError that names the file */
async function starsOf(name: string, picture: number | undefined): Promise<StarReading> {
  const complain = (error: unknown): never => {
    if (error instanceof SeveralPictures) throw new InputError(`${name}: ${error.message} (--picture N)`);
    if (error instanceof FrameError) throw new InputError(`${name}: ${error.message}`);
    if (error instanceof Error && 'code' in error) throw new InputError(`${name}: ${fileTrouble(error)}`);
    throw error;
  };
  if (name === '-') {
    return readFrame({ chunks: standardInput() }, picture).then((frame) => readStars(frame), complain);
  }
  const file = await open(pathOf(name)).catch(complain);
  try {
    const { size } = await file.stat();
    const frame = await readFrame({ chunks: pieces(file), sizeBytes: size }, picture).catch(complain);
    return readStars(frame);
  } finally {
    await file.close();
  }
}

/** One frame as `frame --json` prints it. */
function report(file: string, stars: StarReading, field: FieldReading, withStars: boolean) {
  return {
    file,
    widthPx: stars.widthPx,
    heightPx: stars.heightPx,
    background: stars.background,
    noise: stars.noise,
    count: field.count,
    hfrPx: field.hfrPx,
    fwhmPx: field.fwhmPx,
    ellipticity: field.ellipticity,
    radial: field.radial && {
      corner: field.radial.corner,
      standard: field.radial.standard,
      corners: field.radial.corners
    },
    tracking: field.tracking && { ellipticity: field.tracking.ellipticity, angleDeg: field.tracking.angleDeg },
    tilt: field.tilt,
    findings: field.findings.map(({ cause, confidence, message }) => ({ cause, confidence, message })),
    ...(withStars
      ? {
          stars: stars.stars.map(({ x, y, flux, snr, hfrPx, fwhmPx, ellipticity, angleDeg }) => ({
            x,
            y,
            flux,
            snr,
            hfrPx,
            fwhmPx,
            ellipticity,
            angleDeg
          }))
        }
      : {})
  };
}

const shown = (value: number | null, digits: number): string => (value === null ? '–' : value.toFixed(digits));

function text(file: string, stars: StarReading, field: FieldReading): string {
  const { radial } = field;
  const lines = [
    `${file}: ${stars.widthPx} × ${stars.heightPx} px, ${field.count} stars`,
    `  half-flux radius ${shown(field.hfrPx, 2)} px, FWHM ${shown(field.fwhmPx, 2)} px, ellipticity ${shown(field.ellipticity, 2)}`,
    ...(radial
      ? [
          `  stretch in the corners ${radial.corner >= 0 ? '+' : '−'}${Math.abs(radial.corner).toFixed(3)} ±${(2 * radial.standard).toFixed(3)} (+ radial, − tangential)`
        ]
      : []),
    ...(field.findings.length === 0
      ? ['  Nothing is wrong with it that can be seen.']
      : field.findings.map(
          ({ cause, confidence, message }) => `  ${cause} (${Math.round(100 * confidence)} %): ${message}`
        ))
  ];
  return `${lines.join('\n')}\n`;
}

/** Reads test frames, and says what is wrong with them. */
export async function frame(words: readonly string[]): Promise<number> {
  const { files, values } = parsedFiles(words, 'many', {
    stars: { type: 'boolean' },
    picture: { type: 'string' },
    json: { type: 'boolean' }
  });
  const { picture } = values;
  if (picture !== undefined && !/^[1-9]\d{0,3}$/.test(picture)) {
    throw new InputError(`--picture: “${picture}” is no number of a picture, from 1 on; ${USAGE}`);
  }
  if (files.filter((file) => file === '-').length > 1) {
    throw new InputError(`standard input can be read only once; ${USAGE}`);
  }
  const reports = [];
  let good = true;
  for (const file of files) {
    const stars = await starsOf(file, picture === undefined ? undefined : Number(picture));
    const field = judgeField(stars);
    good &&= field.findings.length === 0;
    if (values.json) reports.push(report(file, stars, field, values.stars === true));
    else reports.push(text(file, stars, field));
  }
  process.stdout.write(values.json ? reports.map((each) => `${JSON.stringify(each)}\n`).join('') : reports.join(''));
  return good ? GOOD : NOT_GOOD;
}
