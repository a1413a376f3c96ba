import { readPart, type Measurement, type Part } from '@lodestone/core/drawer';
import { complaintInWords, withPlainTexts } from '@lodestone/core/train';
import type { StoredPart } from '$lib/api/drawer.ts';
import { readAs, type Queryable } from './database.ts';
import { placePaths } from './places.ts';

interface PartRow {
  part_id: string;
  element: Record<string, unknown>;
  quantity: number;
  owned: boolean;
  price: number | null;
  state: string;
  location_id: string | null;
  version: number;
  photo: string | null;
  changed_at: Date;
}

/** Rows of parts; deleted ones are left out. */
const SELECT_PARTS = `
  select part.part_id, part.element, part.quantity, part.owned, part.price, part.state, part.version, part.changed_at,
         part.location_id, encode(part_photo.hash, 'hex') as photo
    from part
    left join part_photo on part_photo.owner = part.owner and part_photo.part_id = part.part_id
   where part.owner = $1 and part.deleted_at is null
     and ($2::text[] is null or part.part_id = any ($2))
     and part.changed_number > $3
   order by part.part_id`;

/** Readings of parts, in the order they were taken. */
async function selectReadings(
  owner: string,
  partIds: readonly string[],
  on: Queryable
): Promise<ReadonlyMap<string, Measurement[]>> {
  const { rows } = await on.query<{ part_id: string; measurements: Measurement[] }>(
    `select part_id,
            jsonb_agg(jsonb_strip_nulls(jsonb_build_object(
              'id', id, 'lengthMm', length_mm, 'zeroMm', zero_mm, 'instrument', instrument,
              'maxErrorMm', max_error_mm, 'date', to_char(measured_on, 'YYYY-MM-DD'), 'note', note))
              order by position, id) as measurements
       from measurement
      where owner = $1 and part_id = any ($2)
      group by part_id`,
    [owner, partIds]
  );
  return new Map(rows.map(({ part_id, measurements }) => [part_id, measurements]));
}

type StoredRow = PartRow & { location: string | undefined; measurements: Measurement[] | undefined };

function toStored(row: StoredRow): StoredPart {
  const { part_id, element, quantity, owned, price, state, location, measurements, version, photo, changed_at } = row;
  return {
    document: {
      partId: part_id,
      ...element,
      ...(quantity === 1 ? {} : { quantity }),
      ...(owned ? {} : { owned }),
      ...(price === null ? {} : { price }),
      ...(location === undefined ? {} : { location }),
      ...(state === 'spare' ? {} : { state }),
      ...(measurements === undefined ? {} : { measurements })
    },
    version,
    photo,
    changedAt: changed_at.toISOString()
  };
}

export interface PartChoice {
  /** Numbers of the parts wanted; all of them when left out. */
  partIds?: readonly string[];
  /** Only what has changed after this state of the drawer. */
  changedAfter?: number;
}

/** Parts as they are stored, by number. */
export async function selectParts(
  owner: string,
  { partIds, changedAfter = -1 }: PartChoice,
  on: Queryable
): Promise<StoredPart[]> {
  // Three plain questions put together here: joined in one, a drawer that was just filled is taken for an empty one.
  const { rows } = await on.query<PartRow>(SELECT_PARTS, [owner, partIds ?? null, changedAfter]);
  const paths = await placePaths(owner, new Set(rows.flatMap(({ location_id }) => location_id ?? [])), on);
  const readings = await selectReadings(
    owner,
    rows.map(({ part_id }) => part_id),
    on
  );
  return rows.map((row) =>
    toStored({
      ...row,
      location: row.location_id === null ? undefined : paths.get(row.location_id),
      measurements: readings.get(row.part_id)
    })
  );
}

/** Numbers of parts that were deleted. */
export async function selectRetired(owner: string, on: Queryable): Promise<string[]> {
  const { rows } = await on.query<{ part_id: string }>(
    'select part_id from part where owner = $1 and deleted_at is not null order by part_id',
    [owner]
  );
  return rows.map(({ part_id }) => part_id);
}

export const readParts = (owner: string, partIds: readonly string[]): Promise<StoredPart[]> =>
  readAs(owner, (on) => selectParts(owner, { partIds }, on));

export async function hasParts(owner: string): Promise<boolean> {
  const { rowCount } = await readAs(owner, (on) => on.query('select from part where owner = $1 limit 1', [owner]));
  return rowCount !== 0;
}

/** A stored part as core knows it, or none where this version of the program cannot read it. */
export function readablePart({ document }: StoredPart): Part[] {
  const reading = readPart(withPlainTexts(document));
  if (reading.ok) return [reading.document];
  const [first] = reading.complaints;
  console.warn(`stored part ${String(document.partId)} cannot be read: ${first ? complaintInWords(first) : ''}`);
  return [];
}

/** The whole drawer as documents, read or not: what an export hands out. */
export const listPartDocuments = async (owner: string): Promise<Record<string, unknown>[]> =>
  (await readAs(owner, (on) => selectParts(owner, {}, on))).map(({ document }) => document);

/** The whole drawer as core knows it, without what cannot be read. */
export const listParts = async (owner: string): Promise<Part[]> =>
  (await readAs(owner, (on) => selectParts(owner, {}, on))).flatMap(readablePart);
