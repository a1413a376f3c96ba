import type { CompareChoice, ComparedDocument } from '$lib/api/compare.ts';
import { dayIn } from '$lib/api/day.ts';
import { isReadable } from '$lib/api/trains.ts';
import { readAs } from './database.ts';
import { readRecord } from './records.ts';
import { readRevision } from './revisions.ts';
import { listTrains } from './trains.ts';

const UUID = '[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}';
const KEY = new RegExp(`^(?:(train|record):(${UUID})|revision:(${UUID}):([1-9][0-9]{0,8}))$`);

/** What a key names, its day in the reader's time zone; undefined where there is no such thing. */
export async function readCompared(
  owner: string,
  key: string,
  timeZone: string | undefined
): Promise<ComparedDocument | undefined> {
  const [, kind, id, revised, number] = KEY.exec(key) ?? [];
  if (kind === 'record' && id !== undefined) {
    const record = await readRecord(owner, id);
    return (
      record && {
        key,
        title: `${record.document.name}, as built ${dayIn(record.finishedAt, timeZone)} (${record.number})`,
        href: `/trains/${record.trainId}/log`,
        document: record.document
      }
    );
  }
  const trainId = id ?? revised;
  if (trainId === undefined) return undefined;
  const train = await readRevision(owner, trainId, number === undefined ? undefined : Number(number));
  return (
    train && {
      key,
      title: number === undefined ? train.document.name : `${train.document.name}, revision ${number}`,
      href: `/trains/${trainId}/build`,
      document: train.document
    }
  );
}

/** Everything that can be laid beside others: trains, then what was built. */
export async function listChoices(owner: string, timeZone: string | undefined): Promise<CompareChoice[]> {
  const trains = (await listTrains(owner)).filter((train) => train.state !== 'deleted' && isReadable(train));
  const names = new Map(trains.flatMap((train) => (isReadable(train) ? [[train.id, train.document.name]] : [])));
  const { rows } = await readAs(owner, (on) =>
    on.query<{ id: string; train_id: string; number: number; finished_at: Date }>(
      `select id, train_id, number, finished_at from build_record
        where owner = $1 order by finished_at desc limit 200`,
      [owner]
    )
  );
  return [
    ...[...names].map(([id, title]): CompareChoice => ({ key: `train:${id}`, title })),
    ...rows.flatMap(({ id, train_id, number, finished_at }): CompareChoice[] => {
      const name = names.get(train_id);
      return name === undefined
        ? []
        : [
            {
              key: `record:${id}`,
              title: `${name}, as built ${dayIn(finished_at.toISOString(), timeZone)} (${number})`
            }
          ];
    })
  ];
}
