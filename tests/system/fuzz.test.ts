// Every route, asked with what its own schema nearly allows: 4xx with words or success, never 500, never slow.
import { randomUUID } from 'node:crypto';
import { readFileSync, readdirSync } from 'node:fs';
import { afterAll, beforeAll, expect, it } from 'vitest';
import drawerSchema from '../../core/src/drawer/drawer.schema.json';
import trainSchema from '../../core/src/train/train.schema.json';
import heron from '../../demo/heron.json';
import demoDrawer from '../../demo/drawer.json';
import requests from '../../src/lib/api/requests.schema.json';
import { Application, seeded } from './application.ts';

const REQUESTS = Number(process.env.LODESTONE_FUZZ ?? 3000);
const SEED = Number(process.env.LODESTONE_SEED ?? 20261126);
/** What hangs takes for ever; a machine with other work to do may be several times slower than a quiet one. */
const SLOW_MS = 60_000;
const AT_ONCE = 4;

let application: Application;
beforeAll(async () => {
  application = await Application.make();
  application.launch({ LODESTONE_DEMO: 'on' });
  await application.ready();
  // The process that prints takes a moment to start; that is not what is asked here.
  const first = await fetch(`${application.url}/api/drawer/labels`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ partIds: ['R-01'] })
  });
  expect(first.status).toBe(200);
}, 300_000);
afterAll(() => application.dispose());

type Schema = {
  $ref?: string;
  type?: string | string[];
  enum?: unknown[];
  const?: unknown;
  oneOf?: Schema[];
  allOf?: Schema[];
  pattern?: string;
  minLength?: number;
  maxLength?: number;
  minimum?: number;
  exclusiveMinimum?: number;
  maximum?: number;
  items?: Schema;
  prefixItems?: Schema[];
  minItems?: number;
  maxItems?: number;
  required?: string[];
  properties?: Record<string, Schema>;
};
type Definitions = Record<string, Schema>;

const random = seeded(SEED);
const chance = (share: number): boolean => random() < share;
const pick = <T>(from: readonly T[]): T => from[Math.floor(random() * from.length)]!;

/** What breaks programs. */
const NASTY: readonly unknown[] = [
  null,
  true,
  0,
  -1,
  -0,
  1e308,
  -1e308,
  5e-324,
  2 ** 53,
  2 ** 31,
  0.1,
  '',
  ' ',
  '\u0000',
  '\ud800',
  '𐀀'.repeat(79),
  'M99999999x1',
  'M48x0.75',
  '2026-02-30',
  '0000-01-01',
  "'; drop table train; --",
  '<script>alert(1)</script>',
  '\r\n0\nEOF',
  '../../../etc/passwd',
  '%00',
  'x'.repeat(5000),
  [],
  {},
  [[[[[[]]]]]],
  Array.from({ length: 3000 }, () => 0),
  { __proto__: { polluted: true } },
  { constructor: { prototype: {} } }
];

/** Its own copy each time: what is made is bent further. */
const nasty = (): unknown => structuredClone(pick(NASTY));

/** A value a schema allows, but for a nasty one now and then. */
function generate(schema: Schema, definitions: Definitions, depth = 0): unknown {
  if (chance(0.02)) return nasty();
  if (schema.$ref) return generate(definitions[schema.$ref.split('/').at(-1)!] ?? {}, definitions, depth);
  if (schema.const !== undefined) return schema.const;
  if (schema.enum) return pick(schema.enum);
  if (schema.oneOf) return generate(pick(schema.oneOf), definitions, depth);
  const type = Array.isArray(schema.type)
    ? pick(schema.type)
    : (schema.type ?? (schema.properties ? 'object' : 'null'));
  switch (type) {
    case 'object':
      return Object.fromEntries([
        ...(schema.allOf ?? []).flatMap((facet) => Object.entries(generate(facet, definitions, depth) ?? {})),
        ...Object.entries(schema.properties ?? {})
          .filter(([key]) => schema.required?.includes(key) || chance(depth > 3 ? 0.1 : 0.35))
          .map(([key, child]) => [key, generate(child, definitions, depth + 1)] as const)
      ]);
    case 'array': {
      if (schema.prefixItems) return schema.prefixItems.map((item) => generate(item, definitions, depth + 1));
      const length = Math.min(schema.maxItems ?? 3, (schema.minItems ?? 0) + Math.floor(random() * 4));
      return Array.from({ length }, () => generate(schema.items ?? {}, definitions, depth + 1));
    }
    case 'number':
    case 'integer': {
      const [least, most] = [schema.minimum ?? schema.exclusiveMinimum ?? -100, schema.maximum ?? 1000];
      const number = chance(0.2) ? pick([least, most]) : least + random() * Math.min(most - least, 200);
      return type === 'integer' ? Math.floor(number) : number;
    }
    case 'string':
      if (schema.pattern?.startsWith('^[0-9a-f]{8}-')) return randomUUID();
      if (schema.pattern?.includes('\\d{4}-')) return pick(['2026-11-26', '2024-02-29', '2023-02-29', '2026-13-01']);
      return pick(['R-01', 'M48x0.75', 'M42x1', 'T2', 'dslr-44.0', '2in', 'Ring', 'Tin 1 / Bag 2', 'Äß漢', 'a/b?c#d']);
    case 'boolean':
      return chance(0.5);
    default:
      return null;
  }
}

