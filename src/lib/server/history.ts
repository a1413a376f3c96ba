import { changesBetween } from '@lodestone/core/compare';
import { ledgerOf } from '@lodestone/core/length';
import type { Train } from '@lodestone/core/train';
import { MOST_SITTINGS, type NamedRevision, type StateOfTrain, type TrainHistory } from '$lib/api/history.ts';
import { FOREIGN_KEY_VIOLATION, asOwner, hasCode, readAs } from './database.ts';
import { readStored } from './stored.ts';

/** After a pause longer than this another sitting begins (common practice, no source). */
const PAUSE_MINUTES = 30;

/**
 * The sittings a train was changed in, the newest first, without its documents: those that end before a revision.
 *
 * @returns undefined where there is no such train
 */
export function readHistory(owner: string, trainId: string, before?: number): Promise<TrainHistory | undefined> {
  return readAs(owner, async (on) => {
    const { rows } = await on.query<{
      first: number;
      last: number;
      began: Date;
      ended: Date;
      devices: string[] | null;
    }>(
      `with marked as (
         select number, created_at, device,
                created_at - lag(created_at) over (order by number) > make_interval(mins => $3) as begins
           from train_revision
          where owner = $1 and train_id = $2 and ($4::integer is null or number < $4)
       ), counted as (
         select number, created_at, device, count(*) filter (where begins) over (order by number) as sitting from marked
       )
       select min(number) as first, max(number) as last, min(created_at) as began, max(created_at) as ended,
              array_agg(distinct device) filter (where device is not null) as devices
         from counted
        group by sitting
        order by first desc
        limit $5`,
      [owner, trainId, PAUSE_MINUTES, before ?? null, MOST_SITTINGS]
    );
    if (rows.length === 0 && before === undefined) return undefined;
    const { rows: names } = await on.query<NamedRevision>(
      'select number, name from revision_name where owner = $1 and train_id = $2 order by number desc limit 1000',
      [owner, trainId]
    );
    return {
      sittings: rows.map(({ first, last, began, ended, devices }) => ({
        first,
        last,
        devices: devices ?? [],
        beganAt: began.toISOString(),
        endedAt: ended.toISOString()
      })),
      names,
      more: (rows.at(-1)?.first ?? 1) > 1
    };
  });
}

/** A state, and the earlier one it is told from; undefined of the first. */
export interface AskedState {
  number: number;
  since: number | undefined;
}

/** How each of some states is off, and what changed since an earlier one. What is not there is left out. */
export function readStates(owner: string, trainId: string, asked: readonly AskedState[]): Promise<StateOfTrain[]> {
  return readAs(owner, async (on) => {
    const numbers = [
      ...new Set(asked.flatMap(({ number, since }) => (since === undefined ? [number] : [number, since])))
    ];
    const { rows } = await on.query<{ number: number; hash: string; created_at: Date; document: unknown }>(
      `select number, encode(hash, 'hex') as hash, created_at, document
         from train_revision
        where owner = $1 and train_id = $2 and number = any($3::integer[])`,
      [owner, trainId, numbers]
    );
    const readings = new Map(rows.map((row) => [row.number, { ...row, reading: readStored(row.document, row.hash) }]));
    const documentAt = (number: number | undefined): Train | undefined => {
      const reading = number === undefined ? undefined : readings.get(number)?.reading;
      return reading?.ok ? reading.document : undefined;
    };
    return asked.flatMap(({ number, since }): StateOfTrain[] => {
      const row = readings.get(number);
      if (!row) return [];
      const { created_at, reading } = row;
      const savedAt = created_at.toISOString();
      if (!reading.ok) {
        return [{ number, savedAt, unreadable: reading.unreadable, residualMm: null, toleranceMm: null, changes: [] }];
      }
      const { residualMm, required } = ledgerOf(reading.document);
      const earlier = documentAt(since);
      return [
        {
          number,
          savedAt,
          residualMm,
          toleranceMm: required.toleranceMm,
          changes: earlier ? changesBetween(earlier, reading.document) : []
        }
      ];
    });
  });
}

/** Gives a state a name, or takes it away where that is undefined. @returns whether there is such a state */
export async function nameRevision(
  owner: string,
  trainId: string,
  number: number,
  name: string | undefined
): Promise<boolean> {
  return asOwner(owner, async (on) => {
    if (name === undefined) {
      await on.query('delete from revision_name where owner = $1 and train_id = $2 and number = $3', [
        owner,
        trainId,
        number
      ]);
      return true;
    }
    try {
      await on.query(
        `insert into revision_name (owner, train_id, number, name) values ($1, $2, $3, $4)
         on conflict (owner, train_id, number) do update set name = excluded.name, named_at = now()`,
        [owner, trainId, number, name]
      );
      return true;
    } catch (error) {
      if (hasCode(error, FOREIGN_KEY_VIOLATION)) return false;
      throw error;
    }
  });
}
