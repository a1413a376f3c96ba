import type { Train } from '@lodestone/core/train';

/** A photo of what was built. */
export interface RecordPhoto {
  position: number;
  /** Names the picture. */
  hash: string;
}

/** What was built, when, from which revision. */
export interface BuildRecord {
  id: string;
  trainId: string;
  /** Counted from 1 for each train. */
  number: number;
  revision: number;
  note: string;
  /** ISO 8601. */
  finishedAt: string;
  photos: RecordPhoto[];
  document: Train;
}

/** Photos one record holds at the most. */
export const MOST_PHOTOS = 24;
