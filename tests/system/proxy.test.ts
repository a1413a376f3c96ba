// Two servers behind nginx (Debian's) that takes TLS off, as docs/deploy.md sets it up: its very lines are run.
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { chmodSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import type { IncomingMessage } from 'node:http';
import { request as ask } from 'node:https';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import heron from '../../demo/heron.json';
import { freePort } from '../../scripts/setup/cluster.mjs';
import { Application, until } from './application.ts';

const NAME = 'club.example';
const PHRASE = 'violet harbour tractor seventeen';

let [one, other]: Application[] = [];
let proxy: ChildProcess;
let port = 0;
const folder = mkdtempSync(join(tmpdir(), 'lodestone-proxy-'));

/** The block of a document that begins with three backquotes and a word. */
const blockOf = (document: string, kind: string): string =>
  new RegExp('```' + kind + '\\n([\\s\\S]*?)```').exec(readFileSync(document, 'utf8'))![1]!;

function makeCertificate(): void {
  const { status, stderr } = spawnSync('openssl', [
    ...['req', '-x509', '-newkey', 'ec', '-pkeyopt', 'ec_paramgen_curve:P-256', '-nodes', '-days', '2'],
    ...['-subj', `/CN=${NAME}`, '-addext', `subjectAltName=DNS:${NAME}`],
    ...['-keyout', join(folder, 'key.pem'), '-out', join(folder, 'cert.pem')]
  ]);
  if (status !== 0) throw new Error(String(stderr));
}

/** The lines of the document, with the ports and files of this test in place of theirs. */
function settings(): string {
  const lines = blockOf('docs/deploy.md', 'nginx')
    .replace('127.0.0.1:4180', `127.0.0.1:${one!.port}`)
    .replace('127.0.0.1:4181', `127.0.0.1:${other!.port}`)
    .replace('listen 443 ssl', `listen 127.0.0.1:${port} ssl`)
    .replace('/etc/ssl/club.example.pem', join(folder, 'cert.pem'))
    .replace('/etc/ssl/club.example.key', join(folder, 'key.pem'));
  const temporary = ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi']
    .map((kind) => `${kind}_temp_path ${join(folder, kind)};`)
    .join('\n');
  return `daemon off;\npid ${join(folder, 'pid')};\nerror_log stderr;\nevents {}\nhttp {\naccess_log off;\n${temporary}\n${lines}\n}\n`;
}

interface Answer {
  status: number;
  headers: IncomingMessage['headers'];
  text: string;
}

const cert = (): Buffer => readFileSync(join(folder, 'cert.pem'));

/** Asks the proxy by the name of the server, as a browser would. */
function open(
  path: string,
  method: string,
  headers: Record<string, string>,
  body?: string | Buffer
): Promise<IncomingMessage> {
  return new Promise((done, failed) => {
    const asking = ask(
      {
        ...{ host: '127.0.0.1', port, path, method, servername: NAME, ca: cert() },
        headers: { host: `${NAME}:${port}`, ...headers },
        agent: false
      },
      done
    );
    asking.on('error', failed);
    asking.end(body);
  });
}
async function send(
  path: string,
  method = 'GET',
  headers: Record<string, string> = {},
  body?: string | Buffer
): Promise<Answer> {
  const answer = await open(path, method, headers, body);
  let text = '';
  for await (const piece of answer) text += String(piece);
  return { status: answer.statusCode ?? 0, headers: answer.headers, text };
}
const origin = (): string => `https://${NAME}:${port}`;
const post = (path: string, headers: Record<string, string>, content: unknown): Promise<Answer> =>
  send(path, 'POST', { origin: origin(), 'content-type': 'application/json', ...headers }, JSON.stringify(content));

let cookie: { cookie: string };

beforeAll(async () => {
  [one, other] = [await Application.make(), await Application.make()];
  port = await freePort();
  const env = { LODESTONE_OWNERS: 'several', LODESTONE_HOSTS: `${NAME}:${port}`, LODESTONE_PROXIES: '127.0.0.1' };
  one.launch(env);
  await one.ready();
  other.launch({
    ...env,
    DATABASE_URL: one.databaseUrl('lodestone_app'),
    LODESTONE_MIGRATE_URL: one.databaseUrl('lodestone_owner')
  });
  await other.ready();
  makeCertificate();
  for (const kind of ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi']) mkdirSync(join(folder, kind));
  writeFileSync(join(folder, 'nginx.conf'), settings());
  chmodSync(folder, 0o755);
  let said = '';
  proxy = spawn('/usr/sbin/nginx', ['-c', join(folder, 'nginx.conf')], { stdio: ['ignore', 'pipe', 'pipe'] });
  for (const stream of [proxy.stdout!, proxy.stderr!]) stream.on('data', (piece: Buffer) => (said += piece.toString()));
  await until('the proxy answers', async () => {
    if (proxy.exitCode !== null) throw new Error(`The proxy ended:\n${said}`);
    return (await send('/livez').catch(() => undefined))?.status === 200 || undefined;
  });
  // Each start has a link of its own: the newest holds.
  const link = await until('the invitation', () => /join#([\w-]{43})/.exec(other!.log)?.[1]);
  const joined = await post('/api/join', {}, { secret: link, name: 'Ada', passphrase: PHRASE });
  expect(joined.text).toBe('null');
  const [shown] = joined.headers['set-cookie']!;
  cookie = { cookie: shown!.split(';')[0]! };
  expect(shown).toMatch(/^__Host-lodestone=[\w-]{43}; Max-Age=\d+; Path=\/; HttpOnly; Secure; SameSite=Lax/i);
}, 300_000);
afterAll(async () => {
  proxy?.kill('SIGTERM');
  await other?.dispose();
  await one?.dispose();
  rmSync(folder, { recursive: true, force: true });
});

const save = (id: string, basedOn: number, saveId = randomUUID()): Promise<Answer> =>
  post(`/api/trains/${id}/revisions`, cookie, { saveId, basedOn, document: { ...heron, name: `Heron ${basedOn}` } });
async function made(): Promise<string> {
  const { text } = await post('/api/trains', cookie, { saveId: randomUUID(), document: heron });
  return (JSON.parse(text) as { id: string }).id;
}

describe('behind a proxy that takes TLS off', () => {
  it('pages and requests pass, by the scheme the browser uses, and others are refused', async () => {
    const page = await send('/account', 'GET', { ...cookie, accept: 'text/html' });
    expect(page.status).toBe(200);
    expect(page.headers['strict-transport-security']).toContain('max-age=');
    expect(page.headers['x-request-id']).toMatch(/^[\da-f]{32}$/);
    const plain = await post('/api/sign-out', { ...cookie, origin: `http://${NAME}:${port}` }, {});
    expect(plain.status).toBe(403);
    expect((await post('/api/sign-out', { ...cookie, origin: 'https://evil.example' }, {})).status).toBe(403);
    expect((await send('/', 'GET', { host: 'evil.example' })).status).toBe(403);
    // A session of a secure address is none without TLS.
    const past = await fetch(`${one!.url}/api/trains`, { headers: cookie });
    expect(past.status).toBe(401);
  });

  it('a file of tens of megabytes arrives, and what is told to pages comes at once', async () => {
    const id = await made();
    const stream = await open('/api/events', 'GET', cookie);
    let heard = '';
    stream.on('data', (piece: Buffer) => (heard += piece.toString()));
    await until('how everything stands', () => heard.includes('event: heads') || undefined);
    expect((await save(id, 1)).status).toBe(201);
    await until('the save is heard', () => heard.includes('"number":2') || undefined, 5000);
    stream.destroy();
    const large = await send(
      `/api/trains/${id}/frames?name=x`,
      'POST',
      { ...cookie, origin: origin(), 'content-type': 'application/octet-stream' },
      Buffer.alloc(60_000_000)
    );
    // It is no frame; that it was read is what counts.
    expect([large.status, large.text]).toEqual([415, expect.stringContaining('message')]);
  });

  it('a session that is ended by one server is over for the other at once', async () => {
    const signedIn = await post('/api/sign-in', { 'x-forwarded-for': '10.1.1.1' }, { name: 'Ada', passphrase: PHRASE });
    // Past the proxy, and so without TLS, the same secret goes by another name.
    const secret = /lodestone=([\w-]{43})/.exec(signedIn.headers['set-cookie']![0]!)![1]!;
    const asked = (server: Application) =>
      fetch(`${server.url}/api/trains`, { headers: { cookie: `lodestone=${secret}` } }).then(({ status }) => status);
    // Both know it, and remember it for a while.
    for (const server of [one!, other!, one!, other!]) expect(await asked(server)).toBe(200);
    const out = await fetch(`${one!.url}/api/sign-out`, {
      method: 'POST',
      headers: { cookie: `lodestone=${secret}`, host: `127.0.0.1:${one!.port}` }
    });
    expect(out.status).toBe(200);
    expect(await asked(one!)).toBe(401);
    await until('the other has heard of it', async () => (await asked(other!)) === 401 || undefined, 2000);
  });

  it('either server is killed in turn: nothing acknowledged is lost, nothing is stored twice', async () => {
    const id = await made();
    const kill = (each: Application): void => void process.kill(each.webServer, 'SIGKILL');
    const acknowledged: number[] = [];
    for (let number = 1; number <= 40; number++) {
      if (number === 10) kill(one!);
      if (number === 25) kill(other!);
      // As a page does: the same save under the same id, until it is acknowledged.
      const saveId = randomUUID();
      await until('the save is acknowledged', async () => {
        const answer = await save(id, number, saveId).catch(() => undefined);
        if (answer?.status === 201 || answer?.status === 200) return true;
        expect([undefined, 502, 503, 504]).toContain(answer?.status);
        return undefined;
      });
      acknowledged.push(number + 1);
    }
    const { text } = await send(`/api/trains/${id}/history`, 'GET', cookie);
    expect(text).toContain('"last":41');
    const stored = JSON.parse((await send(`/api/trains/${id}`, 'GET', cookie)).text) as {
      revision: { number: number };
      document: { name: string };
    };
    expect(stored).toMatchObject({ revision: { number: 41 }, document: { name: 'Heron 40' } });
    expect(acknowledged).toHaveLength(40);
  });

  it('tries are counted by who makes them, not by the proxy, and not by what they say themselves', async () => {
    const tried = (headers: Record<string, string>) =>
      post('/api/sign-in', headers, { name: 'Ada', passphrase: 'wrong wrong wrong' });
    for (let at = 0; at < 10; at++) expect((await tried({ 'x-forwarded-for': `10.0.0.${at}` })).status).toBe(401);
    expect((await tried({ 'x-forwarded-for': '10.0.0.99' })).status).toBe(429);
  });
});