const trainDefinitions = trainSchema.$defs as unknown as Definitions;
const requestDefinitions = requests.$defs as unknown as Definitions;
const drawerDefinitions = drawerSchema.$defs as unknown as Definitions;

/** The demo with something generated, or nasty, in it: most of it is right, so that it gets far. */
function bent(document: unknown): unknown {
  const copy = structuredClone(document) as Record<string, unknown>;
  for (let count = Math.floor(random() * 4); count > 0; count--) {
    let node: Record<string, unknown> = copy;
    for (let depth = 0; depth < 4; depth++) {
      const inner = Object.values(node).filter((child) => typeof child === 'object' && child !== null);
      if (inner.length === 0 || chance(0.3)) break;
      node = pick(inner) as Record<string, unknown>;
    }
    const keys = Object.keys(node);
    if (keys.length === 0) continue;
    if (chance(0.2)) Reflect.deleteProperty(node, pick(keys));
    else node[pick(keys)] = nasty();
  }
  return copy;
}

const anyTrain = (): unknown =>
  chance(0.6) ? bent(heron) : generate(trainSchema as unknown as Schema, trainDefinitions);

const anyPart = (): unknown => {
  if (chance(0.6)) return bent(pick(demoDrawer.parts));
  const element = generate(
    pick(Object.values(trainDefinitions).filter(({ properties }) => properties?.kind)),
    trainDefinitions
  );
  const keys = generate(drawerDefinitions.PartKeys!, { ...trainDefinitions, ...drawerDefinitions });
  return { ...(element as object), ...(keys as object), ...(chance(0.9) ? { id: undefined } : {}) };
};

/** A body from its schema, with documents where they belong. */
function body(definition: string): unknown {
  const made = generate(requestDefinitions[definition]!, requestDefinitions);
  if (typeof made !== 'object' || made === null) return made;
  if ('document' in made) Object.assign(made, { document: anyTrain() });
  if ('put' in made) {
    const put = Array.from({ length: Math.floor(random() * 3) }, () => ({
      document: anyPart(),
      basedOn: chance(0.7) ? null : Math.floor(random() * 3)
    }));
    Object.assign(made, { put });
  }
  if ('sky' in made) {
    const ports = {
      sky: generate(trainDefinitions.Port!, trainDefinitions),
      camera: generate(trainDefinitions.Port!, trainDefinitions)
    };
    Object.assign(made, ports);
  }
  return made;
}

interface Asked {
  method: string;
  path: string;
  body?: BodyInit;
  headers?: Record<string, string>;
}

const GOOD_FRAME = readFileSync(new URL('../../core/tests/fits/u16.fits.gz', import.meta.url));

const trainIds: string[] = [];
const json = (method: string, path: string, content: unknown): Asked => ({
  method,
  path,
  body: JSON.stringify(content),
  headers: { 'content-type': 'application/json' }
});
const anyId = (): string =>
  trainIds.length > 0 && chance(0.8) ? pick(trainIds) : pick([randomUUID(), 'x', '%00', '%2e%2e%2f']);
const anyPartId = (): string =>
  encodeURIComponent(pick(['R-01', 'R-07', 'nobody', '\u0000', 'a/b', '𐀀', 'x'.repeat(200)]));

