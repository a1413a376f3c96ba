// What somebody is told whose database cannot be reached when the program starts: a sentence that names it, no secret.
import { createServer } from 'node:net';
import { describe, expect, it } from 'vitest';
import { connect } from '../../../scripts/setup/connect.mjs';
import { freePort } from '../../../scripts/setup/cluster.mjs';
import { ownerUrl } from './testing.ts';

const changed = (change: Partial<Pick<URL, 'password' | 'pathname' | 'port' | 'hostname' | 'search'>>): string =>
  Object.assign(new URL(ownerUrl), change).href;
const told = (url: string): Promise<string> =>
  connect(url).then(
    () => 'it was reached',
    (error: Error) => `${error.constructor.name}: ${error.message}`
  );

describe('a database that cannot be reached', () => {
  const { port, hostname, password } = new URL(ownerUrl);

  it('is reached where all is well', async () => {
    const client = await connect(ownerUrl);
    expect((await client.query('select 1 as one')).rows).toEqual([{ one: 1 }]);
    await client.end();
  });

  it('nobody answers', async () => {
    const free = await freePort();
    expect(await told(changed({ port: String(free) }))).toMatch(
      new RegExp(`^SetupError: The database “\\w+” at ${hostname}:${free} does not answer \\(ECONNREFUSED\\)\\.$`)
    );
    expect(await told(changed({ hostname: 'localhost', port: String(free) }))).toContain('does not answer');
    expect(await told(changed({ hostname: 'db.invalid' }))).toMatch(/at db\.invalid:\d+ does not answer/);
  });

  it('the role may not enter, or the database is not there', async () => {
    const wrong = await told(changed({ password: 'not-this-one' }));
    expect(wrong).toMatch(/ does not let this role in: password authentication failed for user "lodestone_owner"\.$/);
    expect(wrong).not.toContain('not-this-one');
    expect(await told(changed({ pathname: '/nowhere' }))).toBe(
      `SetupError: The database “nowhere” at ${hostname}:${port} is not there. Make it first.`
    );
  });

  it('the address is none, or names a file that is not there', async () => {
    expect(await told('postgres://a b@:::/x')).toBe(
      'SetupError: DATABASE_URL, or LODESTONE_MIGRATE_URL, is not the address of a database.'
    );
    expect(await told(changed({ search: '?sslmode=verify-full&sslrootcert=/nowhere/ca.pem' }))).toMatch(
      /is to be known by \/nowhere\/ca\.pem, which is not there\.$/
    );
  });

  it('it has no TLS, or something else answers', async () => {
    expect(await told(changed({ search: '?sslmode=require' }))).toMatch(/ cannot be used: .*SSL/);
    const other = createServer((socket) => socket.end('HTTP/1.1 400 Bad Request\r\n\r\n'));
    await new Promise<void>((ready) => other.listen(0, '127.0.0.1', ready));
    const address = other.address() as { port: number };
    const said = await told(changed({ port: String(address.port) }));
    expect(said).toMatch(/^SetupError: The database “\w+” at 127\.0\.0\.1:\d+ (cannot be used|does not answer)/);
    expect(said).not.toContain(password);
    other.close();
  });
});
