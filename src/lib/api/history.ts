import type { TrainChange } from '@lodestone/core/compare';

/** Revisions that were made at one sitting, without a long pause between two of them. */
export interface Sitting {
  /** Number of its first revision, and of its last. */
  first: number;
  last: number;
  /** Devices it was made on, as their owner calls them; none where the server made it. */
  devices: string[];
  /** ISO 8601. */
  beganAt: string;
  endedAt: string;
}

/** A revision that got a name. */
export interface NamedRevision {
  number: number;
  name: string;
}

/** The history of a train, as far back as it was asked for. */
export interface TrainHistory {
  /** The newest first. */
  sittings: Sitting[];
  names: NamedRevision[];
  /** There are older ones. */
  more: boolean;
}

/** A revision, and what it has become otherwise since an earlier one. */
export interface StateOfTrain {
  number: number;
  /** ISO 8601. */
  savedAt: string;
  /** What is wrong with it, where this version of the program cannot read it. */
  unreadable?: string;
  residualMm: number | null;
  toleranceMm: number | null;
  /** What changed since the state it is told from; nothing of the first. */
  changes: TrainChange[];
}

/** States that are told in one answer. */
export const MOST_STATES = 40;
/** Sittings in one answer. */
export const MOST_SITTINGS = 200;
export const LONGEST_REVISION_NAME = 200;
