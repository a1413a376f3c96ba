import { randomUUID } from 'node:crypto';
import { Agent, request as httpRequest } from 'node:http';
import type { APIRequestContext } from '@playwright/test';
import heron from '../demo/heron.json' with { type: 'json' };
import { expect, openCopy, test } from './lodestone.ts';

const create = (request: APIRequestContext, document: unknown, saveId: unknown = randomUUID()) =>
  request.post('/api/trains', { data: { saveId, document } });

const count = async (request: APIRequestContext) => ((await (await request.get('/api/trains')).json()) as []).length;

const message = async (response: { json: () => Promise<unknown> }) =>
  ((await response.json()) as { message: string }).message;

/** A request with headers that a browser would not let a page choose. */
function raw(port: number, options: { path?: string; method?: string; headers?: Record<string, string> }) {
  return new Promise<{ status: number; headers: NodeJS.Dict<string | string[]>; body: string }>((resolve, reject) => {
    const asking = httpRequest({ host: '127.0.0.1', port, ...options }, (response) => {
      let body = '';
      response.on('data', (chunk: Buffer) => (body += chunk.toString()));
      response.on('end', () => resolve({ status: response.statusCode ?? 0, headers: response.headers, body }));
    });
    asking.on('error', reject);
    asking.end();
  });
}

test('stores a train, its revisions, and says where they are', async ({ request }) => {
  const created = await create(request, { ...heron, name: 'By hand' });
  expect(created.status()).toBe(201);
  const train = (await created.json()) as { id: string };
  expect(created.headers().location).toBe(`/api/trains/${train.id}`);

  const save = { saveId: randomUUID(), basedOn: 1, document: { ...heron, name: 'By hand, again' } };
  const saved = await request.post(`/api/trains/${train.id}/revisions`, { data: save });
  expect(saved.status()).toBe(201);
  const again = await request.post(`/api/trains/${train.id}/revisions`, { data: save });
  expect(again.status()).toBe(200);
  expect(((await again.json()) as { revision: { number: number } }).revision.number).toBe(2);

  const stale = await request.post(`/api/trains/${train.id}/revisions`, { data: { ...save, saveId: randomUUID() } });
  expect(stale.status()).toBe(409);
  expect(await stale.json()).toMatchObject({ head: { revision: { number: 2 }, document: { name: 'By hand, again' } } });

  const first = await request.get(`/api/trains/${train.id}/revisions/1`);
  expect(await first.json()).toMatchObject({ document: { name: 'By hand' } });
  expect((await request.get(`/api/trains/${train.id}/revisions/3`)).status()).toBe(404);
});

test('exports the document as it was brought in, key for key', async ({ request }) => {
  const { id } = (await (await create(request, heron)).json()) as { id: string };
  const exported = await request.get(`/api/trains/${id}/document`);
  expect(exported.headers()['content-disposition']).toContain('Heron.json');
  expect(JSON.stringify(JSON.parse(await exported.text()))).toBe(JSON.stringify(heron));
});

test('serves the schema of the format, and its own health', async ({ request }) => {
  expect(await (await request.get('/train.schema.json')).json()).toMatchObject({ title: 'Train' });
  expect(await (await request.get('/healthz')).json()).toEqual({ status: 'ok' });
});

test('tells how it does: alive, able to serve, and in figures; each answer has an id', async ({ request }) => {
  expect(await (await request.get('/livez')).json()).toEqual({ status: 'alive' });
  const [one, other] = await Promise.all([request.get('/api/trains'), request.get('/api/trains/none')]);
  const ids = [one, other].map((answer) => answer.headers()['x-request-id']);
  for (const id of ids) expect(id).toMatch(/^[\w-]{36}$/);
  expect(ids[0]).not.toBe(ids[1]);
  // Nobody who is not a proxy of ours names a request.
  const named = await request.get('/livez', { headers: { 'x-request-id': 'mine\u0020forged' } });
  expect(named.headers()['x-request-id']).not.toContain('mine');
  const metrics = await request.get('/metrics');
  expect(metrics.headers()['content-type']).toContain('text/plain');
  const text = await metrics.text();
  expect(text).toMatch(
    /^lodestone_request_seconds_count\{method="GET",route="\/api\/trains",status="200"\} [1-9]\d*$/m
  );
  expect(text).toMatch(/^lodestone_pool_connections [1-9]/m);
  expect(text).toMatch(/^lodestone_process_resident_memory_bytes \d{8,}/m);
});