/** How each route is asked; the test fails when one is missing here. */
const ROUTES: Readonly<Record<string, () => Asked>> = {
  'api/backup': () =>
    chance(0.3)
      ? { method: 'HEAD', path: '/api/backup' }
      : {
          method: 'POST',
          path: `/api/backup?try=${pick(['yes', 'no', ''])}`,
          body: pick(['', 'no archive', 'PK\u0003\u0004', 'PK\u0005\u0006'.padEnd(22, '\0')])
        },
  'api/backups': () =>
    chance(0.5) ? { method: 'GET', path: '/api/backups' } : json('PUT', '/api/backups', body('SetBackups')),
  'api/backups/[name]': () => ({
    method: pick(['GET', 'POST', 'DELETE']),
    path: `/api/backups/${pick(['a.zip', '..%2Fa.zip', '.zip', '%00.zip', 'x'.repeat(300), 'lodestone-2026-01-01T00-00-00Z.zip'])}`
  }),
  'api/caliper': () => ({ method: 'GET', path: `/api/caliper?part=${anyPartId()}` }),
  'api/comparison': () => json('POST', '/api/comparison', body('PrintComparison')),
  'api/room': () => (chance(0.5) ? { method: 'GET', path: '/api/room' } : json('PUT', '/api/room', body('SetRoom'))),
  'api/search': () => ({
    method: 'GET',
    path: `/api/search?words=${pick(['', 'a', 'ring 5', '%25_%5C', '%00', 'x'.repeat(200), '%F0%9F%94%AD', "'%20or%201"])}`
  }),
  'api/bench-sheet': () => json('POST', '/api/bench-sheet', body('PrintSheet')),
  'api/scans': () => ({
    method: 'POST',
    path: '/api/scans',
    body: pick(['', 'no picture', '%PDF', 'MZ\u0090 a program', '\u0089PNG'])
  }),
  'api/scans/[scan]': () => ({
    method: 'GET',
    path: `/api/scans/${pick(['0'.repeat(64), 'f'.repeat(64), 'F'.repeat(64), '1', '%00', '../room'])}`
  }),
  'api/sheet': () => json('POST', '/api/sheet', body('PrintSheet')),
  'api/records/[record]/photos': () => ({
    method: 'POST',
    path: `/api/records/${anyId()}/photos`,
    body: pick(['', 'no picture', 'MZ\u0090 a program', '\u0089PNG'])
  }),
  'api/records/[record]/photos/[position]': () => ({
    method: 'GET',
    path: `/api/records/${anyId()}/photos/${pick(['1', '0', '99', '1e9', '%00'])}`
  }),
  'api/records/[record]/print': () => ({ method: 'GET', path: `/api/records/${anyId()}/print` }),
  'api/trains/[id]/focuser': () =>
    chance(0.3)
      ? { method: 'GET', path: `/api/trains/${anyId()}/focuser` }
      : json('POST', `/api/trains/${anyId()}/focuser`, body('MoveFocuser')),
  'api/trains/[id]/camera': () => {
    const truth = body('SimulateFrame');
    // Small ones, or impossible ones: what is asked here is whether they are answered, not how fast.
    const binning = chance(0.9) ? 8 : pick([0, 9, 1.5, 'x', null]);
    return json('POST', `/api/trains/${anyId()}/camera`, { ...(truth as object), binning });
  },
  'api/trains/[id]/frames': () => {
    const path = `/api/trains/${anyId()}/frames`;
    if (chance(0.4)) return { method: 'GET', path: `${path}?after=${pick(['0', '-1', '1e9', 'x', '99999999999'])}` };
    return {
      method: 'POST',
      path: `${path}?name=${pick(['', 'a', '%00', '%F0%9F%94%AD', 'n'.repeat(300)])}`,
      body: pick([
        '',
        'no frame',
        'SIMPLE  =                    T',
        '\u0089PNG',
        `SIMPLE  =                    T${' '.repeat(6000)}`,
        // Good ones, each another file: what follows the last block does not count.
        ...Array.from({ length: 3 }, () => Buffer.concat([GOOD_FRAME, Buffer.from(randomUUID())]))
      ])
    };
  },
  'api/trains/[id]/frames/[frame]': () => ({
    method: pick(['GET', 'DELETE', 'HEAD']),
    path: `/api/trains/${anyId()}/frames/${pick([randomUUID(), 'x', '%00'])}`
  }),
  'api/trains/[id]/history': () => ({
    method: 'GET',
    path: `/api/trains/${anyId()}/history?before=${pick(['', '1', '0', '-3', 'x', '999999999', '1e9'])}`
  }),
  'api/trains/[id]/history/states': () => ({
    method: 'GET',
    path: `/api/trains/${anyId()}/history/states?of=${pick(['', '1', '1-2', '2-1', '0', 'a-b', '1-2,2-3', '1,'.repeat(200), '999999999'])}`
  }),
  'api/trains/[id]/revisions/[number]/name': () => {
    const path = `/api/trains/${anyId()}/revisions/${pick(['1', '2', '0', 'x', '999999999'])}/name`;
    return chance(0.3) ? { method: 'DELETE', path } : json('PUT', path, body('NameRevision'));
  },
  'api/trains/[id]/links': () => {
    const path = `/api/trains/${anyId()}/links`;
    return chance(0.3) ? { method: 'GET', path } : json('POST', path, body('MakeLink'));
  },
  'api/trains/[id]/page': () => ({ method: 'GET', path: `/api/trains/${anyId()}/page` }),
  'api/links/[link]': () => ({ method: 'DELETE', path: `/api/links/${pick([randomUUID(), 'x', '%00'])}` }),
  'api/trains/[id]/records': () => ({ method: 'GET', path: `/api/trains/${anyId()}/records` }),
  'api/check-sheet': () => json('POST', '/api/check-sheet', body('PrintCheckSheet')),
  'api/drawer': () => ({ method: 'GET', path: '/api/drawer' }),
  'api/drawer/changes': () => json('POST', '/api/drawer/changes', body('ChangeDrawer')),
  'api/drawer/csv': () => ({ method: 'GET', path: '/api/drawer/csv' }),
  'api/drawer/document': () => ({ method: 'GET', path: '/api/drawer/document' }),
  'api/drawer/labels': () => json('POST', '/api/drawer/labels', body('PrintLabels')),
  'api/drawer/parts/[partId]/photo': () => {
    const path = `/api/drawer/parts/${anyPartId()}/photo`;
    const method = pick(['GET', 'PUT', 'DELETE', 'HEAD']);
    return method === 'PUT'
      ? { method, path, body: pick(['', 'no picture', '<svg/>', '\u0089PNG']) }
      : { method, path };
  },
  'api/events': () => ({ method: 'HEAD', path: '/api/events' }),
  'api/ring': () => json('POST', '/api/ring', body('MakeRing')),
  'api/trains': () =>
    chance(0.2) ? { method: 'GET', path: '/api/trains' } : json('POST', '/api/trains', body('CreateTrain')),
  'api/trains/[id]': () =>
    chance(0.4)
      ? { method: pick(['GET', 'GET', 'DELETE']), path: `/api/trains/${anyId()}` }
      : json('PATCH', `/api/trains/${anyId()}`, body('ChangeState')),
  'api/trains/[id]/assembly': () => {
    const path = `/api/trains/${anyId()}/assembly`;
    const method = pick(['GET', 'PUT', 'DELETE']);
    return method === 'PUT'
      ? json('PUT', path, chance(0.7) ? { revision: 1 } : body('AssembleTrain'))
      : { method, path };
  },
  'api/trains/[id]/document': () => ({ method: 'GET', path: `/api/trains/${anyId()}/document` }),
  'api/trains/[id]/revisions': () => json('POST', `/api/trains/${anyId()}/revisions`, body('SaveRevision')),
  'api/trains/[id]/revisions/[number]': () => ({
    method: 'GET',
    path: `/api/trains/${anyId()}/revisions/${pick(['1', '0', '-1', '999999999', '1e9', '%00', '٣'])}`
  }),
  // One person uses this server: nobody signs in. What several do is in owners.test.ts.
  'api/sign-in': () => json('POST', '/api/sign-in', body('SignIn')),
  'api/sign-in/passkey': () =>
    chance(0.3)
      ? { method: 'POST', path: '/api/sign-in/passkey' }
      : json('PUT', '/api/sign-in/passkey', body('SignInByPasskey')),
  'api/sign-out': () => ({ method: 'POST', path: '/api/sign-out' }),
  'api/join': () => json('POST', '/api/join', body('Join')),
  'api/join/invitation': () => json('POST', '/api/join/invitation', body('OpenInvitation')),
  'api/trains/[id]/guests': () => {
    const path = `/api/trains/${anyId()}/guests`;
    return chance(0.3) ? { method: 'GET', path } : json('PUT', path, body('AddGuest'));
  },
  'api/trains/[id]/guests/[guest]': () => ({
    method: 'DELETE',
    path: `/api/trains/${anyId()}/guests/${pick(['local', '%00', 'x'])}`
  }),
  'with/[id]': () => ({ method: 'GET', path: `/with/${anyId()}` }),
  'api/account': () => ({ method: 'GET', path: '/api/account' }),
  'api/account/passphrase': () => json('PUT', '/api/account/passphrase', body('ChangePassphrase')),
  'api/account/passkeys': () => json(pick(['POST', 'PUT']), '/api/account/passkeys', body('AddPasskey')),
  'api/account/passkeys/[passkey]': () => ({ method: 'DELETE', path: `/api/account/passkeys/${pick(['x', '%00'])}` }),
  'api/account/sessions': () => ({ method: 'DELETE', path: '/api/account/sessions' }),
  'api/account/sessions/[session]': () => ({ method: 'DELETE', path: `/api/account/sessions/${anyId()}` }),
  'api/account/tokens': () => json('POST', '/api/account/tokens', body('MakeToken')),
  'api/account/tokens/[token]': () => ({ method: 'DELETE', path: `/api/account/tokens/${anyId()}` }),
  'api/owners/[owner]': () => json('PATCH', `/api/owners/${pick(['local', 'x', '%00'])}`, body('CloseAccount')),
  'api/owners/invitations': () => json('POST', '/api/owners/invitations', body('Invite')),
  'api/owners/invitations/[invitation]': () => ({ method: 'DELETE', path: `/api/owners/invitations/${anyId()}` }),
  'drawer.schema.json': () => ({ method: 'GET', path: '/drawer.schema.json' }),
  'shared/[secret]': () => ({ method: 'GET', path: `/shared/${pick(['x', '%00', 'A'.repeat(43), '-'.repeat(500)])}` }),
  'train.schema.json': () => ({ method: 'GET', path: '/train.schema.json' }),
  metrics: () => ({ method: pick(['GET', 'POST']), path: '/metrics' }),
  healthz: () => ({ method: pick(['GET', 'HEAD', 'OPTIONS', 'POST']), path: '/healthz' })
};

