// The start command: what it copes with, what it says, and what it leaves behind.
import { createServer } from 'node:http';
import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import pg from 'pg';
import { afterEach, describe, expect, it } from 'vitest';
import { Application, commandOf, environmentOf, until, userOf } from './application.ts';

const isRoot = process.getuid?.() === 0;
let application: Application;
afterEach(() => application.dispose());

const file = (name: string): string => join(application.folder, name);
const healthy = () =>
  until('it answers', async () => {
    const answer = await fetch(`${application.url}/healthz`).catch(() => undefined);
    return answer?.ok ? true : undefined;
  });

const listed = async <T>(path: string): Promise<T[]> =>
  (await (await fetch(`${application.url}${path}`)).json()) as T[];

/** Starts it where it must fail. @returns what it said */
async function failing(env: Record<string, string> = {}): Promise<string> {
  application.launch(env);
  const code = await until('it ends', () =>
    application.exitCode === undefined ? undefined : (application.exitCode ?? -1)
  );
  expect(code).toBe(1);
  expect(application.log).not.toMatch(/\n\s+at /);
  return application.log;
}

describe('a running application', () => {
  it('keeps passwords and privileges from the process that answers, and its files from other people', async () => {
    application = await Application.make();
    await application.start();
    const { webServer } = application;
    const environment = environmentOf(webServer);
    for (const role of ['lodestone_admin', 'lodestone_owner']) {
      expect(environment).not.toContain(application.password(role));
      expect(commandOf(webServer)).not.toContain(application.password(role));
    }
    expect(environment).toContain(application.password('lodestone_app'));
    if (isRoot) {
      const mayDrop = statSync('package.json').mode & 0o004;
      expect(userOf(webServer) !== 0 || !mayDrop || application.log.includes('goes on as root')).toBe(true);
      // One of the two, and it says which.
      expect(application.log.includes('goes on as root')).toBe(userOf(webServer) === 0);
    }
    for (const name of ['cluster.json', 'postgres.log']) expect(statSync(file(name)).mode & 0o077).toBe(0);

    const elsewhere = application.databaseUrl('lodestone_app').replace(/\/lodestone$/, '/postgres');
    await expect(new pg.Client({ connectionString: elsewhere }).connect()).rejects.toThrow(/permission denied/);
    expect(await application.stop()).toBe(0);
    expect(existsSync(file('running.json'))).toBe(false);
    expect(existsSync(file('postgres/postmaster.pid'))).toBe(false);
  });

  it('starts its database server and its web server again when they end, at the same address', async () => {
    application = await Application.make();
    await application.start();
    const { webServer, postmaster } = application;
    process.kill(postmaster!, 'SIGKILL');
    await until('the database server runs again', () => {
      const now = application.postmaster;
      return now !== undefined && now !== postmaster ? true : undefined;
    });
    await healthy();
    expect(application.webServer).toBe(webServer);
    process.kill(webServer, 'SIGKILL');
    await until(
      'the web server runs again',
      () => (application.webServerIfAny ?? webServer) !== webServer || undefined
    );
    await healthy();
    expect(await application.stop()).toBe(0);
  });

  it('is not started twice: the second says where the first is; a first that does not answer is told apart', async () => {
    application = await Application.make();
    await application.start();
    const second = () => {
      try {
        const env = {
          ...process.env,
          LODESTONE_DATA: application.folder,
          LODESTONE_BUILD: 'build-test',
          DATABASE_URL: ''
        };
        return { status: 0, said: execFileSync(process.execPath, ['scripts/start.mjs'], { env, encoding: 'utf8' }) };
      } catch (error) {
        const { status, stdout } = error as { status: number; stdout: string };
        return { status, said: stdout };
      }
    };
    expect(second()).toMatchObject({
      status: 0,
      said: expect.stringContaining(`already running at ${application.url}`)
    });
    process.kill(application.webServer, 'SIGSTOP');
    const { webServer } = application;
    expect(second()).toMatchObject({ status: 1, said: expect.stringContaining('does not answer') });
    process.kill(webServer, 'SIGCONT');
  });
});

