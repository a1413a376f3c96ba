/** Something that takes room in the database. */
export interface Taken {
  count: number;
  bytes: number;
}

/** What of an owner takes how much room, bytes as they are stored. */
export interface Room {
  /** Trains in use and archived, with all their revisions. */
  trains: Taken;
  /** The same of trains that were deleted, and can be brought back. */
  deleted: Taken;
  /** Pixels of test frames that are kept. */
  pixels: Taken;
  /** What was read in all frames. */
  readings: Taken;
  /** Photos of parts and of what was built. */
  photos: Taken;
  parts: Taken;
  /** Room for pixels, bytes: the oldest go when it is full. */
  frameLimit: number;
}

/** Room for the pixels of frames where nobody said another, bytes. */
export const USUAL_FRAME_BYTES = 8e9;

/** Most that may be said, bytes. */
export const MOST_FRAME_BYTES = 1e15;

/** Days that a deleted train keeps the pixels of its frames. */
export const DELETED_KEEP_PIXELS_DAYS = 1;
