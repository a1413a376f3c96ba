import { partLength } from '../drawer/part.ts';
import { formatLength, listed, residualInWords, type LengthUnit } from '../why/wording.ts';
import type { Operation } from '../train/operations.ts';
import { nameOf, type Train } from '../train/model.ts';
import { adviseOn } from './advice.ts';
import { findStacks, type FindOptions } from './find.ts';
import { fillOperation, type Solution } from './solution.ts';

/** One step that brings a train inside its tolerance. */
export interface Suggestion {
  sentence: string;
  /** Label of a button that does it. */
  action: string;
  operation: Operation;
}

/** More than this is the finder's business, where there is a choice. */
const FEW_PIECES = 3;

function stackInWords(train: Train, { gaps, dials, residualMm }: Solution, unit: LengthUnit): string {
  const placed = gaps.flatMap((gap) => gap.placed);
  const parts = listed(
    placed.map(({ part, reversed }) => {
      const where = part.owned ? part.location : 'to buy';
      return `${part.partId} (${[formatLength(partLength(part), unit), where, reversed ? 'turned round' : ''].filter(Boolean).join(', ')})`;
    })
  );
  const set = listed(dials.map(({ id, setMm }) => `${nameOf(train, id)} set to ${formatLength(setMm, unit)}`));
  const words = residualMm === null ? '' : residualInWords(residualMm, unit);
  const result = words === '' ? '' : words === 'exact' ? ' exactly' : ` to ${words}`;
  const subject = placed.length === 0 ? 'What is there' : parts;
  return `${subject}${set === '' ? '' : `, with ${set},`} ${placed.length > 1 ? 'close' : 'closes'} it${result}.`;
}

/**
 * The easiest single step out of the drawer that brings a train that is short or long inside its tolerance: the
 * fewest parts in its gaps, else the first of what would be advised.
 *
 * @param train a valid document
 * @returns undefined where nothing helps, or nothing is asked for
 */
export function suggest(train: Train, options: FindOptions): Suggestion | undefined {
  const few: FindOptions = { ...options, prefer: 'fewest', limit: 1, maxPieces: FEW_PIECES };
  const result = findStacks(train, few);
  const [solution] = result.solutions;
  if (solution?.inTolerance && solution.gaps.length > 0) {
    const several = solution.pieces > 1;
    return {
      sentence: stackInWords(train, solution, options.unit),
      action: solution.pieces === 0 ? 'Close the gap' : several ? 'Put them in' : 'Put it in',
      operation: fillOperation(train, solution)
    };
  }
  const [advice] = adviseOn(train, few, result);
  return advice && { sentence: advice.message, action: 'Do it', operation: advice.operation };
}
