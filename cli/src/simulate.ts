import { writeFile } from 'node:fs/promises';
import { Facts } from '@lodestone/core/check';
import { readTrainText } from '@lodestone/core/train';
import { NO_FAULTS, cameraOf, type HiddenTruth } from '@lodestone/core/experiment';
import { FrameError, simulateFrame, writeFits } from '@lodestone/core/frame';
import { GOOD, InputError, USAGE, fileTrouble, parsed, pathOf, readDocument, whole } from './input.ts';

/** Options that are numbers, with what they may be. */
const NUMBERS: Readonly<Record<string, { key: keyof HiddenTruth; least: number; most: number }>> = {
  wants: { key: 'wantsMm', least: -20, most: 20 },
  tilt: { key: 'tiltUm', least: 0, most: 2000 },
  'tilt-direction': { key: 'tiltDirectionDeg', least: -360, most: 360 },
  defocus: { key: 'defocusUm', least: -5000, most: 5000 },
  coma: { key: 'comaUm', least: 0, most: 500 },
  'coma-direction': { key: 'comaDirectionDeg', least: -360, most: 360 },
  drift: { key: 'driftPx', least: 0, most: 200 },
  'drift-direction': { key: 'driftDirectionDeg', least: -360, most: 360 },
  seeing: { key: 'seeingPx', least: 0.5, most: 50 },
  pinch: { key: 'pinchUm', least: 0, most: 500 },
  'pinch-direction': { key: 'pinchDirectionDeg', least: -360, most: 360 },
  rotation: { key: 'rotationDeg', least: -10, most: 10 },
  nebula: { key: 'nebulaAdu', least: 0, most: 60_000 },
  gradient: { key: 'gradientAdu', least: 0, most: 60_000 },
  'gradient-direction': { key: 'gradientDirectionDeg', least: -360, most: 360 },
  trails: { key: 'trails', least: 0, most: 100 },
  'hot-pixels': { key: 'hotPixels', least: 0, most: 100_000 },
  'bad-columns': { key: 'badColumns', least: 0, most: 1000 },
  glow: { key: 'glowAdu', least: 0, most: 60_000 },
  banding: { key: 'bandingE', least: 0, most: 1000 },
  unit: { key: 'unit', least: 0, most: 2 ** 31 }
};

/** A frame of the simulated camera on a train. */
export async function simulate(words: readonly string[]): Promise<number> {
  const { file, values } = parsed(words, {
    out: { type: 'string' },
    seed: { type: 'string' },
    binning: { type: 'string' },
    sense: { type: 'string' },
    ...Object.fromEntries(Object.keys(NUMBERS).map((name) => [name, { type: 'string' as const }]))
  });
  const given = values as Record<string, string | undefined>;
  if (given.out === undefined) throw new InputError(`--out is needed; ${USAGE}`);
  const { sense = '1' } = given;
  if (sense !== '1' && sense !== '-1') throw new InputError(`--sense takes 1 or -1, not “${sense}”; ${USAGE}`);
  const truth: HiddenTruth = { ...NO_FAULTS, sense: sense === '1' ? 1 : -1 };
  for (const [name, { key, least, most }] of Object.entries(NUMBERS)) {
    const text = given[name];
    if (text === undefined) continue;
    const number = Number(text);
    if (text.trim() === '' || !(number >= least && number <= most)) {
      throw new InputError(`--${name} takes a number from ${least} to ${most}, not “${text}”; ${USAGE}`);
    }
    (truth[key] as number) = number;
  }
  const train = await readDocument(file, readTrainText);
  const spec = cameraOf(
    new Facts(train),
    truth,
    whole('seed', given.seed, 1, 0, 2 ** 31),
    whole('binning', given.binning, 1, 1, 8)
  );
  if (!spec) throw new InputError(`${file}: /elements: the camera has no sensor and pixel size`);
  let bytes: Uint8Array;
  try {
    bytes = writeFits(simulateFrame(spec).frame, { bitpix: 16, keywords: spec.keywords ?? {} });
  } catch (error) {
    if (error instanceof FrameError) throw new InputError(`${file}: ${error.message}`);
    throw error;
  }
  try {
    await writeFile(pathOf(given.out), bytes);
  } catch (error) {
    throw new InputError(`${given.out}: ${fileTrouble(error)}`);
  }
  process.stdout.write(`${given.out}: ${spec.widthPx} × ${spec.heightPx} px, ${spec.field.count} stars\n`);
  return GOOD;
}