test.describe('bad input is refused with a 4xx that names the place, and nothing is stored', () => {
  const element = (change: object) => ({
    ...heron,
    elements: heron.elements.map((each, index) => (index === 2 ? { ...each, ...change } : each))
  });
  const wrong: Record<string, [unknown, number, string]> = {
    'a negative length': [element({ lengthMm: -1 }), 400, '/elements/2/lengthMm'],
    'a length over ten metres': [element({ lengthMm: 10_001 }), 400, '/elements/2/lengthMm'],
    'an unknown key': [element({ colour: 'red' }), 400, '/elements/2/colour'],
    'a duplicate id': [element({ id: 'wheel' }), 400, '/elements/3/id'],
    'two correctors': [element({ corrector: { backFocusMm: 55 } }), 400, '/elements/2/corrector'],
    'no camera': [{ ...heron, elements: heron.elements.slice(0, -1) }, 400, 'camera'],
    'a NUL character': [element({ name: 'a\0b' }), 400, '/elements/2/name'],
    'half a surrogate pair': [element({ name: '\ud800' }), 400, '/elements/2/name'],
    'a list for a document': [[], 400, '/document']
  };
  for (const [name, [document, status, words]] of Object.entries(wrong)) {
    test(name, async ({ request }) => {
      const before = await count(request);
      const response = await create(request, document);
      expect(response.status()).toBe(status);
      expect(await message(response)).toContain(words);
      expect(await count(request)).toBe(before);
    });
  }

  const bodies: Record<string, [string, number]> = {
    'malformed JSON': ['{"saveId": ', 400],
    nothing: ['', 400],
    'a bare number': ['7', 400],
    'nesting without end': ['['.repeat(100_000), 400],
    'deep but well-formed nesting': [
      `{"saveId":"${randomUUID()}","document":${'{"host":'.repeat(5000)}1${'}'.repeat(5000)}}`,
      400
    ],
    'a prototype key': [`{"saveId":"${randomUUID()}","document":{},"__proto__":{"admin":true}}`, 400],
    'five megabytes': [JSON.stringify({ saveId: randomUUID(), document: { ...heron, note: 'x'.repeat(5e6) } }), 413]
  };
  for (const [name, [data, status]] of Object.entries(bodies)) {
    test(`body: ${name}`, async ({ request }) => {
      const before = await count(request);
      const response = await request.post('/api/trains', { data, headers: { 'content-type': 'application/json' } });
      expect(response.status()).toBe(status);
      expect((await message(response)).length).toBeGreaterThan(10);
      expect(await count(request)).toBe(before);
    });
  }

  test('wrong save ids, revisions, states, paths and content types', async ({ request }) => {
    const { id } = (await (await create(request, heron)).json()) as { id: string };
    const path = `/api/trains/${id}/revisions`;
    const post = (data: object) => request.post(path, { data });
    expect((await create(request, heron, 'not-a-uuid')).status()).toBe(400);
    expect((await create(request, heron, undefined)).status()).toBe(201);
    for (const basedOn of [0, -1, 1.5, '1', null, 1e12]) {
      expect((await post({ saveId: randomUUID(), basedOn, document: heron })).status()).toBe(400);
    }
    expect((await request.patch(`/api/trains/${id}`, { data: { state: 'gone' } })).status()).toBe(400);
    expect((await request.get('/api/trains/1')).status()).toBe(404);
    expect((await request.get(`/api/trains/${randomUUID()}`)).status()).toBe(404);
    expect((await request.get(`/api/trains/${id}/revisions/99999999999`)).status()).toBe(404);
    expect((await request.get(`/api/trains/${id}'--`)).status()).toBe(404);
    const text = await request.post('/api/trains', { data: '{}', headers: { 'content-type': 'text/plain' } });
    expect([403, 415]).toContain(text.status());
  });
});

test('after a refusal with its body unread, the same connection goes on', async ({ lodestone }) => {
  const agent = new Agent({ keepAlive: true, maxSockets: 1 });
  const ask = (path: string, method: string, headers: Record<string, string>, body = Buffer.alloc(0)) =>
    new Promise<{ status: number }>((resolve, reject) => {
      const asking = httpRequest(
        { host: '127.0.0.1', port: lodestone.port, agent, path, method, headers },
        (response) => {
          response.resume();
          response.on('end', () => resolve({ status: response.statusCode ?? 0 }));
        }
      );
      asking.on('error', reject);
      asking.end(body);
    });
  const large = Buffer.alloc(300_000);
  for (const [path, method, type, status] of [
    ['/api/trains', 'POST', 'text/xml', 415],
    ['/api/trains/x/revisions', 'POST', 'application/json', 404],
    ['/api/drawer/parts/x/photo', 'PUT', 'text/plain', 404]
  ] as const) {
    expect((await ask(path, method, { 'content-type': type }, large)).status).toBe(status);
    const next = await ask('/healthz', 'GET', {});
    expect(next.status).toBe(200);
  }
  agent.destroy();
});

test('a body of millions of tiny values is refused before it is taken apart', async ({ request }) => {
  const zeros = '0,'.repeat(6_000_000);
  const response = await request.post('/api/drawer/changes', {
    headers: { 'content-type': 'application/json' },
    data: Buffer.from(
      `{"changeId":"${randomUUID()}","remove":[],"put":[{"basedOn":null,"document":{"glass":[${zeros}0]}}]}`
    )
  });
  expect(response.status()).toBe(413);
  expect(await message(response)).toContain('values');
});

