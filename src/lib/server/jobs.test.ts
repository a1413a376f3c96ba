// Several servers, one queue: what is done without being asked for is done once, by whichever of them is there.
import { randomUUID } from 'node:crypto';
import PgBoss from 'pg-boss';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { makeDatabase } from '../../../scripts/setup/cluster.mjs';
import { migrate } from '../../../scripts/setup/migrate.mjs';
import { ownersWithBackupDue, setSchedule } from './backup/kept.ts';
import { closeDatabase, readAs } from './database.ts';
import { Jobs, type Kind } from './jobs.ts';
import { registry } from './metrics.ts';
import { adminUrl, asAdmin, named, ownerUrl } from './testing.ts';

const LOOK_MS = 50;
const running: Jobs[] = [];
const begin = (kind: Kind): Jobs => {
  const jobs = new Jobs({ tidy: kind }, { lookMs: LOOK_MS, endMs: 500 });
  running.push(jobs);
  jobs.start();
  return jobs;
};

beforeAll(async () => void (await migrate(ownerUrl)));
beforeEach(async () => void (await asAdmin('truncate pgboss.job, pgboss.archive')));
afterEach(async () => {
  await Promise.all(running.splice(0).map((jobs) => jobs.stop()));
  vi.restoreAllMocks();
});
afterAll(closeDatabase);

const names = (count: number): string[] => Array.from({ length: count }, () => randomUUID());
const stateOf = async (owner: string): Promise<unknown> =>
  (await asAdmin('select state from pgboss.job where singleton_key = $1', [owner])).rows[0]?.state;

describe('a queue of jobs', () => {
  it('hands each job to one of three servers, and asks once a round for whom there is any', async () => {
    const owners = names(60);
    const done: string[] = [];
    let asked = 0;
    const kind: Kind = {
      everyS: 3600,
      whom: async () => {
        asked++;
        return owners;
      },
      work: async (owner) => void done.push(owner)
    };
    for (let server = 0; server < 3; server++) begin(kind);
    await vi.waitFor(() => expect(done).toHaveLength(owners.length), 20_000);
    await new Promise((over) => setTimeout(over, 10 * LOOK_MS));
    expect([...done].sort()).toEqual([...owners].sort());
    expect(asked).toBe(1);
  });

  it('does the others where one fails, tells which, and counts both', async () => {
    const [bad = '', ...good] = names(4);
    const told = vi.spyOn(console, 'error').mockImplementation(() => undefined);
    const done: string[] = [];
    begin({
      everyS: 3600,
      whom: async () => [bad, ...good],
      work: async (owner) => {
        if (owner === bad) throw new Error('The disk is full');
        done.push(owner);
      }
    });
    await vi.waitFor(() => expect(done).toHaveLength(good.length), 20_000);
    await vi.waitFor(async () => expect(await stateOf(bad)).toBe('retry'), 20_000);
    expect([...done].sort()).toEqual([...good].sort());
    expect(told.mock.calls.flat().join('\n')).toMatch(new RegExp(`${bad}[^]*The disk is full`));
    const figures = await registry.metrics();
    expect(figures).toMatch(/lodestone_jobs_total\{queue="tidy",ended="failed"\} [1-9]/);
    expect(figures).toMatch(/lodestone_jobs_total\{queue="tidy",ended="done"\} [1-9]/);
  });

  it('gives what a server that is gone had begun to another, once its time is over', async () => {
    const [owner = ''] = names(1);
    const done: string[] = [];
    // Killed in the middle: it neither ends the job nor gives it up.
    const gone = new PgBoss({ connectionString: ownerUrl, migrate: false, supervise: false, schedule: false });
    await gone.start();
    await gone.send('tidy', { owner }, { singletonKey: owner, retryDelay: 0 });
    const [held] = await gone.fetch<{ owner: string }>('tidy');
    expect(held?.data.owner).toBe(owner);

    begin({ everyS: 3600, whom: async () => [], work: async (each) => void done.push(each) });
    await new Promise((over) => setTimeout(over, 10 * LOOK_MS));
    expect(done).toEqual([]);
    await asAdmin('update pgboss.job set started_on = started_on - expire_in where id = $1', [held?.id]);
    await gone.maintain();
    await vi.waitFor(() => expect(done).toEqual([owner]), 20_000);
    await gone.stop({ graceful: false });
  });

  it('gives up at its end what it cannot finish', async () => {
    const [owner = ''] = names(1);
    let ending: (() => void) | undefined;
    const jobs = begin({
      everyS: 3600,
      whom: async () => [owner],
      work: () => new Promise<void>((end) => (ending = end))
    });
    await vi.waitFor(() => expect(ending).toBeDefined(), 20_000);
    await jobs.stop();
    expect(await stateOf(owner)).toBe('retry');
    ending?.();
  });

  it('waits for a database that is away, says so once, and goes on', async () => {
    const told = vi.spyOn(console, 'error').mockImplementation(() => undefined);
    const { DATABASE_URL: url = '' } = process.env;
    const done: string[] = [];
    const kind: Kind = { everyS: 3600, whom: async () => ['there'], work: async (owner) => void done.push(owner) };
    vi.stubEnv('DATABASE_URL', 'postgres://nobody@127.0.0.1:9/none');
    const lost = begin(kind);
    await vi.waitFor(() => expect(told).toHaveBeenCalled(), 20_000);
    await new Promise((over) => setTimeout(over, 10 * LOOK_MS));
    expect(told).toHaveBeenCalledTimes(1);
    await lost.stop();
    vi.stubEnv('DATABASE_URL', url);
    begin(kind);
    await vi.waitFor(() => expect(done).toEqual(['there']), 20_000);
    vi.unstubAllEnvs();
  });
});

describe('the queues', () => {
  it.each([1, 2, 3, 4])('are made by three programs that start together on a new database (%i)', async () => {
    const database = `jobs_${randomUUID().replaceAll('-', '')}`;
    await makeDatabase(adminUrl, database);
    const url = named(ownerUrl, database);
    const carriedOut = await Promise.all([migrate(url), migrate(url), migrate(url)]);
    expect(carriedOut.filter((names) => names.length > 0)).toHaveLength(1);
  });

  it('say what is missing where the role may not make a schema', async () => {
    const database = `jobs_${randomUUID().replaceAll('-', '')}`;
    await asAdmin(`create database ${database}`);
    const { username } = new URL(ownerUrl);
    await asAdmin(`grant all on schema public to ${username}`, [], named(adminUrl, database));
    await expect(migrate(named(ownerUrl, database))).rejects.toThrow('Grant it “create” on the database');
  });
});

describe('whose backup is due', () => {
  it('is found in one go, and nobody sees by it what is another’s', async () => {
    const [due = '', off = '', fresh = ''] = names(3);
    await setSchedule(due, { days: 7, keep: 3 });
    await setSchedule(off, { days: null, keep: 3 });
    await setSchedule(fresh, { days: 7, keep: 3 });
    await asAdmin('update setting set backup_at = now() where owner = $1', [fresh]);
    await asAdmin('insert into known_owner select unnest($1::text[])', [[due, off, fresh]]);
    const found = await ownersWithBackupDue();
    expect(found).toContain(due);
    expect(found).not.toContain(off);
    expect(found).not.toContain(fresh);
    const seen = await readAs(off, async (on) => {
      await on.query('select owners_with_backup_due()');
      return (await on.query<{ owner: string }>('select owner from setting')).rows;
    });
    expect(seen).toEqual([{ owner: off }]);
  });
});
