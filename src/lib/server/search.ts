import { MOST_FOUND, type Found } from '$lib/api/search.ts';
import { readAs } from './database.ts';

/** Holds every word, in any order; what stands for any letter elsewhere is a letter here. */
const holds = (text: string): string =>
  `not exists (select from unnest($2::text[]) word where position(word in lower(${text})) = 0)`;

/** Trains, parts and records that hold all of some words: those whose name does come first. */
export function search(owner: string, query: string): Promise<Found[]> {
  const words = query.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return Promise.resolve([]);
  return readAs(owner, async (on) => {
    const trains = on.query<{ id: string; name: string; host: string; state: string }>(
      `select id, name, host, state
         from (
           select train.id, train.state, head.document ->> 'name' as name, head.document -> 'host' ->> 'name' as host,
                  head.created_at,
                  concat_ws(' ', head.document ->> 'name', head.document -> 'host' ->> 'name', head.document ->> 'note', head.document ->> 'tags',
                    (select string_agg(element ->> 'name', ' ') from jsonb_array_elements(head.document -> 'elements') element)
                  ) as text
             from train
             join lateral (
               select document, created_at from train_revision
                where owner = train.owner and train_id = train.id order by number desc limit 1
             ) head on true
            where train.owner = $1 and train.state <> 'deleted'
         ) listed
        where ${holds('text')}
        order by ${holds('name')} desc, state, created_at desc
        limit ${MOST_FOUND}`,
      [owner, words]
    );
    const parts = on.query<{ part_id: string; name: string }>(
      `select part_id, element ->> 'name' as name from part
        where owner = $1 and deleted_at is null and ${holds(`concat_ws(' ', part_id, element ->> 'name', element ->> 'note')`)}
        order by ${holds('part_id')} desc, part_id
        limit ${MOST_FOUND}`,
      [owner, words]
    );
    const records = on.query<{ train_id: string; number: number; note: string; name: string }>(
      `select record.train_id, record.number, record.note, revision.document ->> 'name' as name
         from build_record record
         join train_revision revision on revision.owner = record.owner and revision.train_id = record.train_id
                                     and revision.number = record.revision
         join train on train.owner = record.owner and train.id = record.train_id and train.state <> 'deleted'
        where record.owner = $1 and record.note <> '' and ${holds('record.note')}
        order by record.finished_at desc
        limit ${MOST_FOUND}`,
      [owner, words]
    );
    const found = await Promise.all([trains, parts, records]);
    return [
      ...found[0].rows.map(({ id, name, host, state }): Found => ({
        what: 'train',
        title: name,
        beside: state === 'archived' ? `${host}, archived` : host,
        href: `/trains/${id}/build`
      })),
      ...found[1].rows.map(({ part_id, name }): Found => ({
        what: 'part',
        title: `${part_id}, ${name}`,
        beside: '',
        href: `/drawer/${encodeURIComponent(part_id)}`
      })),
      ...found[2].rows.map(({ train_id, number, note, name }): Found => ({
        what: 'record',
        title: `${name}, record ${number}`,
        beside: note.slice(0, 80),
        href: `/trains/${train_id}/log`
      }))
    ];
  });
}
