import { DELETED_KEEP_PIXELS_DAYS, USUAL_FRAME_BYTES, type Room } from '$lib/api/room.ts';
import { asOwner, readAs, type Queryable } from './database.ts';

/** Stars that are kept of a frame whose pixels are gone: as many as a map of it needs. */
export const STARS_WITHOUT_PIXELS = 200;

/** Stars are thinned so many frames at a time: nobody waits for it. */
const THINNED_AT_ONCE = 50;

async function frameLimit(owner: string, on: Queryable): Promise<number> {
  const { rows } = await on.query<{ bytes: string | null }>(
    'select frame_bytes as bytes from setting where owner = $1',
    [owner]
  );
  return Number(rows[0]?.bytes ?? USUAL_FRAME_BYTES);
}

/** Lets the pixels go that have no room: those of deleted trains first, then the oldest; the newest frame keeps its own. */
export async function keepWithinRoom(owner: string, on: Queryable): Promise<void> {
  await on.query(
    `with held as (
       select frame.id,
              sum(frame.size) over newest as total,
              row_number() over newest as place
         from frame
         join train on train.owner = frame.owner and train.id = frame.train_id
        where frame.owner = $1
          and exists (select from frame_piece where frame_piece.owner = frame.owner and frame_id = frame.id)
       window newest as (order by train.state = 'deleted', frame.taken_at desc, frame.id)
     )
     delete from frame_piece
      where owner = $1 and frame_id in (select id from held where total > $2 and place > 1)`,
    [owner, await frameLimit(owner, on)]
  );
}

/** Keeps only the brightest stars of frames whose pixels are gone. @returns how many frames became smaller */
async function thinStars(owner: string, on: Queryable): Promise<number> {
  const { rowCount } = await on.query(
    `update frame
        set reading = jsonb_set(reading, '{stars}', (
              select jsonb_agg(star order by (star ->> 'flux')::double precision desc)
                from (
                  select star
                    from jsonb_array_elements(reading -> 'stars') star
                   order by (star ->> 'flux')::double precision desc
                   limit $2
                ) brightest
            ))
      where owner = $1
        and id in (
          select id from frame of_old
           where of_old.owner = $1
             and jsonb_array_length(of_old.reading -> 'stars') > $2
             and not exists (select from frame_piece where frame_piece.owner = $1 and frame_id = of_old.id)
           order by taken_at
           limit $3
        )`,
    [owner, STARS_WITHOUT_PIXELS, THINNED_AT_ONCE]
  );
  return rowCount ?? 0;
}

/** Lets go what is not kept any longer: pixels of trains deleted long ago, pixels without room, stars of old frames. */
export async function tidy(owner: string): Promise<void> {
  await asOwner(owner, async (on) => {
    await on.query(
      `delete from frame_piece
        where owner = $1
          and frame_id in (
            select frame.id
              from frame
              join train on train.owner = frame.owner and train.id = frame.train_id
             where frame.owner = $1
               and train.state = 'deleted'
               and train.state_changed_at < now() - make_interval(days => $2)
          )`,
      [owner, DELETED_KEEP_PIXELS_DAYS]
    );
    await keepWithinRoom(owner, on);
  });
  while ((await asOwner(owner, (on) => thinStars(owner, on))) === THINNED_AT_ONCE);
}

/** Says how much room pixels have; what has none from now on goes. */
export async function setFrameLimit(owner: string, bytes: number): Promise<void> {
  await asOwner(owner, async (on) => {
    await on.query(
      `insert into setting (owner, frame_bytes) values ($1, $2)
       on conflict (owner) do update set frame_bytes = excluded.frame_bytes`,
      [owner, Math.round(bytes)]
    );
    await keepWithinRoom(owner, on);
  });
}

/** What takes how much room. */
export function roomOf(owner: string): Promise<Room> {
  return readAs(owner, async (on) => {
    const { rows } = await on.query<{ what: Exclude<keyof Room, 'frameLimit'>; count: string; bytes: string }>(
      `with train_size as (
         select train.state = 'deleted' as gone, sum(pg_column_size(revision.document)) as bytes
           from train
           join train_revision revision on revision.owner = train.owner and revision.train_id = train.id
          where train.owner = $1
          group by train.id, train.state
       ),
       photo as (
         select octet_length(bytes) as bytes from part_photo where owner = $1
         union all
         select octet_length(bytes) from record_photo where owner = $1
         union all
         select octet_length(bytes) from scan where owner = $1
       )
       select 'trains' as what, count(*) as count, coalesce(sum(bytes), 0) as bytes from train_size where not gone
       union all
       select 'deleted', count(*), coalesce(sum(bytes), 0) from train_size where gone
       union all
       select 'pixels', count(*), coalesce(sum(size), 0) from frame
        where owner = $1 and exists (select from frame_piece where frame_piece.owner = $1 and frame_id = frame.id)
       union all
       select 'readings', count(*), coalesce(sum(pg_column_size(reading)), 0) from frame where owner = $1
       union all
       select 'photos', count(*), coalesce(sum(bytes), 0) from photo
       union all
       select 'parts', count(*), coalesce(sum(pg_column_size(element)), 0) from part
        where owner = $1 and deleted_at is null`,
      [owner]
    );
    const taken = Object.fromEntries(
      rows.map(({ what, count, bytes }) => [what, { count: Number(count), bytes: Number(bytes) }])
    );
    return { ...(taken as Omit<Room, 'frameLimit'>), frameLimit: await frameLimit(owner, on) };
  });
}
