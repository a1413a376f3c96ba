import { MOST_FOUND, type Found } from '$lib/api/search.ts';
import { readAs } from './database.ts';

/** What stands for any letter elsewhere is a letter here. */
const pattern = (word: string): string => `%${word.replace(/[\\%_]/g, '\\$&')}%`;

/** Holds every word, in any order: their patterns are asked from the second value on. */
const like = (text: string, words: readonly string[]): string =>
  words.map((_, index) => `lower(${text}) like $${index + 2}`).join(' and ');

/** Records whose note holds some words: asked with the owner and a pattern for each. They are read by their owner. */
export const recordsByWords = (words: readonly string[]): { text: string; values: string[] } => ({
  text: `select record.train_id, record.number, record.note, revision.document ->> 'name' as name
   from build_record record
   join train on train.owner = record.owner and train.id = record.train_id and train.state <> 'deleted'
   join train_revision revision on revision.owner = record.owner and revision.train_id = record.train_id
                               and revision.number = record.revision
  where record.owner = $1 and record.note <> ''
        and ${like('record.note', words)}
  order by record.finished_at desc
  limit ${MOST_FOUND}`,
  values: words.map(pattern)
});

/** Nights that hold some words: they are in the newest document of their train. Asked as the records are. */
const nightsByWords = (words: readonly string[]): string => `select train_id, name, night ->> 'on' as on,
        concat_ws(', ', night ->> 'wrong', night ->> 'note', night ->> 'balance') as words
   from (
     select train.id as train_id, head.document
       from train
       join lateral (
         select document from train_revision
          where owner = train.owner and train_id = train.id order by number desc limit 1
       ) head on true
      where train.owner = $1 and train.state <> 'deleted'
   ) listed
  -- Unpacked once, whatever is asked of it.
  cross join lateral jsonb_to_record(document) as train(name text, nights jsonb)
  cross join lateral jsonb_each(nights) each(id, night)
  where ${like("concat_ws(' ', night ->> 'on', night ->> 'wrong', night ->> 'note', night ->> 'balance', night ->> 'hours')", words)}
  order by night ->> 'on' desc, id
  limit ${MOST_FOUND}`;

/** Trains, parts, records and nights that hold all of some words: those whose name does come first. */
export function search(owner: string, query: string): Promise<Found[]> {
  const words = query.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return Promise.resolve([]);
  const { text, values } = recordsByWords(words);
  return readAs(owner, async (on) => {
    const trains = on.query<{ id: string; name: string; host: string; state: string }>(
      `select id, name, host, state
         from (
           select train.id, train.state, said.name, said.host ->> 'name' as host, head.created_at,
                  concat_ws(' ', said.name, said.host ->> 'name', said.note, said.tags,
                    (select string_agg(element ->> 'name', ' ') from jsonb_array_elements(said.elements) element)
                  ) as text
             from train
             join lateral (
               select document, created_at from train_revision
                where owner = train.owner and train_id = train.id order by number desc limit 1
             ) head on true
            cross join lateral jsonb_to_record(head.document)
                    as said(name text, host jsonb, note text, tags text, elements jsonb)
            where train.owner = $1 and train.state <> 'deleted'
         ) listed
        where ${like('text', words)}
        order by (${like('name', words)}) desc, state, created_at desc
        limit ${MOST_FOUND}`,
      [owner, ...values]
    );
    const parts = on.query<{ part_id: string; name: string }>(
      `select part_id, element ->> 'name' as name from part
        where owner = $1 and deleted_at is null and ${like("concat_ws(' ', part_id, element ->> 'name', element ->> 'note')", words)}
        order by (${like('part_id', words)}) desc, part_id
        limit ${MOST_FOUND}`,
      [owner, ...values]
    );
    const records = on.query<{ train_id: string; number: number; note: string; name: string }>(text, [
      owner,
      ...values
    ]);
    const nights = on.query<{ train_id: string; name: string; on: string; words: string }>(nightsByWords(words), [
      owner,
      ...values
    ]);
    const found = await Promise.all([trains, parts, records, nights]);
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
      })),
      ...found[3].rows.map(({ train_id, name, on: evening, words: said }): Found => ({
        what: 'night',
        title: `${name}, night of ${evening}`,
        beside: said.slice(0, 80),
        href: `/trains/${train_id}/log`
      }))
    ];
  });
}
