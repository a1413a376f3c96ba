import { formatLength, plainMm, residualInWords, type Problem } from '@lodestone/core';
import type { Part } from '@lodestone/core/drawer';
import type { Advice, FindResult, FilledGap, Preference, Solution, TogetherResult } from '@lodestone/core/finder';

const NAME_WIDTH = 46;

/** A placed part as the JSON answer writes it: its number, or that it is turned round. */
const placedJson = ({ part, reversed }: FilledGap['placed'][number]): string | { partId: string; reversed: true } =>
  reversed ? { partId: part.partId, reversed } : part.partId;

const solutionJson = ({ residualMm, gaps, ...solution }: Solution): Record<string, unknown> => ({
  residualMm,
  gaps: gaps.map(({ id, placed, mm }) => ({ id, parts: placed.map(placedJson), mm })),
  ...solution
});

/** The answer for scripts, as docs/command-line.md describes it. */
export const findJson = (
  { target, solutions, exhausted, ranked, pareto }: FindResult,
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
      pareto: pareto.map(solutionJson)
    },
    null,
    2
  )}\n`;

const partName = ({ part, reversed }: { part: Part; reversed: boolean }): string =>
  `${part.partId}${reversed ? ' (turned round)' : ''}`;

function solutionText(solution: Solution, number: number): string[] {
  const { residualMm, gaps, pieces, buys, price, dials, orders, probability, warnings } = solution;
  const told = residualMm === null ? 'no back focus asked for' : residualInWords(residualMm);
  const bought = buys === 0 ? '' : `, ${buys} to buy${price > 0 ? ` for ${price}` : ''}`;
  const chance = probability === null ? '' : `, in tolerance with ${Math.round(probability * 100)} %`;
  return [
    `${String(number).padStart(3)}  ${told}${solution.inTolerance ? '' : ' (outside the tolerance)'}, ${pieces} pieces${bought}${chance}${orders > 1 ? `, ${orders} orders alike` : ''}`,
    ...gaps.map(({ id, placed, mm }) => {
      const names = placed.length === 0 ? 'empty' : placed.map(partName).join(' + ');
      return `     ${`${id}: ${names}`.padEnd(NAME_WIDTH)} ${plainMm(mm)}`;
    }),
    ...dials.map(({ id, setMm }) => `     set ${id} to ${formatLength(setMm)}`),
    ...warnings.map(({ message }) => `     ${message}`)
  ];
}

/** The answer for a person at a terminal. Lengths in mm. */
export function findText(
  { target, solutions, exhausted, ranked }: FindResult,
  advice: readonly Advice[],
  errors: readonly Problem[],
  prefer: Preference
): string {
  const missing =
    target.missingMm === null ? 'No back focus is asked for.' : `${formatLength(target.missingMm)} to fill.`;
  return [
    missing,
    ...(solutions.length === 0
      ? [prefer === 'fewest' ? 'No stack is inside the tolerance.' : 'No stack closes.']
      : solutions.flatMap((each, index) => solutionText(each, index + 1))),
    exhausted
      ? 'Proven: no stack within the limits is better.'
      : `Not proven: the best of ${ranked} stacks that were ranked.`,
    ...(advice.length === 0 ? [] : ['', 'What would help:', ...advice.map(({ message }) => `  ${message}`)]),
    ...(errors.length === 0 ? [] : ['', 'Not mended by any stack:', ...errors.map(({ message }) => `  ${message}`)]),
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
export function togetherText(names: readonly string[], result: TogetherResult): string {
  const { best, exhausted, weighedPieces, without, collisions } = result;
  const name = (train: number): string => names[train] ?? '';
  const colliding = collisions.map(
    ({ partId, trains, copies }) =>
      `${partId} stands in ${trains.map(name).join(' and ')}, and there ${copies === 1 ? 'is one' : `are ${copies}`}: they cannot all stand assembled.`
  );
  if (!best) {
    const alone = without.map((train) => `${name(train)} has no stack inside its tolerance, even by itself.`);
    return [...alone, 'No way was found to bring all of them on spec from this drawer.', ...colliding, ''].join('\n');
  }
  return [
    ...best.stacks.flatMap((stack, index) => [name(index), ...solutionText(stack, index + 1)]),
    `${best.pieces} pieces in all; ${best.moves} parts to move for a change from each to the next.`,
    ...colliding,
    exhausted ? 'Proven.' : `Proven only among stacks of at most ${weighedPieces} pieces each.`,
    ''
  ].join('\n');
}
