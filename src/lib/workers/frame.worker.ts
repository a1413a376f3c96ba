import {
  FrameError,
  FramePyramid,
  SeveralPictures,
  readFrame,
  readStars,
  summaryOf,
  withRowOrder,
  type FrameSummary,
  type PictureInFile,
  type RowOrder
} from '@lodestone/core/frame';
import { expose } from 'comlink';
import { pieces } from './pieces.ts';
import { sendable, type Tile } from './tile.ts';

/** What became of a file. */
export type OpenedFrame =
  | { ok: true; summary: FrameSummary; sizes: { width: number; height: number }[] }
  | {
      ok: false;
      message: string;
      /** Which there are to choose from, where that is what is wrong. */
      pictures?: readonly PictureInFile[];
    };

let pyramid: FramePyramid | undefined;

/** Reading takes about as long as a third of the rest. */
const READING_SHARE = 0.3;

/** One frame, read and shown away from the page. */
const worker = {
  /**
   * Reads a file, and finds its stars.
   *
   * @param known what is known of it already: only its pixels are wanted then
   * @param picture number of the one that is meant, where the file holds several
   * @param rowOrder which way its rows run, where the file does not say it
   * @param tell the share that is done, from 0 to 1
   */
  async open(
    file: Blob,
    known: FrameSummary | undefined,
    picture: number | undefined,
    rowOrder: RowOrder | undefined,
    tell: (share: number) => void
  ): Promise<OpenedFrame> {
    let told = 0;
    const progress = (share: number): void => {
      if (share - told < 0.02 && share < 1) return;
      told = share;
      tell(share);
    };
    try {
      const read = await readFrame(
        {
          chunks: pieces(file, (share) => progress(READING_SHARE * share)),
          sizeBytes: file.size
        },
        picture ?? known?.picture
      );
      const frame = withRowOrder(read, rowOrder);
      const summary =
        known ??
        summaryOf(
          readStars(frame, (share) => progress(READING_SHARE + (0.95 - READING_SHARE) * share)),
          frame
        );
      pyramid = new FramePyramid(frame, summary);
      progress(1);
      return { ok: true, summary, sizes: pyramid.sizes };
    } catch (error) {
      if (error instanceof SeveralPictures) return { ok: false, message: error.message, pictures: error.pictures };
      if (error instanceof FrameError) return { ok: false, message: error.message };
      if (error instanceof RangeError) return { ok: false, message: 'There is not enough memory for this frame.' };
      throw error;
    }
  },

  tile: (level: number, column: number, row: number): Tile | undefined => sendable(pyramid, level, column, row)
};

export type FrameWorker = typeof worker;
expose(worker);
