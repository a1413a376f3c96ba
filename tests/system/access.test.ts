// Who may ask a server that others on the network reach: every route and method without, with a wrong and with the token.
import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { request as ask } from 'node:http';
import { networkInterfaces } from 'node:os';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Application, routeFolders, until } from './application.ts';

const TOKEN = 'correct-horse-battery-staple';
const METHODS = ['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE', 'OPTIONS'] as const;

/** An address of this machine that is not loopback; loopback where it has no other. */
const far =
  Object.values(networkInterfaces())
    .flat()
    .find((each) => each && !each.internal && each.family === 'IPv4')?.address ?? '127.0.0.1';

interface Answer {
  status: number;
  headers: Record<string, string | string[] | undefined>;
  text: string;
}

let application: Application;
let host = '';
const send = (path: string, method = 'GET', headers: Record<string, string> = {}, body?: string): Promise<Answer> =>
  new Promise((done, failed) => {
    const asking = ask({ host: far, port: application.port, path, method, headers: { host, ...headers } }, (answer) => {
      let text = '';
      answer.setEncoding('utf8');
      const finish = (): void => done({ status: answer.statusCode ?? 0, headers: answer.headers, text });
      answer.on('data', (chunk: string) => (text += chunk));
      answer.on('end', finish);
      // Event streams do not end by themselves.
      if (String(answer.headers['content-type']).startsWith('text/event-stream')) {
        finish();
        asking.destroy();
      }
    });
    asking.on('error', failed);
    asking.end(body);
  });
const withToken = { authorization: `Bearer ${TOKEN}` };

/** Every address the sources answer at, with ids that exist nowhere. */
const routes = routeFolders().map((path) => path.replace(/\[[^\]]*\]/g, '00000000-0000-4000-8000-000000000000'));

beforeAll(async () => {
  application = await Application.make();
  application.launch({ LODESTONE_HOST: '0.0.0.0', LODESTONE_TOKEN: TOKEN });
  await application.ready();
  host = `${far}:${application.port}`;
}, 300_000);
afterAll(() => application.dispose());

