import { assess, type Assessment } from '@lodestone/core/check';
import { layoutOf, type Layout } from '@lodestone/core/shape';
import type { Train } from '@lodestone/core/train';

/** A train that is being begun, as its first answer shows it. */
export interface FirstTrain {
  readonly preview: { assessment: Assessment; layout: Layout } | undefined;
  /** Why what is there makes no train. */
  readonly complaint: string | undefined;
  /** The first thing still missing, in the middle of a sentence. */
  readonly missing: string | undefined;
}

export function previewOf(train: Train): FirstTrain['preview'] {
  const assessment = assess(train);
  return { assessment, layout: layoutOf(train, assessment.ledger) };
}