test('the stream of events answers a question for its headers, and what is no page allows nothing', async ({
  request
}) => {
  const head = await request.head('/api/events');
  expect(head.status()).toBe(200);
  expect(head.headers()['content-type']).toBe('text/event-stream');
  for (const path of ['/api/trains', '/api/nothing', '/healthz', '/favicon.svg']) {
    expect((await request.get(path)).headers()['content-security-policy']).toContain("default-src 'none'");
  }
});

test('an address of the interface that is not there is 404 in JSON, one that cannot be decoded 400', async ({
  lodestone
}) => {
  const headers = { host: `127.0.0.1:${lodestone.port}`, accept: 'text/html' };
  for (const method of ['GET', 'POST', 'DELETE']) {
    for (const path of ['/api', '/api/', '/api/nothing', '/api/trains/x/y/z', '/api/nothing?a=%ff']) {
      expect(await raw(lodestone.port, { path, method, headers })).toMatchObject({ status: 404 });
    }
    for (const path of ['/api/%', '/api/trains/%E0%A4', '/%c3']) {
      expect(await raw(lodestone.port, { path, method, headers })).toMatchObject({ status: 400 });
    }
  }
  expect(lodestone.log).not.toMatch(/\n\s+at /);
});

test('a page of another site that hides its origin is refused, a link from there is not', async ({ lodestone }) => {
  const from = (mode: string, path: string) =>
    raw(lodestone.port, {
      path,
      headers: { host: `127.0.0.1:${lodestone.port}`, 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': mode }
    });
  expect((await from('no-cors', '/api/trains')).status).toBe(403);
  expect((await from('navigate', '/')).status).toBe(200);
});

test('a name that is cut for its file is cut between letters', async ({ request }) => {
  const name = `${'x'.repeat(79)}𐀀 and more`;
  const { id } = (await (await create(request, { ...heron, name })).json()) as { id: string };
  const exported = await request.get(`/api/trains/${id}/document`);
  expect(exported.status()).toBe(200);
  expect(exported.headers()['content-disposition']).toContain(encodeURIComponent('𐀀'));
});

test('answers only by its own names and its own pages', async ({ lodestone }) => {
  const { port } = lodestone;
  const host = (name: string) => raw(port, { headers: { host: name } });
  expect((await host('evil.example')).status).toBe(403);
  expect((await host(`127.0.0.1:${port + 1}`)).status).toBe(403);
  expect((await host(`localhost:${port}`)).status).toBe(200);
  const origin = (from: string) =>
    raw(port, { path: '/api/trains', headers: { host: `127.0.0.1:${port}`, origin: from } });
  expect((await origin('https://evil.example')).status).toBe(403);
  expect((await origin('null')).status).toBe(403);
  expect((await origin(`http://127.0.0.1:${port}`)).status).toBe(200);
});

test('sends a strict policy and leaves a line in the log', async ({ lodestone }) => {
  const { headers } = await raw(lodestone.port, { path: '/', headers: { host: `127.0.0.1:${lodestone.port}` } });
  const policy = String(headers['content-security-policy']);
  expect(policy).toContain("default-src 'none'");
  expect(policy).not.toMatch(/unsafe-(inline|eval)/);
  expect(headers['x-content-type-options']).toBe('nosniff');
  expect(headers['x-frame-options']).toBe('DENY');
  // It comes by another way than the answer, and may come after it.
  await expect.poll(() => lodestone.log).toMatch(/GET \/ 200 \d+ ms/);
});

test('stops cleanly on SIGTERM, with event streams open', async ({ lodestone, page }) => {
  await page.goto('/');
  await page.getByRole('link', { name: 'Heron' }).first().click();
  await page.locator('#rail').waitFor();
  const began = Date.now();
  expect(await lodestone.stop('SIGTERM')).toBe(0);
  expect(Date.now() - began).toBeLessThan(10_000);
  await lodestone.start();
});

test('the focuser that ships answers like a device: it moves, stops at its end, and refuses nonsense', async ({
  page
}) => {
  const { id } = await openCopy(page, 'Long Tom');
  const path = `/api/trains/${id}/focuser`;
  const tell = (data: object) => page.request.post(path, { data });
  expect(await (await tell({ do: 'renew', backlash: 0 })).json()).toMatchObject({ umPerStep: 4.8 });
  await tell({ do: 'zero' });
  expect(await (await tell({ do: 'move', to: 500 })).json()).toMatchObject({ position: 500, stopped: false });
  expect(await (await tell({ do: 'move', to: 9_000_000 })).json()).toMatchObject({ stopped: true });
  expect(await (await tell({ do: 'frame' })).json()).toMatchObject({ hfrPx: expect.any(Number) });
  for (const nonsense of [{}, { do: 'fly' }, { do: 'move' }, { do: 'move', to: 1e12 }, { do: 'renew', slip: 2 }]) {
    expect((await tell(nonsense)).status()).toBe(400);
  }
  expect((await page.request.get('/api/trains/00000000-0000-4000-8000-000000000000/focuser')).status()).toBe(404);
});
