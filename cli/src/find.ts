import { chanceWithinInWords } from '@lodestone/core/doubt';
import { formatLength, plainMm, residualInWords } from '@lodestone/core/why';
import { lengthInWords, nextStep, type Assessment } from '@lodestone/core/check';
import { nameOf, type Train } from '@lodestone/core/train';
import type { Part } from '@lodestone/core/drawer';
import type { Advice, FindResult, FilledGap, Preference, Solution, TogetherResult } from '@lodestone/core/finder';

const NAME_WIDTH = 46;

/** A placed part as the JSON answer writes it: its number, or that it is turned round. */
const placedJson = ({ part, reversed }: FilledGap['placed'][number]): string | { partId: string; reversed: true } =>
  reversed ? { partId: part.partId, reversed } : part.partId;

const solutionJson = ({
  residualMm,
  gaps,
  strain: _strain,
  assumed: _assumed,
  brightest: _brightest,
  ...solution
}: Solution): Record<string, unknown> => ({
  residualMm,
  gaps: gaps.map(({ id, placed, mm }) => ({ id, parts: placed.map(placedJson), mm })),
  ...solution
});

/** The answer for scripts, as docs/command-line.md describes it. */
export const findJson = (
  { target, solutions, exhausted, ranked, pareto, leastCornerLight, unmet }: FindResult,
  advice: readonly Advice[]
): string =>
  `${JSON.stringify(
    {
      target,
      solutions: solutions.map(solutionJson),
      exhausted,
      ranked,
      advice: advice.map(({ kind, message, gainMm, solution, ring }) => ({
        kind,
        message,
        gainMm,
        ...(ring ? { ring } : {}),
        solution: solutionJson(solution)
      })),
      pareto: pareto.map(solutionJson),
      leastCornerLight,
      unmet
    },
    null,
    2
  )}\n`;

const partName = ({ part, reversed }: { part: Part; reversed: boolean }): string =>
  `${part.partId}${reversed ? ' (turned round)' : ''}`;

const counted = (count: number, one: string): string => `${count} ${one}${count === 1 ? '' : 's'}`;

function solutionText(train: Train, solution: Solution, number: number): string[] {
  const { residualMm, gaps, pieces, buys, price, dials, orders, probability, assumed, cornerLight, warnings } =
    solution;
  const told = residualMm === null ? 'no back focus required' : residualInWords(residualMm, 'mm');
  const bought = buys === 0 ? '' : `, ${buys} to buy${price > 0 ? ` for ${price}` : ''}`;
  const chance = probability === null ? '' : `, ${chanceWithinInWords(probability, assumed)}`;
  const dim = cornerLight === null || cornerLight >= 0.995 ? '' : `, ${(cornerLight * 100).toFixed(0)} % corner light`;
  const alike = orders > 1 ? `, also in ${counted(orders - 1, 'other order')}` : '';
  return [
    `${String(number).padStart(3)}  ${told}${solution.inTolerance ? '' : ' (outside tolerance)'}, ${counted(pieces, 'piece')}${bought}${chance}${dim}${alike}`,
    ...gaps.map(({ id, placed, mm }) => {
      const names = placed.length === 0 ? 'empty' : placed.map(partName).join(' + ');
      return `     ${`${nameOf(train, id)}: ${names}`.padEnd(NAME_WIDTH)} ${plainMm(mm)}`;
    }),
    ...dials.map(({ id, setMm, lockRing }) =>
      lockRing
        ? `     unscrew the lock-ring thread under ${nameOf(train, id)} to ${formatLength(setMm, 'mm')}`
        : `     set ${nameOf(train, id)} to ${formatLength(setMm, 'mm')}`
    ),
    ...warnings.map(({ message }) => `     ${message}`)
  ];
}

/** How far a train is off before anything goes in, and how much is to go in. */
function missingText(assessment: Assessment): string {
  const { facts, ledger } = assessment;
  const { residualMm } = ledger;
  if (residualMm === null) {
    return assessment.missing
      ? `${assessment.verdictInWords('mm')}. ${nextStep(assessment, 'mm').sentence}`
      : 'No back focus required.';
  }
  const off = residualInWords(residualMm, 'mm');
  return residualMm < 0 ? `${off}. ${lengthInWords(facts, 'mm').sentence}` : `${off} before anything goes in.`;
}

/** The answer for a person at a terminal. Lengths in mm. */
export function findText(
  assessment: Assessment,
  { solutions, exhausted, ranked, unmet }: FindResult,
  advice: readonly Advice[],
  prefer: Preference
): string {
  const { errors, train } = assessment;
  return [
    missingText(assessment),
    ...(solutions.length === 0
      ? [
          prefer === 'fewest'
            ? 'No combination of your parts lands within tolerance.'
            : 'No combination of your parts connects the two sides.'
        ]
      : solutions.flatMap((each, index) => solutionText(train, each, index + 1))),
    exhausted
      ? 'Searched completely: nothing better within these limits.'
      : `Not searched completely: the best of ${ranked} stacks that were ranked.`,
    ...unmet.map((because) => `Nothing inside the tolerance keeps to this: ${because}.`),
    ...(advice.length === 0
      ? []
      : [
          '',
          advice[0]!.kind === 'improve' ? 'Better at no cost:' : 'What would help:',
          ...advice.map(({ message }) => `  ${message}`)
        ]),
    ...(errors.length === 0 ? [] : ['', 'Not solved by any stack:', ...errors.map(({ say }) => `  ${say('mm')}`)]),
    ''
  ].join('\n');
}

/** Stacks for several trains that share one drawer, for scripts. */
export const togetherJson = ({ best, ...told }: TogetherResult): string =>
  `${JSON.stringify(
    {
      together: best ? { stacks: best.stacks.map(solutionJson), moves: best.moves, pieces: best.pieces } : null,
      ...told
    },
    null,
    2
  )}\n`;

/** The same for a person. */
export function togetherText(trains: readonly Train[], result: TogetherResult): string {
  const { best, exhausted, weighedPieces, without, collisions } = result;
  const name = (train: number): string => trains[train]?.name ?? '';
  const colliding = collisions.map(
    ({ partId, trains, copies }) =>
      `${partId} is in ${trains.map(name).join(' and ')}, and there ${copies === 1 ? 'is one' : `are ${copies}`}: they cannot all be assembled.`
  );
  if (!best) {
    const alone = without.map((train) => `${name(train)} has no stack within its tolerance, even by itself.`);
    return [
      ...alone,
      'No way was found to bring all of them within tolerance from this drawer.',
      ...colliding,
      ''
    ].join('\n');
  }
  return [
    ...best.stacks.flatMap((stack, index) => [name(index), ...solutionText(trains[index]!, stack, index + 1)]),
    `${counted(best.pieces, 'piece')} in all; ${counted(best.moves, 'part')} to move for a change from each to the next.`,
    ...colliding,
    exhausted
      ? 'Searched completely.'
      : `Searched completely only among stacks of at most ${counted(weighedPieces, 'piece')} each.`,
    ''
  ].join('\n');
}
