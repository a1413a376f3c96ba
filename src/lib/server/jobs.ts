import { reasonOf } from '$lib/api/reason.ts';
import PgBoss from 'pg-boss';
import pg from 'pg';
import queues from '../../../database/queues.json' with { type: 'json' };
import { connectionString } from './database.ts';
import { errorFields, log } from './log.ts';
import { countJob } from './metrics.ts';

export type Queue = keyof typeof queues;

/** Something that is done for everybody, time and again, without being asked for. */
export interface Kind {
  /** How often, s; a round that any server began counts for all of them. */
  everyS: number;
  /** For whom there is something to do. */
  whom: () => Promise<readonly string[]>;
  work: (owner: string) => Promise<unknown>;
}

/** What a server that is gone had begun is let go of as often, s. */
const MAINTAIN_S = 60;

/** How often a server asks for something to do, and how long it waits at its end for what it is doing, ms. */
const USUAL = { lookMs: 20_000, endMs: 5000 };

/** So many jobs are handed out with one statement. */
const AT_ONCE = 1000;

/** A round, which finds out for whom something is to be done; no owner is called that. */
const ROUND = '*';

/** The queue has connections of its own, of which one that broke is never used again: several statements are one transaction. */
function connections(): { executeSql: PgBoss.Db['executeSql']; end: () => Promise<void> } {
  const pool = new pg.Pool({ connectionString: connectionString(), max: 2, connectionTimeoutMillis: 15_000 });
  pool.on('error', () => undefined);
  pool.on('connect', (client) => void client.on('error', () => undefined));
  return {
    executeSql: async (text, values) => {
      const client = await pool.connect();
      try {
        const answer = await client.query(text, values);
        client.release();
        return answer;
      } catch (error) {
        client.release(true);
        throw error;
      }
    },
    end: () => pool.end()
  };
}

/**
 * What is done without being asked for, through a queue in the database: of several servers each job is done by one. A job
 * whose server is gone is given up after its time (`database/queues.json`), and done again where its queue says so.
 */
export class Jobs {
  readonly #kinds: ReadonlyMap<Queue, Kind>;
  #boss: PgBoss | undefined;
  #to: ReturnType<typeof connections> | undefined;
  #timer: NodeJS.Timeout | undefined;
  #looking: Promise<void> = Promise.resolve();
  #now: { queue: Queue; id: string } | undefined;
  #isOver = false;
  /** The last failure that was told: one of the database would be told at each look. */
  #told = '';

  constructor(
    kinds: Readonly<Partial<Record<Queue, Kind>>>,
    private readonly times = USUAL
  ) {
    this.#kinds = new Map(Object.entries(kinds) as [Queue, Kind][]);
  }

  /** Begins to look for something to do; as long as the database is away it is tried again. */
  start(): void {
    const look = (): void => {
      this.#looking = this.#look();
      void this.#looking.finally(() => {
        if (!this.#isOver) this.#timer = setTimeout(look, this.times.lookMs).unref();
      });
    };
    look();
  }

  /** Takes no more jobs, and gives up the one it cannot end soon. */
  async stop(): Promise<void> {
    this.#isOver = true;
    clearTimeout(this.#timer);
    await Promise.race([this.#looking, new Promise((over) => setTimeout(over, this.times.endMs).unref())]);
    const { queue, id } = this.#now ?? {};
    this.#now = undefined;
    if (queue && id) await this.#boss?.fail(queue, id, { reason: 'The server was ended' }).catch(() => undefined);
    await this.#boss?.stop({ graceful: false }).catch(() => undefined);
    await this.#to?.end();
    this.#to = undefined;
  }

  /** The queue, once it is there: one that could not begin is of no use any more. */
  async #begun(): Promise<PgBoss> {
    if (this.#boss) return this.#boss;
    this.#to ??= connections();
    const boss = new PgBoss({
      db: { executeSql: this.#to.executeSql },
      migrate: false,
      schedule: false,
      maintenanceIntervalSeconds: MAINTAIN_S
    });
    boss.on('error', (error) => this.#tell('The queue of jobs failed', error));
    return (this.#boss = await boss.start());
  }

  async #look(): Promise<void> {
    try {
      const boss = await this.#begun();
      for (const [queue, { everyS }] of this.#kinds) {
        await boss.send(queue, {}, { singletonKey: ROUND, singletonSeconds: everyS });
      }
      for (const [queue, kind] of this.#kinds) while (!this.#isOver && (await this.#next(boss, queue, kind)));
      this.#told = '';
    } catch (error) {
      this.#tell('No jobs are done just now', error);
    }
  }

  /** Does the next job of a queue. @returns whether there was one */
  async #next(boss: PgBoss, queue: Queue, { whom, work }: Kind): Promise<boolean> {
    const [job] = await boss.fetch<{ owner?: string }>(queue);
    if (!job) return false;
    const { id, data } = job;
    this.#now = { queue, id };
    try {
      if (data.owner !== undefined) await work(data.owner);
      else await this.#handOut(boss, queue, await whom());
      if (this.#isGivenUp(id)) return false;
      await boss.complete(queue, id);
      countJob(queue, 'done');
    } catch (error) {
      if (this.#isGivenUp(id)) return false;
      countJob(queue, 'failed');
      log('error', `A job failed: ${queue}`, { ...data, ...errorFields(error) });
      await boss.fail(queue, id, { reason: reasonOf(error) });
    } finally {
      this.#now = undefined;
    }
    return true;
  }

  #isGivenUp(id: string): boolean {
    return this.#now?.id !== id;
  }

  async #handOut(boss: PgBoss, queue: Queue, owners: readonly string[]): Promise<void> {
    for (let at = 0; at < owners.length; at += AT_ONCE) {
      const some = owners.slice(at, at + AT_ONCE);
      await boss.insert(some.map((owner) => ({ name: queue, data: { owner }, singletonKey: owner })));
    }
  }

  #tell(words: string, error: unknown): void {
    const told = reasonOf(error);
    if (told === this.#told || this.#isOver) return;
    this.#told = told;
    log('warning', words, { error: told });
  }
}
