import type { FrameSummary } from '@lodestone/core/frame';

/** A test frame that came in over the network. */
export interface StoredFrame {
  id: string;
  /** Counted from 1 for each train. */
  number: number;
  name: string;
  /** Of the file, bytes. */
  size: number;
  takenAt: string;
  /** Its pixels are kept still. */
  hasPixels: boolean;
  summary: FrameSummary;
}

/** Largest frame taken in, bytes: 61 million pixels of 32 bits. */
export const MAX_FRAME_BYTES = 256 * 1024 * 1024;

/** Frames of a train whose pixels are kept. */
export const MOST_WITH_PIXELS = 12;
