import { isRecord } from '@lodestone/core/train';
import pg from 'pg';
import type { Heads, News } from '$lib/api/live.ts';
import { randomUUID } from 'node:crypto';
import { connectionString, database, readAs, type Queryable } from './database.ts';
import { gauge } from './metrics.ts';
import { hasOwners } from './owner.ts';
import { forgetOwner, rememberWhile } from './owners/remembered.ts';
import { shared } from './shared.ts';

/** Channel that the triggers of the database tell of changes on. */
const CHANNEL = 'lodestone';

const HEARTBEAT_MS = 20_000;

/** Waits between tries to listen again, ms. */
const RETRY_MS = [200, 500, 1000, 2000, 5000] as const;

/** A call of one's own is heard within this time, ms, unless something between here and the database swallows it. */
const CALL_HEARD_MS = 3000;
const DEAF =
  'Changes made in other windows and on other servers are not heard: what DATABASE_URL leads to passes no notifications on. ' +
  'Set LODESTONE_LISTEN_URL to the database itself.';

interface Stream {
  owner: string;
  /** Trains of others that are shared with them. */
  shared: ReadonlySet<string>;
  tell(news: News): void;
  /** Something may have been missed: everything is told anew. */
  catchUp(): void;
  close(): void;
}

const streams = new Set<Stream>();
const NONE: ReadonlySet<string> = new Set();

/** What a trigger said; undefined for what is not ours. Without news: how an owner gets in, or what is shared with them, changed. */
function newsFrom(payload: string): { owner: string; news: News | undefined } | undefined {
  const said: unknown = JSON.parse(payload);
  if (!isRecord(said) || typeof said.owner !== 'string') return undefined;
  const { owner, train, number, state, drawer, frame, access } = said;
  if (access !== undefined) return { owner, news: undefined };
  if (typeof drawer === 'number') return { owner, news: { drawer } };
  if (typeof train !== 'string') return undefined;
  if (typeof frame === 'number') return { owner, news: { train, frame } };
  if (typeof number === 'number') return { owner, news: { train, number } };
  if (state === 'active' || state === 'archived' || state === 'deleted') return { owner, news: { train, state } };
  return undefined;
}

let listener: pg.Client | undefined;
let stopped = false;

/** Keeps one connection that hears of changes, whoever made them, for as long as the server runs. */
async function listen(failures = 0): Promise<void> {
  if (stopped) return;
  const client = new pg.Client({
    connectionString: process.env.LODESTONE_LISTEN_URL || connectionString(),
    connectionTimeoutMillis: 5000,
    keepAlive: true
  });
  let over = false;
  const again = (): void => {
    if (over) return;
    over = true;
    listener = undefined;
    client.end().catch(() => undefined);
    if (!stopped) setTimeout(() => void listen(failures + 1), RETRY_MS[Math.min(failures, RETRY_MS.length - 1)]);
  };
  client.on('error', again);
  client.on('end', again);
  const call = randomUUID();
  let isHeard = false;
  client.on('notification', ({ payload }) => {
    if (payload === JSON.stringify({ call })) isHeard = true;
    const said = newsFrom(payload ?? 'null');
    if (said && said.news === undefined) forgetOwner(said.owner);
    for (const stream of said ? streams : []) {
      const { news } = said!;
      if (news === undefined) {
        if (stream.owner === said!.owner) stream.catchUp();
      } else if (stream.owner === said!.owner || ('train' in news && stream.shared.has(news.train))) stream.tell(news);
    }
  });
  try {
    await client.connect();
    await client.query(`listen ${CHANNEL}`);
    // What changed while nobody listened is not known.
    forgetOwner();
    listener = client;
    failures = 0;
    // What happened while nobody listened is told by how things stand.
    for (const stream of streams) stream.catchUp();
    setTimeout(() => isHeard || over || stopped || console.error(DEAF), CALL_HEARD_MS).unref();
    const called = database().query('select pg_notify($1, $2)', [CHANNEL, JSON.stringify({ call })]);
    // What was not called cannot be heard.
    await called.catch(() => (isHeard = true));
  } catch {
    again();
  }
}

gauge('streams', 'Pages that are told of changes.', () => streams.size);

rememberWhile(() => listener !== undefined);

let listening: Promise<void> | undefined;

/** Begins to hear of changes; called once, when the server starts. */
export const startListening = (): Promise<void> => (listening ??= listen());

