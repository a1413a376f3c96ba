import { addedErrors, changed, type Assessment } from '@lodestone/core/check';
import type { LengthUnit } from '@lodestone/core/why';
import type { Operation } from '@lodestone/core/train';

/** What a change would come to, before it is made. */
export interface Foreseen {
  /** How the train would stand, and what would have to be mended that is sound now. */
  words: string;
  /** It would make an error, or cannot be done. */
  bad: boolean;
}

/** Looks ahead: what the train would be after an operation. */
export function foreseen(assessment: Assessment, operation: Operation, unit: LengthUnit): Foreseen {
  const after = changed(assessment, operation);
  if (!after) return { words: 'cannot go there', bad: true };
  const [fault] = addedErrors(assessment, after);
  const verdict = after.verdictInWords(unit);
  return { words: fault ? `${verdict}; ${fault.say(unit)}` : verdict, bad: fault !== undefined };
}
