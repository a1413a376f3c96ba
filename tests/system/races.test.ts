// Two of everything at once, again and again: no answer of 500, and no state that cannot be.
import { randomUUID } from 'node:crypto';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import heron from '../../demo/heron.json';
import { Application, until } from './application.ts';

const ROUNDS = 40;

let application: Application;
let admin: pg.Client;
/** Takes a lock while {@link admin} looks who waits for it: within one transaction it would always see the same. */
let holder: pg.Client;
beforeAll(async () => {
  application = await Application.make();
  await application.start();
  [admin, holder] = [1, 2].map(
    () => new pg.Client({ connectionString: application.databaseUrl('lodestone_admin') })
  ) as [pg.Client, pg.Client];
  await Promise.all([admin.connect(), holder.connect()]);
}, 300_000);
afterAll(async () => {
  await Promise.all([admin.end(), holder.end()]);
  await application.dispose();
});

interface Reply {
  status: number;
  answer: Record<string, unknown>;
}

async function ask(method: string, path: string, body?: unknown): Promise<Reply> {
  const response = await fetch(`${application.url}${path}`, {
    method,
    ...(body === undefined ? {} : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) })
  });
  return { status: response.status, answer: (await response.json()) as Record<string, unknown> };
}

const ring = (partId: string, more: object = {}) => ({ partId, kind: 'spacer', name: partId, lengthMm: 5, ...more });
const change = (
  put: { document: object; basedOn: number | null }[],
  remove: { partId: string; basedOn: number }[] = []
) => ask('POST', '/api/drawer/changes', { changeId: randomUUID(), put, remove });

const using = (name: string, ...partIds: string[]) => ({
  ...heron,
  name,
  elements: [
    ...partIds.map((partId, index) => ({ id: `e${index}`, kind: 'spacer', name: partId, lengthMm: 5, partId })),
    heron.elements.at(-1)
  ]
});
const makeTrain = async (document: object): Promise<string> =>
  String((await ask('POST', '/api/trains', { saveId: randomUUID(), document })).answer.id);
const assemble = (id: string, revision = 1) => ask('PUT', `/api/trains/${id}/assembly`, { revision });
const remove = (id: string) => ask('PATCH', `/api/trains/${id}`, { state: 'deleted' });

/** States that must never be, whatever met whatever. */
async function inconsistencies(): Promise<string[]> {
  const { rows } = await admin.query<{ what: string }>(`
    select 'deleted and assembled: ' || train.id as what
      from train join assembly on assembly.train_id = train.id where train.state = 'deleted'
    union all
    select 'held though deleted: ' || part_id
      from holding join part using (owner, part_id) where part.deleted_at is not null
    union all
    select 'held beyond the quantity: ' || part_id
      from holding join part using (owner, part_id) where holding.copy > part.quantity
    union all
    select 'copies other than the quantity: ' || part.part_id
      from part left join part_copy using (owner, part_id)
     where part.deleted_at is null
     group by part.owner, part.part_id, part.quantity
    having count(part_copy.copy) <> part.quantity
    union all
    select 'a gap in the revisions: ' || train_id
      from train_revision group by train_id having max(number) <> count(*)`);
  return rows.map(({ what }) => what);
}

/** Plays a race, and fails on any answer of 500 or impossible state. */
async function play(race: (round: number) => Promise<Reply[]>): Promise<Reply[][]> {
  const rounds: Reply[][] = [];
  for (let round = 0; round < ROUNDS; round++) rounds.push(await race(round));
  expect(rounds.flat().filter(({ status }) => status >= 500)).toEqual([]);
  expect(await inconsistencies()).toEqual([]);
  return rounds;
}

const id = (what: string, round: number): string => `${what}-${round}`;