/** How everything stands: numbers of the drawer's and every train's newest state. */
export const readHeads = (owner: string): Promise<Heads> => shared('heads', owner, () => headsOf(owner));

function headsOf(owner: string): Promise<Heads> {
  return readAs(owner, async (on) => {
    const { rows } = await on.query<{ drawer: string; trains: Heads['trains'] | null }>(
      `select coalesce((select number from drawer_state where owner = $1), 0) as drawer,
              (select jsonb_object_agg(train.id, jsonb_build_object(
                'number', head.number,
                'state', train.state,
                'frame', (select coalesce(max(frame.number), 0) from frame where frame.owner = train.owner and train_id = train.id)
              ))
                 from train
                 join lateral (
                   select number from train_revision
                    where owner = train.owner and train_id = train.id
                    order by number desc
                    limit 1
                 ) head on true
                where train.owner = $1) as trains`,
      [owner]
    );
    const [row] = rows;
    return { drawer: Number(row?.drawer ?? 0), trains: { ...row?.trains, ...(await headsOfShared(owner, on)) } };
  });
}

/** How trains of others stand that are shared with an owner. */
async function headsOfShared(owner: string, on: Queryable): Promise<Heads['trains']> {
  if (!hasOwners()) return {};
  const { rows } = await on.query<{ id: string } & Heads['trains'][string]>(
    `select train.id, train.state,
            (select max(number) from train_revision revision
              where revision.owner = train.owner and revision.train_id = train.id) as number,
            (select coalesce(max(frame.number), 0) from frame
              where frame.owner = train.owner and frame.train_id = train.id) as frame
       from train_guest join train on train.owner = train_guest.owner and train.id = train_id
      where guest = $1`,
    [owner]
  );
  return Object.fromEntries(rows.map(({ id, ...head }) => [id, head]));
}

/** Trains of others that an owner hears of. */
const sharedWith = (owner: string): Promise<ReadonlySet<string>> =>
  readAs(owner, async (on) => new Set(Object.keys(await headsOfShared(owner, on))));

/**
 * Server-sent events of everything that is the owner's. First how all of it stands, then what changes; it listens
 * before it looks, so that nothing falls in between.
 *
 * @param holds whether who asked may still hear of it, which is looked at from time to time
 */
export function eventsOf(owner: string, holds: () => Promise<boolean>): ReadableStream<Uint8Array> {
  const encoder = new TextEncoder();
  let end = (): void => undefined;
  return new ReadableStream({
    start(controller) {
      const send = (event: string, body: unknown): void =>
        controller.enqueue(encoder.encode(`event: ${event}\ndata: ${JSON.stringify(body)}\n\n`));
      const close = (): void => {
        end();
        controller.close();
      };
      const beat = async (): Promise<void> => {
        // Where the database is away nobody is told anything either.
        const isOver = !(await holds().catch(() => true));
        if (!streams.has(stream)) return;
        if (isOver) close();
        else controller.enqueue(encoder.encode(': here\n\n'));
      };
      const heartbeat = setInterval(() => void beat(), HEARTBEAT_MS);
      // What is heard while the heads are being read is told after them: it is newer.
      let heard: News[] | undefined;
      const tell = (news: News): void => {
        if (heard) heard.push(news);
        else send('news', news);
      };
      const catchUp = (): void => {
        heard ??= [];
        // Who is shared with is looked at first: what changes after that is heard.
        const looking = hasOwners() ? sharedWith(owner) : Promise.resolve(NONE);
        looking
          .then((shared) => {
            stream.shared = shared;
            return readHeads(owner);
          })
          .then(
            (heads) => {
              if (!streams.has(stream)) return;
              send('heads', heads);
              heard?.forEach((news) => send('news', news));
              heard = undefined;
            },
            // The client comes back by itself, and by then the database may be there again.
            () => {
              if (streams.has(stream)) close();
            }
          );
      };
      const stream: Stream = { owner, shared: NONE, tell, catchUp, close };
      end = () => {
        clearInterval(heartbeat);
        streams.delete(stream);
      };
      streams.add(stream);
      // The header goes out at once, whatever the database does.
      controller.enqueue(encoder.encode('retry: 2000\n\n'));
      if (listener) catchUp();
      else void startListening();
    },
    cancel: () => end()
  });
}

/** Ends every open stream and stops listening, so that the server can stop. */
export async function endStreams(): Promise<void> {
  stopped = true;
  for (const stream of [...streams]) stream.close();
  await listener?.end();
}
