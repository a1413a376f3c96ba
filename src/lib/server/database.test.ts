// A database that ends a connection in the very packet that says it is ready (PostgreSQL’s protocol, version 3:
// ErrorResponse, chapter “Message Formats”): whoever asked is told, and the process goes on.
import { createServer, connect, type AddressInfo, type Server } from 'node:net';
import { afterAll, afterEach, beforeAll, expect, it } from 'vitest';
import { asOwner, closeDatabase, databaseRefusal, readAs } from './database.ts';
import { Busy } from './gate.ts';

const OWNER = 'glued';
/** Far above what it takes; far below what hangs. */
const POOL_PATIENCE_MS = 15_000;
const READY = Buffer.from([0x5a, 0, 0, 0, 5, 0x49]);

function fatal(): Buffer {
  const fields = Buffer.from('SFATAL\0VFATAL\0C57P01\0Mterminating connection due to administrator command\0\0');
  const head = Buffer.alloc(5);
  head.write('E');
  head.writeInt32BE(fields.length + 4, 1);
  return Buffer.concat([head, fields]);
}

const real = process.env.DATABASE_URL!;
let glues = true;
let glued = 0;
let proxy: Server;

beforeAll(async () => {
  const { hostname, port } = new URL(real);
  proxy = createServer((client) => {
    const server = connect(Number(port), hostname);
    let isReady = false;
    client.on('data', (chunk) => server.write(chunk));
    server.on('data', (chunk) => {
      if (!isReady && chunk.includes(READY)) {
        isReady = true;
        if (glues) {
          glued++;
          client.end(Buffer.concat([chunk, fatal()]));
          server.destroy();
          return;
        }
      }
      client.write(chunk);
    });
    for (const [one, other] of [
      [client, server],
      [server, client]
    ] as const) {
      one.on('error', () => other.destroy());
      one.on('close', () => other.destroy());
    }
  });
  await new Promise<void>((done) => proxy.listen(0, '127.0.0.1', done));
  const url = new URL(real);
  url.port = String((proxy.address() as AddressInfo).port);
  await closeDatabase();
  process.env.DATABASE_URL = url.href;
});
afterEach(() => void (glues = true));
afterAll(async () => {
  await closeDatabase();
  process.env.DATABASE_URL = real;
  await new Promise((done) => proxy.close(done));
});

it('forty connections that end as they begin: forty answers, and the process goes on', async () => {
  const unheard: unknown[] = [];
  const hear = (error: unknown): void => void unheard.push(error);
  process.on('uncaughtException', hear);
  const before = glued;
  for (let round = 0; round < 20; round++) {
    const asked = await Promise.allSettled([
      readAs(OWNER, (on) => on.query('select 1')),
      asOwner(OWNER, (on) => on.query('select 1'))
    ]);
    for (const each of asked) {
      expect(each.status).toBe('rejected');
      expect(databaseRefusal((each as PromiseRejectedResult).reason)).toMatchObject({ status: 503 });
    }
  }
  process.off('uncaughtException', hear);
  expect(unheard).toEqual([]);
  expect(glued - before).toBe(40);
});

it('is asked again as soon as it lets anybody stay', async () => {
  await expect(readAs(OWNER, (on) => on.query('select 1'))).rejects.toThrow();
  glues = false;
  const { rows } = await readAs(OWNER, (on) => on.query<{ two: number }>('select 1 + 1 as two'));
  expect(rows).toEqual([{ two: 2 }]);
});

it('whoever comes when more wait than can be served is told that it is busy, at once', async () => {
  glues = false;
  const began = performance.now();
  const asked = await Promise.allSettled(
    Array.from({ length: 400 }, () => readAs(OWNER, (on) => on.query('select pg_sleep(0.02)')))
  );
  const refused = asked.filter((each): each is PromiseRejectedResult => each.status === 'rejected');
  expect(refused.length).toBeGreaterThan(0);
  expect(refused.length).toBeLessThan(250);
  for (const { reason } of refused) {
    expect(reason).toBeInstanceOf(Busy);
    expect(databaseRefusal(reason)).toBeUndefined();
  }
  // Those that waited were served: 200 of them by eight connections, 20 ms each.
  expect(performance.now() - began).toBeLessThan(POOL_PATIENCE_MS);
});
