import { writeTrain } from '@lodestone/core/write';
import { readAs } from './database.ts';
import { readStored } from './stored.ts';

/** The newest revision of a train as a file: in the format's order, or as it is stored where it cannot be read. */
export interface ExportedTrain {
  name: string;
  text: string;
}

/** What was exported last of each train, with the hash it was written from: a revision never changes. */
const written = new Map<string, ExportedTrain & { hash: string }>();
const REMEMBERED = 100;

/** @returns undefined where there is no such train */
export function exportTrain(owner: string, id: string): Promise<ExportedTrain | undefined> {
  return readAs(owner, async (on) => {
    const before = written.get(id);
    // The document itself is only handed over where it is not known here already.
    const { rows } = await on.query<{ hash: string; document: unknown }>(
      `select head.hash, case when head.hash = $3 then null else head.document end as document
         from train
         join lateral (
           select encode(hash, 'hex') as hash, document
             from train_revision
            where owner = train.owner and train_id = train.id
            order by number desc
            limit 1
         ) head on true
        where train.owner = $1 and train.id = $2`,
      [owner, id, before?.hash ?? null]
    );
    const [row] = rows;
    if (!row || before?.hash === row.hash) return row && before;
    const reading = readStored(row.document, row.hash);
    const exported = reading.ok
      ? { name: reading.document.name, text: writeTrain(reading.document) }
      : { name: reading.name, text: JSON.stringify(row.document, null, 2) };
    const [oldest] = written.keys();
    if (written.size >= REMEMBERED && oldest !== undefined) written.delete(oldest);
    written.set(id, { ...exported, hash: row.hash });
    return exported;
  });
}