describe(`each ${ROUNDS} times`, () => {
  it('a train is deleted while it is put together', async () => {
    const rounds = await play(async (round) => {
      await change([{ document: ring(id('A', round)), basedOn: null }]);
      const train = await makeTrain(using('race', id('A', round)));
      return Promise.all([assemble(train), remove(train)]);
    });
    for (const [assembled, deleted] of rounds) {
      expect([assembled!.status, deleted!.status].filter((status) => status === 200)).toHaveLength(1);
    }
  });

  it('two make the same part number: one is told that it was taken', async () => {
    const rounds = await play((round) =>
      Promise.all(['one', 'other'].map((name) => change([{ document: ring(id('N', round), { name }), basedOn: null }])))
    );
    for (const replies of rounds) expect(replies.map(({ status }) => status).sort()).toEqual([200, 409]);
  });

  it('two imports bring the same new places, in opposite order', async () => {
    const rounds = await play((round) => {
      const parts = (who: string) =>
        [1, 2, 3, 4].map((n) => ({
          document: ring(`P${who}-${round}-${n}`, { location: `Tin ${round} / Bag ${n}` }),
          basedOn: null
        }));
      return Promise.all([change(parts('a')), change(parts('b').reverse())]);
    });
    expect(rounds.flat().every(({ status }) => status === 200)).toBe(true);
  });

  it('three imports bring the same new parts, each in another order', async () => {
    const rounds = await play((round) => {
      const parts = [1, 2, 3, 4, 5].map((n) => ({ document: ring(`I-${round}-${n}`), basedOn: null }));
      return Promise.all([
        change(parts),
        change(parts.toReversed()),
        change([...parts.slice(2), ...parts.slice(0, 2)])
      ]);
    });
    for (const replies of rounds) expect(replies.map(({ status }) => status).sort()).toEqual([200, 409, 409]);
  });

  it('a part is removed while a train that uses it is put together', async () => {
    await play(async (round) => {
      await change([{ document: ring(id('D', round)), basedOn: null }]);
      const train = await makeTrain(using('race', id('D', round)));
      return Promise.all([assemble(train), change([], [{ partId: id('D', round), basedOn: 1 }])]);
    });
  });

  it('a part becomes fewer while trains that use its copies are put together', async () => {
    await play(async (round) => {
      await change([{ document: ring(id('Q', round), { quantity: 2 }), basedOn: null }]);
      const trains = await Promise.all(['a', 'b'].map((name) => makeTrain(using(name, id('Q', round)))));
      return Promise.all([
        ...trains.map((train) => assemble(train)),
        change([{ document: ring(id('Q', round), { quantity: 1 }), basedOn: 1 }])
      ]);
    });
  });

  it('one copy is wanted by six trains: one gets it', async () => {
    const rounds = await play(async (round) => {
      await change([{ document: ring(id('S', round)), basedOn: null }]);
      const trains = await Promise.all(Array.from({ length: 6 }, () => makeTrain(using('race', id('S', round)))));
      return Promise.all(trains.map((train) => assemble(train)));
    });
    for (const replies of rounds) expect(replies.filter(({ status }) => status === 200)).toHaveLength(1);
  });

  it('a save brings a part in while the drawer changes it: the train says what the drawer says', async () => {
    await play(async (round) => {
      const partId = id('C', round);
      await change([{ document: ring(partId), basedOn: null }]);
      const { number } = (await ask('GET', '/api/drawer')).answer;
      const train = await makeTrain(using('crossing'));
      const replies = await Promise.all([
        ask('POST', `/api/trains/${train}/revisions`, {
          saveId: randomUUID(),
          basedOn: 1,
          document: using('crossing', partId),
          drawer: number
        }),
        change([{ document: ring(partId, { lengthMm: 9.99 }), basedOn: 1 }])
      ]);
      const { document } = (await ask('GET', `/api/trains/${train}`)).answer as {
        document: { elements: { lengthMm: number }[] };
      };
      expect(document.elements[0]!.lengthMm).toBe(9.99);
      return replies;
    });
  });

  it('four save one revision: one wins, three are told whose it is', async () => {
    const train = await makeTrain(using('contended'));
    const rounds = await play(async (round) =>
      Promise.all(
        [1, 2, 3, 4].map((who) =>
          ask('POST', `/api/trains/${train}/revisions`, {
            saveId: randomUUID(),
            basedOn: round + 1,
            document: using(`by ${who}`)
          })
        )
      )
    );
    for (const replies of rounds) expect(replies.map(({ status }) => status).sort()).toEqual([201, 409, 409, 409]);
  });

  it('a connection is ended while its transaction waits: an answer, and the server goes on', async () => {
    const train = await makeTrain(using('locked'));
    const web = application.webServer;
    await play(async (round) => {
      await holder.query('begin');
      await holder.query('select from train where id = $1 for update', [train]);
      const saving = ask('POST', `/api/trains/${train}/revisions`, {
        saveId: randomUUID(),
        basedOn: 1,
        document: using(`try ${round}`)
      }).catch(() => ({ status: 0, answer: {} }));
      const waiting = await until('the save waits', async () => {
        const { rows } = await admin.query<{ pid: number }>(
          `select pid from pg_stat_activity where wait_event_type = 'Lock' and usename = 'lodestone_app'`
        );
        return rows[0]?.pid;
      });
      await admin.query('select pg_terminate_backend($1)', [waiting]);
      await holder.query('rollback');
      const reply = await saving;
      // Nobody can do better than “try again”.
      expect(reply.status).toBe(503);
      return [];
    });
    expect(application.webServer).toBe(web);
  });
});
