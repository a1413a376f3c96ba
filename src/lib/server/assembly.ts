import type { Assembly, HoldConflict } from '$lib/api/drawer.ts';
import { partIdsOf, type Element } from '@lodestone/core/train';
import { asOwner, readAs, type Queryable } from './database.ts';
import { followDrawer, nextDrawerNumber } from './following.ts';
import { insertRecord } from './records.ts';
import { readHead, readRevision } from './revisions.ts';

export type AssembleOutcome =
  | { kind: 'assembled'; assembly: Assembly }
  | { kind: 'conflict'; conflicts: HoldConflict[] }
  | { kind: 'missing' | 'stale' | 'deleted' };

async function selectAssembly(owner: string, trainId: string, on: Queryable): Promise<Assembly | undefined> {
  const { rows } = await on.query<{ revision: number; assembled_at: Date; holdings: Assembly['holdings'] | null }>(
    `select assembly.revision, assembly.assembled_at,
            (select jsonb_agg(jsonb_build_object('partId', part_id, 'copy', copy, 'elementId', element_id)
                              order by part_id, copy)
               from holding
              where holding.owner = assembly.owner and holding.train_id = assembly.train_id) as holdings
       from assembly
      where owner = $1 and train_id = $2`,
    [owner, trainId]
  );
  const row = rows[0];
  return row && { revision: row.revision, assembledAt: row.assembled_at.toISOString(), holdings: row.holdings ?? [] };
}

/** Whether a train is put together, and what it holds. */
export const readAssembly = (owner: string, trainId: string): Promise<Assembly | undefined> =>
  readAs(owner, (on) => selectAssembly(owner, trainId, on));

interface Wanted {
  elementId: string;
  partId: string;
  copy: number | undefined;
}

const wantedBy = (elements: readonly Element[]): Wanted[] =>
  elements.flatMap((element) =>
    partIdsOf(element).map((partId) => ({
      elementId: element.id,
      partId,
      copy: 'partId' in element && element.partId === partId ? element.copy : undefined
    }))
  );

interface CopyRow {
  part_id: string;
  copy: number;
  train_id: string | null;
  train_name: string | null;
}

/** Gives each wanted part a copy that nobody holds: the one the plan names, else the first free one. */
function allot(wanted: readonly Wanted[], copies: readonly CopyRow[]) {
  const free = copies.filter(({ train_id }) => train_id === null);
  const taken = new Set<CopyRow>();
  const known = new Set(copies.map(({ part_id }) => part_id));
  const holdings: { part_id: string; copy: number; element_id: string }[] = [];
  const conflicts: HoldConflict[] = [];
  // Who names a copy is served before who takes any.
  for (const { elementId, partId, copy } of wanted.toSorted((a, b) => Number(b.copy ?? 0) - Number(a.copy ?? 0))) {
    // A part the drawer does not have is nobody's to hold.
    if (!known.has(partId)) continue;
    const found = free.find(
      (row) => row.part_id === partId && !taken.has(row) && (copy === undefined || row.copy === copy)
    );
    if (found) {
      taken.add(found);
      holdings.push({ part_id: partId, copy: found.copy, element_id: elementId });
      continue;
    }
    const holders = copies.filter(
      (row) => row.part_id === partId && row.train_id !== null && (copy === undefined || row.copy === copy)
    );
    const heldBy = holders.map((row) => ({ trainId: row.train_id!, trainName: row.train_name ?? '' }));
    conflicts.push({
      partId,
      elementId,
      heldBy: heldBy.filter(({ trainId }, index) => heldBy.findIndex((each) => each.trainId === trainId) === index)
    });
  }
  return { holdings, conflicts };
}

/**
 * Marks a train as put together from its newest revision, and gives it a copy of each of its parts. That a copy is in
 * one assembled train only is kept by the key of `holding`.
 *
 * @param revision the revision the owner sees; any but the newest is stale
 * @param record what the record of it is to be called and say; the same id again makes no second one
 */
export function assembleTrain(
  owner: string,
  trainId: string,
  revision: number,
  record?: { id: string; note: string }
): Promise<AssembleOutcome> {
  return asOwner(
    owner,
    async (client): Promise<AssembleOutcome> => {
      const locked = await client.query('select from train where owner = $1 and id = $2 for update', [owner, trainId]);
      const head = locked.rowCount === 0 ? undefined : await readRevision(owner, trainId, undefined, client);
      if (!head) return { kind: 'missing' };
      if (head.state === 'deleted') return { kind: 'deleted' };
      if (head.revision.number !== revision) return { kind: 'stale' };
      const wanted = wantedBy(head.document.elements);
      // What it holds itself is free to it: assembled again after a change of plan, all is settled anew.
      const { rows } = await client.query<CopyRow>(
        `select part_copy.part_id, part_copy.copy, holding.train_id,
                (select document ->> 'name' from train_revision
                  where train_revision.owner = holding.owner and train_revision.train_id = holding.train_id
                  order by number desc limit 1) as train_name
           from part_copy
           left join holding on holding.owner = part_copy.owner and holding.part_id = part_copy.part_id
                            and holding.copy = part_copy.copy and holding.train_id <> $3
          where part_copy.owner = $1 and part_copy.part_id = any ($2)
          order by part_copy.part_id, part_copy.copy`,
        [owner, wanted.map(({ partId }) => partId), trainId]
      );
      const { holdings, conflicts } = allot(wanted, rows);
      if (conflicts.length > 0) return { kind: 'conflict', conflicts };
      const number = await nextDrawerNumber(owner, client);
      await client.query('delete from assembly where owner = $1 and train_id = $2', [owner, trainId]);
      await client.query('insert into assembly (owner, train_id, revision, drawer_number) values ($1, $2, $3, $4)', [
        owner,
        trainId,
        revision,
        number
      ]);
      await client.query(
        `insert into holding (owner, part_id, copy, train_id, element_id)
         select $1, part_id, copy, $2, element_id
           from jsonb_to_recordset($3::jsonb) as made (part_id text, copy integer, element_id text)`,
        [owner, trainId, JSON.stringify(holdings)]
      );
      if (record) await insertRecord(owner, trainId, revision, record, client);
      return { kind: 'assembled', assembly: (await selectAssembly(owner, trainId, client))! };
    },
    'change'
  );
}

/**
 * Marks a train as taken apart: its parts are free again, and its plan catches up with what was measured while it
 * stood. @returns whether it was put together
 */
export function takeApart(owner: string, trainId: string): Promise<boolean> {
  return asOwner(
    owner,
    async (client): Promise<boolean> => {
      await client.query('select from train where owner = $1 and id = $2 for update', [owner, trainId]);
      const { rows } = await client.query<{ drawer_number: string }>(
        'delete from assembly where owner = $1 and train_id = $2 returning drawer_number',
        [owner, trainId]
      );
      const [gone] = rows;
      if (!gone) return false;
      await nextDrawerNumber(owner, client);
      const head = (await readHead(owner, trainId, client)).filter(({ state }) => state !== 'deleted');
      await followDrawer(owner, head, { since: Number(gone.drawer_number) }, client);
      return true;
    },
    'change'
  );
}
