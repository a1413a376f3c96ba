import { findElement, partIdOf, readTrainText, type Reading, type Train } from '@lodestone/core/train';
import { ledgerOf } from '@lodestone/core/length';
import { readDrawerText, type Part } from '@lodestone/core/drawer';
import {
  nearestByRings,
  nextTry,
  readExperimentsText,
  tuneFrom,
  type ExperimentsFile,
  type TuneAnswer
} from '@lodestone/core/experiment';
import { GOOD, InputError, NOT_GOOD, USAGE, parsed, readDocument } from './input.ts';

const mm = (value: number): string => `${value.toFixed(2)} mm`;

/** The next try out of a drawer. */
interface Built {
  spacingMm: number;
  in: string[];
  out: string[];
  /** Joints opened; null where the train is not known. */
  joints: number | null;
}

function text(
  { bestMm, interval95Mm, toleranceMm, outliers, nextMm, why }: TuneAnswer,
  built: Built | undefined
): string {
  const rings = built
    ? [
        ...(built.in.length > 0 ? [`${built.in.join(', ')} in`] : []),
        ...(built.out.length > 0 ? [`${built.out.join(', ')} out`] : []),
        ...(built.joints === null ? [] : [`${built.joints} ${built.joints === 1 ? 'joint' : 'joints'} to open`])
      ].join('; ')
    : '';
  const lines = [
    bestMm === null
      ? 'The best spacing is not known yet.'
      : `Best spacing ${mm(bestMm)}${interval95Mm ? `, between ${mm(interval95Mm[0])} and ${mm(interval95Mm[1])}` : ''}`,
    ...(toleranceMm === null ? [] : [`  tolerance of this corrector ±${mm(toleranceMm)}`]),
    ...(outliers.length === 0 ? [] : [`  excluded: experiment ${outliers.map((index) => index + 1).join(', ')}`]),
    ...(nextMm === null ? [] : [`  try next: ${mm(nextMm)}${rings === '' ? '' : ` (${rings})`}`]),
    `  ${why}`
  ];
  return `${lines.join('\n')}\n`;
}

/** Experiments, and the train they were made with where its document was given. */
interface Tried {
  file: ExperimentsFile;
  train: Train | undefined;
}

/** Experiments by themselves, or those a train document keeps. */
function readTried(source: string): Reading<Tried> {
  if (/"lodestone"\s*:\s*"train\//.test(source)) {
    const reading = readTrainText(source);
    if (!reading.ok) return reading;
    const train = reading.document;
    return {
      ok: true,
      document: {
        train,
        file: {
          lodestone: 'experiments/1',
          experiments: (train.tuning?.experiments ?? []) as ExperimentsFile['experiments']
        }
      }
    };
  }
  const reading = readExperimentsText(source);
  return reading.ok ? { ok: true, document: { file: reading.document, train: undefined } } : reading;
}

/** What the drawer makes of the wanted spacing. */
function builtFrom({ file, train }: Tried, wantedMm: number, parts: readonly Part[]): Built | undefined {
  if (!train) {
    const from = file.experiments.at(-1)?.spacingMm ?? file.publishedMm;
    const change = from === undefined ? undefined : nearestByRings(from, wantedMm, parts);
    return change && { ...change, joints: null };
  }
  const next = nextTry(train, wantedMm, { parts: parts.filter((part) => part.owned), unit: 'mm' });
  if (!next) return undefined;
  const { change, spacingMm } = next;
  const numbered = (of: Train, lying: readonly { id: string }[]): string[] =>
    lying.map(({ id }) => {
      const element = findElement(of, id);
      return (element && partIdOf(element)) ?? id;
    });
  return {
    spacingMm,
    in: numbered(next.train, change.bring),
    out: numbered(train, change.aside),
    joints: change.joints
  };
}

/** What spacings that were tried say together, and which to try next. */
export async function tune(words: readonly string[]): Promise<number> {
  const { file, values } = parsed(words, { drawer: { type: 'string' }, json: { type: 'boolean' } });
  if (file === '-' && values.drawer === '-') throw new InputError(`standard input can be read only once; ${USAGE}`);
  const tried = await readDocument(file, readTried);
  const parts = values.drawer === undefined ? undefined : await readDocument(values.drawer, readDrawerText);
  const publishedMm = tried.file.publishedMm ?? (tried.train && ledgerOf(tried.train).required.nominalMm) ?? undefined;
  const answer = tuneFrom(tried.file.experiments, publishedMm);
  const built = parts && answer.nextMm !== null ? builtFrom(tried, answer.nextMm, parts) : undefined;
  const told: TuneAnswer = built ? { ...answer, nextMm: built.spacingMm } : answer;
  const next = parts && { next: built ?? null };
  process.stdout.write(values.json ? `${JSON.stringify({ ...told, ...next }, null, 2)}\n` : text(told, built));
  return answer.enough ? GOOD : NOT_GOOD;
}