const PAGES = [
  '/',
  '/drawer',
  '/drawer/R-01',
  '/drawer/%E0%A4%A',
  '/measure',
  '/new',
  '/guide',
  '/settings',
  '/?show=deleted',
  '/trains/x/build',
  '/compare?of=train:x&of=record:%00&of=revision:1:2',
  '/changeover?from=x&to=%FF',
  '/pack?of=x',
  '//evil',
  '/no/such'
];

it(`${REQUESTS} requests of every route: none is answered with 500, none takes over ${SLOW_MS / 1000} s`, async () => {
  const routes = readdirSync('src/routes', { recursive: true, encoding: 'utf8' })
    .filter((file) => file.endsWith('+server.ts'))
    .map((file) => file.slice(0, -'/+server.ts'.length));
  expect(Object.keys(ROUTES).sort()).toEqual(routes.sort());

  const makers = Object.values(ROUTES);
  const asked = Array.from({ length: REQUESTS }, (_, index) => {
    if (index % 20 === 19) return (): Asked => ({ method: 'GET', path: pick(PAGES) });
    return makers[index % makers.length]!;
  });
  const statuses = new Map<number, number>();
  const bad: string[] = [];
  let slowest = 0;
  const worker = async (): Promise<void> => {
    for (let make = asked.pop(); make; make = asked.pop()) {
      const { method, path, ...rest } = make();
      const headers = {
        accept: 'application/json',
        ...rest.headers,
        ...(chance(0.02) ? { 'content-type': pick(['text/xml', 'application/json; charset=utf-16']) } : {})
      };
      const content =
        typeof rest.body === 'string' && chance(0.03)
          ? rest.body.slice(0, Math.floor(rest.body.length * random()))
          : rest.body;
      const began = performance.now();
      const response = await fetch(`${application.url}${path}`, {
        method,
        headers,
        redirect: 'manual',
        signal: AbortSignal.timeout(120_000),
        ...(content === undefined ? {} : { body: content })
      });
      const answer = await response.text();
      const took = performance.now() - began;
      slowest = Math.max(slowest, took);
      statuses.set(response.status, (statuses.get(response.status) ?? 0) + 1);
      const told = `${method} ${path} ${String(rest.body ?? '').slice(0, 400)} → ${response.status} in ${took.toFixed(0)} ms: ${answer.slice(0, 200)}`;
      if ((response.status >= 500 && response.status !== 503) || took > SLOW_MS) bad.push(told);
      // A refusal says why, in words.
      if (
        response.status >= 400 &&
        method !== 'HEAD' &&
        path.startsWith('/api/') &&
        !/"message":"[^"]{10,}/.test(answer)
      )
        bad.push(told);
      if (response.status === 201 && path === '/api/trains' && trainIds.length < 40)
        trainIds.push((JSON.parse(answer) as { id: string }).id);
    }
  };
  await Promise.all(Array.from({ length: AT_ONCE }, worker));
  console.log(`answers ${JSON.stringify([...statuses].sort(([a], [b]) => a - b))}; slowest ${slowest.toFixed(0)} ms`);
  expect(bad).toEqual([]);
  // It is no test when everything is turned away at the door.
  expect(statuses.get(200)).toBeGreaterThan(REQUESTS / 10);
  expect(statuses.get(201)).toBeGreaterThan(5);
  expect((await fetch(`${application.url}/healthz`)).ok).toBe(true);
}, 900_000);