describe('what an earlier start left behind', () => {
  it('a server that recovers, or still runs, is waited for and adopted', async () => {
    application = await Application.make();
    await application.start();
    await application.kill();
    const survivor = application.postmaster;
    expect(survivor).toBeDefined();
    await application.start();
    expect(application.log).toContain('Adopting');
    expect(application.postmaster).toBe(survivor);
    await healthy();
  });

  it('garbage for a pid file, or another program’s, is dealt with', async () => {
    application = await Application.make();
    await application.start();
    for (const content of ['', 'x\ny\n', `${process.pid}\n/somewhere\n0\n5432\n`]) {
      expect(await application.stop()).toBe(0);
      writeFileSync(file('postgres/postmaster.pid'), content);
      await application.start();
      await healthy();
    }
  });

  it('a claim that is none, or somebody else’s, is taken over', async () => {
    application = await Application.make();
    const claims = ['null', '{"pid":-1}', '{"pi', JSON.stringify({ pid: process.pid, url: 'http://127.0.0.1:1' })];
    for (const content of claims) {
      writeFileSync(file('running.json'), content);
      await application.start();
      await healthy();
      expect(await application.stop()).toBe(0);
    }
  });

  it('a demo whose start was cut short gets its trains all at once, and its frames at the next start', async () => {
    application = await Application.make();
    const demo = { LODESTONE_DEMO: 'on', LODESTONE_DEMO_FRAMES: 'on' };
    application.launch(demo);
    await application.ready();
    const trains = await listed<{ id: string; document: { name: string } }>('/api/trains');
    expect(trains.map(({ document }) => document.name)).toEqual(['Heron', 'Long Tom', 'Dormouse', 'Avocet']);
    const { id } = trains[1]!;
    await application.kill();
    application.launch(demo);
    await application.ready();
    await until(
      'the frames were taken',
      async () => ((await listed(`/api/trains/${id}/frames`)).length === 3 ? true : undefined),
      120_000
    );
    expect(await listed('/api/trains')).toHaveLength(4);
    // Whoever deletes all of it does not get it back.
    for (const { id: each } of trains) {
      await fetch(`${application.url}/api/trains/${each}`, {
        method: 'PATCH',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ state: 'deleted' })
      });
      expect((await fetch(`${application.url}/api/trains/${each}`, { method: 'DELETE' })).status).toBe(200);
    }
    await application.stop();
    application.launch(demo);
    await application.ready();
    expect(await listed('/api/trains')).toEqual([]);
  });

  it('told to stop while its database server begins, it leaves none behind', async () => {
    for (const wait of [0, 300, 900, 1500]) {
      application = await Application.make();
      application.launch();
      await until('the cluster is being made', () =>
        application.log.includes('Making a database') ? true : undefined
      );
      await new Promise((over) => setTimeout(over, wait));
      expect(await application.stop()).toBe(0);
      expect(existsSync(file('running.json'))).toBe(false);
      expect(existsSync(file('postgres/postmaster.pid'))).toBe(false);
      await application.dispose();
    }
  });

  it('a first start that was cut short while the cluster was made begins anew', async () => {
    application = await Application.make();
    application.launch();
    await until('the cluster is being made', () => (application.log.includes('Making a database') ? true : undefined));
    await new Promise((over) => setTimeout(over, 400));
    await application.kill();
    await application.start();
    await healthy();
  });
});

describe('what cannot be', () => {
  it.each(['abc', '-1', '70000', '41.5'])('a PORT of %s is told in a sentence', async (port) => {
    application = await Application.make();
    expect(await failing({ PORT: port })).toContain(`PORT must be a whole number from 0 to 65535, but is “${port}”`);
  });

  it('a port that is taken is told, and no database server is left running', async () => {
    application = await Application.make();
    const taken = createServer().listen(application.port, '127.0.0.1');
    expect(await failing()).toContain(`Port ${application.port} is taken`);
    taken.close();
    expect(existsSync(file('postgres/postmaster.pid'))).toBe(false);
    expect(existsSync(file('running.json'))).toBe(false);
  });

  it('passwords that were lost, or are wrong, are told, and no database server is left running', async () => {
    application = await Application.make();
    await application.start();
    await application.stop();
    const notes = readFileSync(file('cluster.json'), 'utf8');
    writeFileSync(file('cluster.json'), notes.replace(/"lodestone_admin": "[^"]+"/, '"lodestone_admin": "another"'));
    expect(await failing()).toContain('does not let its administrator in');
    expect(existsSync(file('postgres/postmaster.pid'))).toBe(false);
    writeFileSync(file('cluster.json'), '{}');
    expect(await failing()).toContain('does not hold the passwords');
    rmSync(file('cluster.json'));
    expect(await failing()).toContain('cluster.json cannot be read');
  });
});
