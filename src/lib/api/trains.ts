import type { Train } from '@lodestone/core/train';

export type TrainState = 'active' | 'archived' | 'deleted';

/** A stored version of a train. */
export interface Revision {
  number: number;
  /** SHA-256 of the stored document, hexadecimal. */
  hash: string;
  /** ISO 8601. */
  savedAt: string;
}

/** A train as the server hands it over: its newest revision. */
export interface StoredTrain {
  id: string;
  state: TrainState;
  revision: Revision;
  document: Train;
}

/** A stored train that this version of the program cannot read. It can still be exported as it is. */
export interface UnreadableTrain {
  id: string;
  state: TrainState;
  revision: Revision;
  /** What it is called, as far as that can be told. */
  name: string;
  /** What is wrong with it, in words. */
  unreadable: string;
}

/** A train that was deleted, as it stands in lists: its document comes when it is brought back. */
export interface DeletedTrain {
  id: string;
  state: 'deleted';
  revision: Revision;
  name: string;
  deletedAt: string;
  /** What hangs on it and would go with it. */
  records: number;
  frames: number;
}

export type ListedTrain = StoredTrain | UnreadableTrain | DeletedTrain;

export const isReadable = (train: ListedTrain): train is StoredTrain => 'document' in train;
export const isDeleted = (train: ListedTrain): train is DeletedTrain => 'deletedAt' in train;

/** Answer to a save that was based on a revision which is no longer the newest. */
export interface StaleSave {
  message: string;
  head: StoredTrain;
}

/** What every refusal says. */
export interface Refusal {
  message: string;
}
