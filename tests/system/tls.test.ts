// The database over TLS, as docs/deploy.md has it for one that is managed elsewhere: PostgreSQL's own TLS, certificates by
// OpenSSL. Who is not who they should be is not talked to.
import { spawnSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { chmodSync, chownSync, copyFileSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import heron from '../../demo/heron.json';
import { Application, idsOf, until } from './application.ts';

const folder = mkdtempSync(join(tmpdir(), 'lodestone-tls-'));
const MANNER = /sslmode=verify-full&sslrootcert=/;

/** A certificate that vouches for itself. @returns path of it; its key lies beside it */
function certificate(name: string, names: string): string {
  const at = join(folder, name);
  const { status, stderr } = spawnSync('openssl', [
    ...['req', '-x509', '-newkey', 'ec', '-pkeyopt', 'ec_paramgen_curve:P-256', '-nodes', '-days', '2'],
    ...['-subj', `/CN=${name}`, '-addext', `subjectAltName=${names}`],
    ...['-keyout', `${at}.key`, '-out', `${at}.pem`]
  ]);
  if (status !== 0) throw new Error(String(stderr));
  chmodSync(`${at}.pem`, 0o644);
  return at;
}

describe('a database over TLS', () => {
  let home: Application;
  const servers: Application[] = [];
  let [right, stranger, elsewhere] = ['', '', ''];

  const asAdmin = async <T>(work: (on: pg.Client) => Promise<T>): Promise<T> => {
    const client = new pg.Client({ connectionString: home.databaseUrl('lodestone_admin') });
    await client.connect();
    return work(client).finally(() => client.end());
  };

  /** Lets the database show a certificate from now on. */
  async function shows(at: string): Promise<void> {
    const { uid, gid } = process.getuid?.() === 0 ? idsOf('postgres') : { uid: undefined, gid: undefined };
    for (const [from, to] of [
      [`${at}.pem`, 'server.crt'],
      [`${at}.key`, 'server.key']
    ] as const) {
      const path = join(home.folder, 'postgres', to);
      copyFileSync(from, path);
      chmodSync(path, 0o600);
      if (uid !== undefined && gid !== undefined) chownSync(path, uid, gid);
    }
    await asAdmin(async (on) => {
      await on.query('alter system set ssl = on');
      await on.query('select pg_reload_conf()');
    });
    await until('the database shows it', () =>
      asAdmin(async (on) => (await on.query('show ssl')).rows[0].ssl === 'on' || undefined)
    );
  }

  /** A server that knows the database by a certificate. */
  async function knowing(at: string): Promise<Application> {
    const url = (role: string): string =>
      `${home.databaseUrl(role).replace('127.0.0.1', 'localhost')}?sslmode=verify-full&sslrootcert=${at}.pem`;
    const server = await Application.make();
    servers.push(server);
    server.launch({ DATABASE_URL: url('lodestone_app'), LODESTONE_MIGRATE_URL: url('lodestone_owner') });
    return server;
  }

  beforeAll(async () => {
    chmodSync(folder, 0o711);
    expect(readFileSync('docs/deploy.md', 'utf8')).toMatch(MANNER);
    right = certificate('right', 'DNS:localhost');
    stranger = certificate('stranger', 'DNS:localhost');
    elsewhere = certificate('elsewhere', 'DNS:db.example');
    home = await Application.make();
    await home.start();
    await shows(right);
  }, 300_000);
  afterAll(async () => {
    for (const server of servers) await server.dispose();
    await home?.dispose();
    rmSync(folder, { recursive: true, force: true });
  });

  it('is read and written so by all connections of a server, those that listen and of its jobs among them', async () => {
    const server = await knowing(right);
    await server.ready();
    const created = await fetch(`${server.url}/api/trains`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ saveId: randomUUID(), document: heron })
    });
    expect(created.status).toBe(201);
    const found = await asAdmin((on) =>
      on.query<{ ssl: boolean; count: number }>(
        `select ssl, count(*)::int from pg_stat_ssl join pg_stat_activity using (pid)
          where usename = 'lodestone_app' group by ssl`
      )
    );
    // Those without are of the cluster's own server, which began before.
    expect(found.rows.find(({ ssl }) => ssl)?.count).toBeGreaterThanOrEqual(3);
    expect(server.log).not.toMatch(/not heard|No jobs are done/);
  });

  it('is not talked to where it shows another certificate than the one that is known', async () => {
    const server = await knowing(stranger);
    await until('it gave up', () => (server.exitCode === undefined ? undefined : true));
    expect(server.exitCode).toBe(1);
    expect(server.log).toMatch(
      /has a certificate that is not trusted: self-signed certificate\. “sslrootcert” in its address names/
    );
  });

  it('is not talked to where its certificate is for another name', async () => {
    await shows(elsewhere);
    const server = await knowing(elsewhere);
    await until('it gave up', () => (server.exitCode === undefined ? undefined : true));
    expect(server.exitCode).toBe(1);
    expect(server.log).toMatch(/has a certificate that is not trusted: Hostname\/IP does not match/);
  });
});
