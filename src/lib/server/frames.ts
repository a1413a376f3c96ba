import { AsyncResource } from 'node:async_hooks';
import type { FrameSummary } from '@lodestone/core/frame';
import { MOST_WITH_PIXELS, type StoredFrame } from '$lib/api/frames.ts';
import { asOwner, readAs, readUnchanging } from './database.ts';
import { keepWithinRoom } from './retention.ts';
import { piecesOf, type WrittenFile } from './scratch.ts';

/** Pieces a frame is kept in: sending one holds nobody else up. */
const PIECE_BYTES = 1024 * 1024;
const MOST_LISTED = 200;
const WITH_STARS = 3;

interface Row {
  id: string;
  number: number;
  name: string;
  size: string;
  taken_at: Date;
  has_pixels: boolean;
  reading: FrameSummary;
}

const SELECT = `select id, number, name, size, taken_at, reading,
       exists (select from frame_piece where frame_piece.owner = frame.owner and frame_id = frame.id) as has_pixels
  from frame`;

const toFrame = ({ id, number, name, size, taken_at, has_pixels, reading }: Row): StoredFrame => ({
  id,
  number,
  name,
  size: Number(size),
  takenAt: taken_at.toISOString(),
  hasPixels: has_pixels,
  summary: reading
});

/**
 * Frames of a train, the newest first; with `after`, only those that came later. Only the newest come with their stars:
 * of hundreds they would be too much to send.
 */
export function listFrames(owner: string, trainId: string, after = 0): Promise<StoredFrame[]> {
  return readAs(owner, async (on) => {
    const { rows } = await on.query<Row>(
      `with listed as (${SELECT} where owner = $1 and train_id = $2 and number > $3 order by number desc limit $4)
       select id, number, name, size, taken_at, has_pixels,
              case when row_number() over (order by number desc) <= $5
                   then reading else jsonb_set(reading, '{stars}', '[]') end as reading
         from listed
        order by number desc`,
      [owner, trainId, after, MOST_LISTED, WITH_STARS]
    );
    return rows.map(toFrame);
  });
}

/**
 * Keeps a frame; the same file again is the one that is there. Pixels of the oldest make room.
 *
 * @returns undefined where there is no such train
 */
export function storeFrame(
  owner: string,
  trainId: string,
  name: string,
  file: WrittenFile,
  summary: FrameSummary
): Promise<{ frame: StoredFrame; isNew: boolean } | undefined> {
  const { hash, size } = file;
  return asOwner(owner, async (on) => {
    // One at a time for each train: numbers have no gaps.
    const { rowCount } = await on.query(
      `select from train where owner = $1 and id = $2 and state <> 'deleted' for update`,
      [owner, trainId]
    );
    if (rowCount === 0) return undefined;
    const there = await on.query<Row>(`${SELECT} where owner = $1 and train_id = $2 and hash = $3`, [
      owner,
      trainId,
      hash
    ]);
    if (there.rows[0]) return { frame: toFrame(there.rows[0]), isNew: false };
    const { rows } = await on.query<{ id: string }>(
      `insert into frame (owner, train_id, number, name, size, hash, reading)
       select $1, $2, coalesce(max(number), 0) + 1, $3, $4, $5, $6 from frame where owner = $1 and train_id = $2
       returning id`,
      [owner, trainId, name, size, hash, JSON.stringify(summary)]
    );
    const { id } = rows[0]!;
    let position = 0;
    for await (const bytes of piecesOf(file, PIECE_BYTES)) {
      await on.query('insert into frame_piece (owner, frame_id, position, bytes) values ($1, $2, $3, $4)', [
        owner,
        id,
        ++position,
        bytes
      ]);
    }
    await on.query(
      `delete from frame_piece
        where owner = $1 and frame_id in (
          select id from frame where owner = $1 and train_id = $2 order by number desc offset $3
        )`,
      [owner, trainId, MOST_WITH_PIXELS]
    );
    await keepWithinRoom(owner, on);
    const stored = await on.query<Row>(`${SELECT} where owner = $1 and id = $2`, [owner, id]);
    return { frame: toFrame(stored.rows[0]!), isNew: true };
  });
}

/** The file of a frame in pieces, read as they are wanted; undefined where its pixels are not kept. */
export async function framePixels(
  owner: string,
  trainId: string,
  id: string
): Promise<{ stream: ReadableStream<Uint8Array>; size: number; name: string } | undefined> {
  const found = await readAs(owner, async (on) => {
    const { rows } = await on.query<Row>(`${SELECT} where owner = $1 and train_id = $2 and id = $3`, [
      owner,
      trainId,
      id
    ]);
    return rows[0];
  });
  if (!found?.has_pixels) return undefined;
  let position = 0;
  let left = Number(found.size);
  const stream = new ReadableStream<Uint8Array>({
    // Pieces are wanted long after the request was answered: they are read as who asked for them.
    pull: AsyncResource.bind(async (controller: ReadableStreamDefaultController<Uint8Array>) => {
      if (left <= 0) return controller.close();
      position++;
      const piece = await readUnchanging(owner, async (on) => {
        const { rows } = await on.query<{ bytes: Buffer }>(
          'select bytes from frame_piece where owner = $1 and frame_id = $2 and position = $3',
          [owner, id, position]
        );
        return rows[0]?.bytes;
      });
      // Let go of meanwhile, or not shared any more: half a file must not look like a whole one.
      if (!piece) return controller.error(new Error('The pixels of this frame are not to be had any more.'));
      left -= piece.length;
      controller.enqueue(new Uint8Array(piece));
    })
  });
  return { stream, size: Number(found.size), name: found.name };
}

/** @returns whether it was there */
export async function dropFrame(owner: string, trainId: string, id: string): Promise<boolean> {
  const { rowCount } = await asOwner(owner, (on) =>
    on.query('delete from frame where owner = $1 and train_id = $2 and id = $3', [owner, trainId, id])
  );
  return rowCount !== 0;
}
