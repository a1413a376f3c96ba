// Several owners on one server, by every route and method: nobody reads, changes, counts or infers what is another's.
import { randomUUID } from 'node:crypto';
import { chmodSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import demoDrawer from '../../demo/drawer.json';
import heron from '../../demo/heron.json';
import { Application, routeFolders, until } from './application.ts';

const METHODS = ['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE'] as const;
const PHRASE = 'violet harbour tractor seventeen';
const NOWHERE = '00000000-0000-4000-8000-000000000000';

let application: Application;
const folder = mkdtempSync(join(tmpdir(), 'lodestone-owners-'));
// The application goes on as a user who may not write here: it makes the folder first.
chmodSync(folder, 0o711);

interface Answer {
  status: number;
  headers: Headers;
  text: string;
}

type Headed = Record<string, string>;

async function send(path: string, method = 'GET', headers: Headed = {}, body?: BodyInit): Promise<Answer> {
  const abort = new AbortController();
  const answer = await fetch(`${application.url}${path}`, {
    method,
    headers: { accept: 'application/json', ...headers },
    redirect: 'manual',
    signal: abort.signal,
    ...(body === undefined ? {} : { body })
  });
  // Event streams do not end by themselves.
  if (answer.headers.get('content-type')?.startsWith('text/event-stream')) {
    abort.abort();
    return { status: answer.status, headers: answer.headers, text: '' };
  }
  return { status: answer.status, headers: answer.headers, text: await answer.text() };
}

const asJson = (path: string, method: string, headers: Headed, content: unknown): Promise<Answer> =>
  send(path, method, { ...headers, 'content-type': 'application/json' }, JSON.stringify(content));

const read = <T>({ status, text }: Answer): T => {
  if (status >= 300) throw new Error(`${status}: ${text}`);
  return JSON.parse(text) as T;
};

/** What a browser shows after it was signed in. */
const cookieOf = ({ status, headers, text }: Answer): Headed => {
  if (status >= 300) throw new Error(`${status}: ${text}`);
  return { cookie: headers.get('set-cookie')!.split(';')[0]! };
};

const joined = async (path: string, name: string): Promise<Headed> =>
  cookieOf(await asJson('/api/join', 'POST', {}, { secret: path.split('#')[1], name, passphrase: PHRASE }));

let [ada, bo]: Headed[] = [{}, {}];
let keeper: Headed;
/** What is Ada's, by the parameters of the routes. */
let hers: Record<string, string>;
const FRAME = readFileSync(new URL('../../core/tests/fits/u16.fits.gz', import.meta.url));
const PICTURE = readFileSync(new URL('../../docs/screenshots/trains.png', import.meta.url));

beforeAll(async () => {
  application = await Application.make();
  application.launch({ LODESTONE_OWNERS: 'several', LODESTONE_BACKUPS: join(folder, 'backups') });
  await application.ready();
  const first = await until('the first invitation', () => /join#[\w-]{43}/.exec(application.log)?.[0]);
  // Whoever joins first looks after the server; Ada and Bo do not.
  keeper = await joined(first, 'Keeper');
  const invite = async (name: string): Promise<Headed> =>
    joined(read<{ path: string }>(await asJson('/api/owners/invitations', 'POST', keeper, {})).path, name);
  [ada, bo] = [await invite('Ada'), await invite('Bo')];

  const put = demoDrawer.parts.map((document) => ({ document, basedOn: null }));
  read(await asJson('/api/drawer/changes', 'POST', ada!, { changeId: randomUUID(), put, remove: [] }));
  const { id } = read<{ id: string }>(
    await asJson('/api/trains', 'POST', ada!, { saveId: randomUUID(), document: { ...heron, name: 'Her train' } })
  );
  const record = randomUUID();
  read(await asJson(`/api/trains/${id}/assembly`, 'PUT', ada!, { revision: 1, record: { id: record, note: 'hers' } }));
  read(await asJson(`/api/trains/${id}/revisions/1/name`, 'PUT', ada!, { name: 'hers' }));
  read(await send(`/api/records/${record}/photos`, 'POST', { ...ada, 'content-type': 'image/png' }, PICTURE));
  read(await send('/api/drawer/parts/R-01/photo', 'PUT', { ...ada, 'content-type': 'image/png' }, PICTURE));
  const scan = read<{ scan: string }>(
    await send('/api/scans', 'POST', { ...ada, 'content-type': 'image/png' }, PICTURE)
  );
  const frame = read<{ id: string }>(await send(`/api/trains/${id}/frames?name=hers`, 'POST', ada, FRAME));
  const link = read<{ id: string }>(await asJson(`/api/trains/${id}/links`, 'POST', ada!, {}));
  const kept = read<{ list: { name: string }[] }>(await send('/api/backups', 'POST', ada));
  const token = read<{ id: string }>(
    await asJson('/api/account/tokens', 'POST', ada!, { name: 'hers', scope: 'write' })
  );
  const account = read<{ owner: string; sessions: { id: string }[] }>(await send('/api/account', 'GET', ada));
  hers = {
    id,
    record,
    position: '1',
    partId: 'R-01',
    scan: scan.scan,
    frame: frame.id,
    link: link.id,
    name: kept.list[0]!.name,
    number: '1',
    token: token.id,
    session: account.sessions[0]!.id,
    owner: account.owner
  };
}, 300_000);
afterAll(async () => {
  await application.dispose();
  rmSync(folder, { recursive: true, force: true });
});

const OPEN = /^\/(sign-in|join|shell|healthz|livez|(train|drawer)\.schema\.json|shared\/|api\/(sign-in|join)(\/|$))/;

const filled = (path: string, by: (name: string) => string): string =>
  path.replace(/\[([^\]]*)\]/g, (_, name: string) => by(name));
const ofHers = (path: string): string => filled(path, (name) => hers[name] ?? NOWHERE);
/** The same of what is nowhere. */
const ofNothing = (path: string): string =>
  filled(path, (name) =>
    name === 'partId'
      ? 'R-99'
      : name === 'scan'
        ? '0'.repeat(64)
        : name === 'name'
          ? 'lodestone-2020-01-01T00-00-00Z.zip'
          : name === 'position' || name === 'number'
            ? '1'
            : NOWHERE
  );

/** All that is Ada's, as she sees it herself. */
const allOfHers = async (): Promise<string[]> =>
  Promise.all(
    [
      `/api/trains/${hers.id}/document`,
      `/api/trains/${hers.id}/history`,
      `/api/trains/${hers.id}/records`,
      `/api/trains/${hers.id}/frames`,
      `/api/trains/${hers.id}/links`,
      `/api/trains/${hers.id}/assembly`,
      '/api/trains',
      '/api/drawer',
      '/api/backups',
      '/api/room'
    ].map(async (path) => (await send(path, 'GET', ada)).text)
  );

/** A body that its route takes: what is refused for its form would prove nothing. */
const bodyFor = (method: string, path: string): unknown => {
  if (path.endsWith('/revisions')) return { saveId: randomUUID(), basedOn: 1, document: heron };
  if (path.endsWith('/assembly')) return { revision: 1 };
  if (path.endsWith('/name')) return { name: 'mine now' };
  if (path.endsWith('/focuser')) return { to: 100 };
  if (/\/api\/trains\/[^/]+$/.test(path) && method === 'PATCH') return { state: 'deleted' };
  if (path.startsWith('/api/owners/') && method === 'PATCH') return { isClosed: true };
  if (path.endsWith('/tokens')) return { name: 'x', scope: 'read' };
  return {};
};

describe('whoever is not signed in', () => {
  it('is shown no route, by no method: pages lead to where one signs in', async () => {
    const shown: string[] = [];
    for (const path of routeFolders().map(ofHers)) {
      if (OPEN.test(path)) continue;
      for (const method of METHODS) {
        const { status } = await send(path, method);
        if (status !== 401) shown.push(`${method} ${path}: ${status}`);
      }
      const page = await send(path, 'GET', { accept: 'text/html' });
      if (page.status !== 303 || !page.headers.get('location')?.startsWith('/sign-in?to=')) {
        shown.push(`${path} as a page: ${page.status}`);
      }
    }
    expect(shown).toEqual([]);
  });

  it.each([
    ['a cookie of nobody', { cookie: `lodestone=${'x'.repeat(43)}` }],
    ['a cookie that is no secret', { cookie: 'lodestone=; lodestone=../../etc' }],
    ['a token of nobody', { authorization: `Bearer lodestone_${'x'.repeat(43)}` }],
    ['headers that claim an owner', { 'x-lodestone-owner': 'local', 'x-owner': 'local', 'x-forwarded-user': 'Ada' }],
    ['another host’s cookie name', { cookie: '__Host-lodestone=x' }]
  ] as [string, Headed][])('is nobody with %s', async (_, headers) => {
    expect((await send('/api/trains', 'GET', headers)).status).toBe(401);
    expect((await send(`/api/trains/${hers.id}`, 'GET', headers)).status).toBe(401);
  });

  it('may not fix a session beforehand: signing in begins a new one', async () => {
    const fixed = { cookie: `lodestone=${'f'.repeat(43)}` };
    const signedIn = await asJson('/api/sign-in', 'POST', fixed, { name: 'Bo', passphrase: PHRASE });
    const { cookie } = cookieOf(signedIn);
    expect(cookie).not.toContain('ffff');
    expect(signedIn.headers.get('set-cookie')).toMatch(/Path=\/; .*HttpOnly; SameSite=Lax/i);
    expect((await send('/api/trains', 'GET', fixed)).status).toBe(401);
    expect((await send('/api/trains', 'GET', { cookie: cookie! })).status).toBe(200);
  });

  it('learns no name: a wrong passphrase and a name that is none are told alike', async () => {
    const tried = (name: string) => asJson('/api/sign-in', 'POST', {}, { name, passphrase: 'wrong wrong wrong' });
    const [known, unknown] = [await tried('Ada'), await tried('Nobody')];
    expect([known.status, known.text]).toEqual([unknown.status, unknown.text]);
    expect(known.status).toBe(401);
  });

  it('is slowed down over a restart, wherever the request says it comes from', async () => {
    const tried = (at: number) =>
      asJson(
        '/api/sign-in',
        'POST',
        { 'x-forwarded-for': `10.0.0.${at}`, 'x-lodestone-peer': `10.0.1.${at}` },
        { name: 'Cyd', passphrase: `guess number ${at} of many` }
      );
    const statuses: number[] = [];
    for (let at = 0; at < 11; at++) statuses.push((await tried(at)).status);
    expect(statuses).toEqual([...Array.from({ length: 10 }, () => 401), 429]);
    process.kill(application.webServer, 'SIGKILL');
    await until(
      'it serves again',
      async () => (await send('/healthz').catch(() => undefined))?.status === 200 || undefined
    );
    expect((await tried(12)).status).toBe(429);
  });

  it('finds no passkey of anybody, and a challenge holds once', async () => {
    const { challengeId } = read<{ challengeId: string }>(await send('/api/sign-in/passkey', 'POST'));
    const response = { id: 'AAAA', rawId: 'AAAA', type: 'public-key', response: {} };
    for (let at = 0; at < 2; at++) {
      expect((await asJson('/api/sign-in/passkey', 'PUT', {}, { challengeId, response })).status).toBe(401);
    }
  });
});

describe('one owner', () => {
  it('meets what is another’s as what is nowhere, by every route and method, and changes nothing of it', async () => {
    const before = await allOfHers();
    expect(before.join().length).toBeGreaterThan(20_000);
    const differs: string[] = [];
    const own = Object.values(hers).filter((each) => each.length > 3);
    const nobodys = [NOWHERE, 'R-99', '0{64}', 'lodestone-2020-01-01T00-00-00Z.zip'];
    let asked = 0;
    for (const folder of routeFolders()) {
      const [path, nothing] = [ofHers(folder), ofNothing(folder)];
      // Whoever has the link may look, and signing out ends what this test goes by.
      if (path === nothing || OPEN.test(path) || path.includes('sign-out')) continue;
      for (const method of METHODS) {
        const content = method === 'GET' || method === 'HEAD' ? undefined : JSON.stringify(bodyFor(method, path));
        const headers = { ...bo, ...(content === undefined ? {} : { 'content-type': 'application/json' }) };
        const [there, nowhere] = [
          await send(path, method, headers, content),
          await send(nothing, method, headers, content)
        ];
        asked++;
        const plain = ({ status, headers: answered, text }: Answer): string => {
          const isPage = answered.get('content-type')?.startsWith('text/html');
          // Of a page, what people read of it: the rest has a name of its own in every answer.
          const read = isPage ? text.replaceAll(/<(script|style)[\s\S]*?<\/\1>|<[^>]*>/g, ' ') : text;
          return `${status} ${read.replaceAll(new RegExp([...own, ...nobodys].join('|'), 'g'), '…')}`;
        };
        if (plain(there) !== plain(nowhere) || /Her train|"hers"/.test(there.text)) {
          differs.push(`${method} ${path}: ${plain(there).slice(0, 200)} / ${plain(nowhere).slice(0, 200)}`);
        }
      }
    }
    expect(asked).toBeGreaterThan(100);
    expect(differs).toEqual([]);
    expect(await allOfHers()).toEqual(before);
  });

  it('sees an empty place of their own', async () => {
    for (const [path, empty] of [
      ['/api/trains', '[]'],
      ['/api/search?words=her', undefined],
      ['/api/drawer', undefined],
      ['/', undefined],
      ['/season', undefined],
      ['/settings', undefined]
    ] as const) {
      const { text } = await send(path, 'GET', path.startsWith('/api') ? bo : { ...bo, accept: 'text/html' });
      expect(text, path).not.toMatch(/Her train|hers/);
      if (empty !== undefined) expect(text).toContain(empty);
    }
  });

  it('does not look after the server', async () => {
    for (const [method, path, content] of [
      ['POST', '/api/owners/invitations', { keeps: true }],
      ['PATCH', `/api/owners/${hers.owner}`, { isClosed: true }],
      ['DELETE', `/api/owners/invitations/${NOWHERE}`, {}],
      ['GET', '/metrics', undefined]
    ] as const) {
      const { status } =
        content === undefined ? await send(path, method, bo) : await asJson(path, method, bo!, content);
      expect(status, path).toBe(403);
    }
    expect(read<object>(await send('/api/account', 'GET', bo))).not.toHaveProperty('owners');
  });
});

describe('a train that is shared', () => {
  let cyd: Headed;
  /** What a stream of events has told so far. */
  const listening = async (headers: Headed): Promise<{ heard: () => string; end: () => void }> => {
    const abort = new AbortController();
    const stream = await fetch(`${application.url}/api/events`, { headers, signal: abort.signal });
    let heard = '';
    void (async () => {
      for await (const piece of stream.body!) heard += Buffer.from(piece as Uint8Array).toString();
    })().catch(() => undefined);
    await until('how everything stands', () => heard.includes('event: heads') || undefined);
    return { heard: () => heard, end: () => abort.abort() };
  };
  const save = (headers: Headed, basedOn: number): Promise<Answer> =>
    asJson(`/api/trains/${hers.id}/revisions`, 'POST', headers, {
      saveId: randomUUID(),
      basedOn,
      document: { ...heron, name: `Her train, saved on ${basedOn}` }
    });
  const share = (may: string): Promise<Answer> =>
    asJson(`/api/trains/${hers.id}/guests`, 'PUT', ada!, { name: 'cyd', may });
  const page = (path: string): Promise<Answer> => send(path, 'GET', { ...cyd, accept: 'text/html' });

  beforeAll(async () => {
    const name = 'Cyd';
    const { path } = read<{ path: string }>(await asJson('/api/owners/invitations', 'POST', keeper, {}));
    cyd = await joined(path, name);
  });

  it('to look at is one page; stages lead there, and no route changes anything', async () => {
    const events = await listening(cyd);
    expect((await share('read')).status).toBe(200);
    await until('it is heard of', () => events.heard().includes(hers.id!) || undefined);
    const { status, text, headers } = await page(`/with/${hers.id}`);
    expect([status, text.includes('Her train')]).toEqual([200, true]);
    expect(headers.get('content-security-policy')).toContain("default-src 'none'");
    expect((await page(`/trains/${hers.id}/build`)).headers.get('location')).toBe(`/with/${hers.id}`);
    expect((await page('/')).text).toContain('Her train');
    const wrong: string[] = [];
    for (const folder of routeFolders().filter((each) => each.startsWith('/api/trains/[id]'))) {
      for (const method of ['POST', 'PUT', 'PATCH', 'DELETE'] as const) {
        const path = ofHers(folder);
        const answer = await asJson(path, method, cyd, bodyFor(method, path));
        if (![403, 404, 405].includes(answer.status) && !folder.includes('guests/')) {
          wrong.push(`${method} ${path}: ${answer.status}`);
        }
      }
    }
    expect(wrong).toEqual([]);
    const before = events.heard().length;
    expect((await save(ada!, 1)).status).toBe(201);
    await until('her save is heard', () => events.heard().slice(before).includes('"number":2') || undefined);
    events.end();
  });

  it('to edit is saved by both and heard by both; all beside it stays its owner’s', async () => {
    expect((await share('edit')).status).toBe(200);
    expect((await page(`/trains/${hers.id}/build`)).text).toContain('Ada’s');
    const events = await listening(ada!);
    expect((await save(cyd, 2)).status).toBe(201);
    await until('the guest’s save is heard', () => events.heard().includes('"number":3') || undefined);
    events.end();
    expect((await send(`/api/records/${hers.record}/photos/1`, 'GET', cyd)).status).toBe(200);
    for (const [method, path, content] of [
      ['PATCH', `/api/trains/${hers.id}`, { state: 'deleted' }],
      ['PUT', `/api/trains/${hers.id}/assembly`, { revision: 1 }],
      ['POST', `/api/trains/${hers.id}/links`, {}],
      ['PUT', `/api/trains/${hers.id}/guests`, { name: 'Bo', may: 'edit' }],
      ['DELETE', `/api/trains/${hers.id}`, {}]
    ] as const) {
      const answer = await asJson(path, method, cyd, content);
      expect([path, answer.status]).toEqual([path, 403]);
      expect(answer.text).toContain('Ada’s');
    }
    // The drawer one sees is one's own.
    expect((await send('/api/drawer', 'GET', cyd)).text).not.toContain('R-01');
    expect((await send(`/api/scans/${hers.scan}`, 'GET', cyd)).status).toBe(404);
  });

  it('and is not any more is as what is nowhere', async () => {
    const account = read<{ owner: string }>(await send('/api/account', 'GET', cyd));
    expect((await send(`/api/trains/${hers.id}/guests/${account.owner}`, 'DELETE', ada)).status).toBe(200);
    for (const path of [`/with/${hers.id}`, `/trains/${hers.id}/build`, `/api/trains/${hers.id}`]) {
      expect([path, (await page(path)).status]).toEqual([path, 404]);
    }
    expect((await save(cyd, 3)).status).toBe(404);
    expect((await page('/')).text).not.toContain('Her train');
  });
});

describe('a token', () => {
  it('may what it says, by every route and method', async () => {
    const made = async (scope: string): Promise<Headed> => {
      const { token } = read<{ token: string }>(
        await asJson('/api/account/tokens', 'POST', bo!, { name: scope, scope })
      );
      return { authorization: `Bearer ${token}` };
    };
    const tokens = { read: await made('read'), frames: await made('frames'), write: await made('write') };
    const wrong: string[] = [];
    for (const folder of routeFolders()) {
      const path = ofNothing(folder);
      if (OPEN.test(path)) continue;
      const ofPeople = /^\/(api\/)?(account|owners|sign-out)|\/guests(\/|$)/.test(path);
      for (const method of METHODS) {
        for (const [scope, headers] of Object.entries(tokens)) {
          const reads = method === 'GET' || method === 'HEAD';
          const may =
            !ofPeople &&
            (reads || scope === 'write' || (scope === 'frames' && method === 'POST' && /\/frames(\/|$)/.test(path)));
          const { status } = await send(path, method, headers, reads ? undefined : '');
          const isRefused = status === 403 && !(path === '/metrics' && reads);
          if (may === isRefused || status === 401 || status >= 500)
            wrong.push(`${scope}: ${method} ${path}: ${status}`);
        }
      }
    }
    expect(wrong).toEqual([]);
  });
});

describe('a session that ends', () => {
  it('ends its stream of events, and everything it could', async () => {
    const mine = cookieOf(await asJson('/api/sign-in', 'POST', {}, { name: 'Bo', passphrase: PHRASE }));
    const stream = await fetch(`${application.url}/api/events`, { headers: mine });
    const ended = stream.text();
    const account = read<{ sessions: { id: string; isThis: boolean }[] }>(await send('/api/account', 'GET', mine));
    const { id } = account.sessions.find(({ isThis }) => isThis)!;
    expect((await send(`/api/account/sessions/${id}`, 'DELETE', bo)).status).toBe(200);
    expect((await send('/api/trains', 'GET', mine)).status).toBe(401);
    expect(await ended).toContain('event: heads');
  });
});