describe('a server that others on the network reach', () => {
  it('shows one train to whoever has a link to it, and nothing else of the server', async () => {
    const asJson = { ...withToken, 'content-type': 'application/json' };
    const document: unknown = JSON.parse(readFileSync('demo/heron.json', 'utf8'));
    const kept = await send('/api/trains', 'POST', asJson, JSON.stringify({ saveId: randomUUID(), document }));
    const { id } = JSON.parse(kept.text) as { id: string };
    const made = await send(`/api/trains/${id}/links`, 'POST', asJson, '{}');
    expect(made.status).toBe(201);
    const { path, id: link } = JSON.parse(made.text) as { path: string; id: string };
    const shown = await send(path);
    expect(shown.status).toBe(200);
    expect(shown.headers['content-security-policy']).toContain("default-src 'none'");
    expect(shown.headers['cache-control']).toBe('no-store');
    for (const method of ['POST', 'PUT', 'DELETE'] as const) expect((await send(path, method)).status).toBe(401);
    expect((await send(`/shared/${'A'.repeat(43)}`)).status).toBe(404);
    for (const other of [`${path}/x`, '/shared/x', '/shared/', `/api/trains/${id}`, `/api/trains/${id}/links`]) {
      expect((await send(other)).status).toBe(401);
    }
    expect((await send(`/api/links/${link}`, 'DELETE', withToken)).status).toBe(200);
    expect((await send(path)).status).toBe(404);
  });

  it('prints an address that works from there', () => {
    expect(application.log).toContain(`ready at http://${far}:${application.port}`);
  });

  it('answers no route and no method without the token, and all of them with it', async () => {
    expect(routes.length).toBeGreaterThan(40);
    const opened: string[] = [];
    // Where one shows the token has a test of its own.
    const walked = routes.filter((path) => path !== '/sign-in');
    for (const path of new Set([...walked, '/api/nothing', '/_app/version.json', '/favicon.svg', '/nowhere'])) {
      for (const method of METHODS) {
        const [without, right] = [await send(path, method), await send(path, method, withToken)];
        if (without.status !== 401) opened.push(`${method} ${path}: ${without.status}`);
        if (right.status === 401 || right.status === 403) opened.push(`${method} ${path} with it: ${right.status}`);
        if (right.status >= 500) opened.push(`${method} ${path} with it: ${right.status} ${right.text.slice(0, 80)}`);
      }
    }
    expect(opened).toEqual([]);
  });

  it('says of everything that nothing on the way keeps it', async () => {
    for (const path of ['/', '/api/trains', '/api/drawer', '/settings/__data.json', '/healthz', '/metrics', '/guide']) {
      const { headers } = await send(path, 'GET', { ...withToken, accept: 'text/html' });
      expect([path, headers['cache-control']]).toEqual([path, expect.stringMatching(/private|no-store/)]);
    }
  });

  it('tells a script how, and a person by a form; the cookie passes, and is none a page can read', async () => {
    const script = await send('/api/trains');
    expect(script.headers['www-authenticate']).toBe('Bearer');
    expect(JSON.parse(script.text)).toMatchObject({
      message: expect.stringContaining('Authorization: Bearer') as string
    });
    const page = await send('/trains/7?a=1', 'GET', { accept: 'text/html' });
    expect(page.status).toBe(401);
    expect(page.text).toContain('name="to" value="/trains/7?a=1"');
    const signedIn = await send(
      '/sign-in',
      'POST',
      { 'content-type': 'application/x-www-form-urlencoded' },
      `to=%2Fdrawer&token=${TOKEN}`
    );
    expect(signedIn).toMatchObject({ status: 303, headers: { location: '/drawer' } });
    const cookie = String(signedIn.headers['set-cookie']);
    expect(cookie).toMatch(/HttpOnly; SameSite=Lax/);
    expect(cookie).not.toContain(TOKEN);
    expect((await send('/api/trains', 'GET', { cookie: cookie.split(';')[0]! })).status).toBe(200);
    expect((await send('/api/trains', 'GET', { cookie: 'lodestone-pass=x' })).status).toBe(401);
  });

  it('goes on nowhere else, whatever the form says, and believes no name and no forwarded address', async () => {
    for (const to of ['//evil.example/', 'https://evil.example/', '/\\evil.example', 'javascript:1']) {
      const body = `to=${encodeURIComponent(to)}&token=${TOKEN}`;
      const { headers } = await send('/sign-in', 'POST', { 'content-type': 'application/x-www-form-urlencoded' }, body);
      expect(headers.location).toBe('/');
    }
    expect((await send('/api/trains', 'GET', { host: `127.0.0.1:${application.port}` })).status).toBe(401);
    expect((await send('/api/trains', 'GET', { 'x-forwarded-for': '127.0.0.1' })).status).toBe(401);
    expect((await send('/api/trains', 'GET', { ...withToken, host: 'evil.example' })).status).toBe(403);
    expect((await send('/api/trains', 'POST', { ...withToken, 'sec-fetch-site': 'cross-site' })).status).toBe(403);
  });

  it('slows down whoever guesses, and not whoever has its cookie', async () => {
    const form = { 'content-type': 'application/x-www-form-urlencoded' };
    const signedIn = await send('/sign-in', 'POST', form, `to=/&token=${TOKEN}`);
    const cookie = String(signedIn.headers['set-cookie']).split(';')[0]!;
    const statuses: number[] = [];
    for (let guess = 0; guess < 14; guess++) {
      statuses.push(
        (await send('/api/trains', 'GET', { authorization: `Bearer guess-number-${guess}-of-many` })).status
      );
    }
    expect(statuses.slice(0, 10)).toEqual(Array.from({ length: 10 }, () => 401));
    expect(statuses.slice(10)).toEqual([429, 429, 429, 429]);
    const late = await send('/sign-in', 'POST', form, 'to=/&token=another-guess');
    expect(late).toMatchObject({ status: 429 });
    expect(Number(late.headers['retry-after'])).toBeGreaterThan(0);
    expect((await send('/api/trains', 'GET', { cookie })).status).toBe(200);
  });

  it('is not told to be killed by a second start, which shows no token', async () => {
    const second = Application.at(application);
    second.launch();
    await until('the second ends', () => (second.exitCode === undefined ? undefined : true));
    expect(second.log).toContain('already running');
    expect(second.exitCode).toBe(0);
  });
});

describe('a server that would be open', () => {
  it.each([
    [{ LODESTONE_HOST: '0.0.0.0' }, /LODESTONE_HOST is 0\.0\.0\.0.*there is no token.*LODESTONE_TOKEN=/s],
    [{ LODESTONE_HOSTS: 'tower.example' }, /LODESTONE_HOSTS names tower\.example.*there is no token/s],
    [{ LODESTONE_HOST: '0.0.0.0', LODESTONE_TOKEN: 'short' }, /LODESTONE_TOKEN has 5 characters/],
    [{ LODESTONE_OWNERS: 'several', LODESTONE_TOKEN: TOKEN }, /leave one of them out/],
    [{ LODESTONE_OWNERS: 'many' }, /LODESTONE_OWNERS is “many”/]
  ])('does not start: %j', async (env, said) => {
    const open = await Application.make();
    open.launch(env as Record<string, string>);
    await until('it ends', () => (open.exitCode === undefined ? undefined : true));
    expect(open.exitCode).toBe(1);
    expect(open.log).toMatch(said);
    expect(open.log).not.toMatch(/\n\s+at /);
    await open.dispose();
  });
});
