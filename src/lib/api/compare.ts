import type { Train } from '@lodestone/core/train';

/** Something that can be laid beside others: a train, one of its revisions, or what was built. */
export interface ComparedDocument {
  /** `train:<id>`, `revision:<id>:<number>` or `record:<id>`. */
  key: string;
  title: string;
  /** Where it is looked at. */
  href: string;
  document: Train;
}

export interface CompareChoice {
  key: string;
  title: string;
}

/** Side by side at the most: more are not read. */
export const MOST_COMPARED = 4;
