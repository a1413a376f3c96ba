import { createHash } from 'node:crypto';
import { MOST_PHOTOS, type BuildRecord, type RecordPhoto } from '$lib/api/records.ts';
import { UNIQUE_VIOLATION, asOwner, hasCode, readAs, type Queryable } from './database.ts';
import { reencode } from './errands/index.ts';
import type { WrittenFile } from './scratch.ts';
import { pictureOf, type Photo } from './photos.ts';
import { readStored } from './stored.ts';

interface Row {
  id: string;
  train_id: string;
  number: number;
  revision: number;
  note: string;
  finished_at: Date;
  photos: RecordPhoto[] | null;
  hash: string;
  document: unknown;
}

const SELECT = `select record.id, record.train_id, record.number, record.revision, record.note, record.finished_at,
       encode(train_revision.hash, 'hex') as hash, train_revision.document,
       (select jsonb_agg(jsonb_build_object('position', position, 'hash', encode(record_photo.hash, 'hex')) order by position)
          from record_photo
         where record_photo.owner = record.owner and record_photo.record_id = record.id) as photos
  from build_record record
  join train_revision on train_revision.owner = record.owner and train_revision.train_id = record.train_id
                     and train_revision.number = record.revision`;

/** A record that this version of the program cannot read is left out: its document is still in the train's revisions. */
function toRecord({ id, train_id, number, revision, note, finished_at, photos, hash, document }: Row): BuildRecord[] {
  const reading = readStored(document, hash);
  if (!reading.ok) return [];
  return [
    {
      id,
      trainId: train_id,
      number,
      revision,
      note,
      finishedAt: finished_at.toISOString(),
      photos: photos ?? [],
      document: reading.document
    }
  ];
}

/** Every record of a train, the newest first. */
export function listRecords(owner: string, trainId: string): Promise<BuildRecord[]> {
  return readAs(owner, async (on) => {
    const { rows } = await on.query<Row>(
      `${SELECT} where record.owner = $1 and record.train_id = $2 order by record.number desc limit 200`,
      [owner, trainId]
    );
    return rows.flatMap(toRecord);
  });
}

export function readRecord(owner: string, id: string): Promise<BuildRecord | undefined> {
  return readAs(owner, async (on) => {
    const { rows } = await on.query<Row>(`${SELECT} where record.owner = $1 and record.id = $2`, [owner, id]);
    return rows.flatMap(toRecord)[0];
  });
}

/** Writes down that a train was built, once for each id; the caller has locked the train. */
export async function insertRecord(
  owner: string,
  trainId: string,
  revision: number,
  { id, note }: { id: string; note: string },
  on: Queryable
): Promise<void> {
  await on.query(
    `insert into build_record (owner, id, train_id, number, revision, note)
     select $1, $2, $3, coalesce(max(number), 0) + 1, $4, $5 from build_record where owner = $1 and train_id = $3
     on conflict (owner, id) do nothing`,
    [owner, id, trainId, revision, note]
  );
}

export type PhotoOutcome = { kind: 'stored'; photo: RecordPhoto } | { kind: 'missing' | 'full' };

/** Adds a photo to a record; the same picture again is the one that is there. @throws NotAPicture */
export async function addRecordPhoto(owner: string, recordId: string, { path }: WrittenFile): Promise<PhotoOutcome> {
  const isThere = await readAs(owner, (on) =>
    on.query('select from build_record where owner = $1 and id = $2', [owner, recordId])
  );
  if (isThere.rowCount === 0) return { kind: 'missing' };
  const { bytes, width, height } = await reencode(path);
  const hash = createHash('sha256').update(bytes).digest();
  const photo = hash.toString('hex');
  const store = () =>
    asOwner(
      owner,
      async (on): Promise<PhotoOutcome> => {
        const { rows } = await on.query<{ position: number; hash: string }>(
          `select position, encode(hash, 'hex') as hash from record_photo where owner = $1 and record_id = $2`,
          [owner, recordId]
        );
        const same = rows.find((row) => row.hash === photo);
        if (same) return { kind: 'stored', photo: same };
        const position = Math.max(0, ...rows.map((row) => row.position)) + 1;
        if (position > MOST_PHOTOS) return { kind: 'full' };
        await on.query(
          `insert into record_photo (owner, record_id, position, bytes, width, height, hash)
           values ($1, $2, $3, $4, $5, $6, $7)`,
          [owner, recordId, position, bytes, width, height, hash]
        );
        return { kind: 'stored', photo: { position, hash: photo } };
      },
      'change'
    );
  // Photos that arrive together may take the same place: the later one takes the next.
  for (let tries = 1; ; tries++) {
    try {
      return await store();
    } catch (error) {
      if (!hasCode(error, UNIQUE_VIOLATION) || tries === MOST_PHOTOS) throw error;
    }
  }
}

export async function readRecordPhoto(owner: string, recordId: string, position: number): Promise<Photo | undefined> {
  const which = [owner, recordId, position];
  const found = 'from record_photo where owner = $1 and record_id = $2 and position = $3';
  const hash = await readAs(owner, async (on) => {
    const { rows } = await on.query<{ hash: string }>(`select encode(hash, 'hex') as hash ${found}`, which);
    return rows[0]?.hash;
  });
  return pictureOf(owner, hash, `select bytes ${found}`, which);
}
