// What it costs that there are many owners: the main routes with 1, 100 and 1000 of them, by one server and by two, beside
// a bare Node + pg server on the same database in the same run; what the guard on each row costs; what signing in costs.
import { spawn } from 'node:child_process';
import { createHash, randomUUID } from 'node:crypto';
import { chmodSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ADMIN, APP, OWNER, freePort } from '../setup/cluster.mjs';
import { invite } from '../setup/inviting.mjs';
import { ROOT } from '../setup/paths.mjs';
import { databaseOf, figures, measured, startBare } from './keeping.mjs';

const COUNTS = [1, 100, 1000];
const TRAINS = 20;
const PARTS = 300;
const PHRASE = 'violet harbour tractor seventeen';

/** What an owner's browser shows: known here, so that nobody has to be signed in a thousand times. */
const secretOf = (owner) => createHash('sha256').update(`bench ${owner}`).digest('base64url');
const cookieOf = (owner) => ({ cookie: `lodestone=${secretOf(owner)}` });

/** A server of several owners, on a database of its own or on that of another. */
async function serve(folder, env) {
  const port = await freePort();
  const child = spawn(process.execPath, [join(ROOT, 'scripts/start.mjs')], {
    cwd: ROOT,
    env: {
      ...process.env,
      LODESTONE_DATA: folder,
      LODESTONE_OWNERS: 'several',
      LODESTONE_DEMO: 'off',
      PORT: String(port),
      ...env
    },
    stdio: 'ignore'
  });
  const url = `http://127.0.0.1:${port}`;
  while (!(await fetch(`${url}/healthz`).catch(() => undefined))?.ok) {
    if (child.exitCode !== null) throw new Error('The server ended before it answered.');
    await new Promise((wait) => setTimeout(wait, 50));
  }
  return { url, stop: () => new Promise((ended) => (child.once('exit', ended), child.kill('SIGTERM'))) };
}

/** Gives owners what the first has in a table of the drawer; where a part lies is left out. */
async function copyRows(admin, table, owners) {
  const { rows } = await admin.query(
    `select column_name as name from information_schema.columns
      where table_schema = 'public' and table_name = $1 and column_name not in ('owner', 'location_id')`,
    [table]
  );
  const columns = rows.map(({ name }) => name).join(', ');
  await admin.query(
    `insert into ${table} (owner, ${columns})
     select fresh, ${columns} from ${table}, unnest($1::text[]) fresh where owner = 'local'`,
    [owners]
  );
}

/** Owners up to a number, each with as much as the first; what is there stays. */
async function makeOwners(admin, upTo, document) {
  const { rows } = await admin.query(`select count(*)::int as count from known_owner where id like 'bench-%'`);
  const fresh = Array.from({ length: upTo - rows[0].count }, (_, at) => `bench-${rows[0].count + at}`);
  if (fresh.length === 0) return;
  await admin.query('insert into known_owner (id) select unnest($1::text[])', [fresh]);
  await admin.query('insert into account (owner, name, name_key) select id, id, id from unnest($1::text[]) id', [
    fresh
  ]);
  await admin.query(
    `insert into session (owner, token_hash, expires_at) select *, now() + interval '1 day' from unnest($1::text[], $2::bytea[])`,
    [fresh, fresh.map((owner) => createHash('sha256').update(secretOf(owner)).digest())]
  );
  for (let at = 0; at < fresh.length; at += 50) {
    const some = fresh.slice(at, at + 50);
    await admin.query(
      `with made as (
         insert into train (owner) select owner from unnest($1::text[]) owner, generate_series(1, $2) returning owner, id)
       insert into train_revision (owner, train_id, number, save_id, document)
       select owner, id, 1, gen_random_uuid(), $3 from made`,
      [some, TRAINS, JSON.stringify(document)]
    );
    for (const table of ['part', 'part_copy']) await copyRows(admin, table, some);
  }
  await admin.query('analyze');
}

/** Rings of as many lengths as there are parts. */
function ringsOf(drawer) {
  const ring = drawer.parts.find(({ kind }) => kind === 'spacer');
  return Array.from({ length: PARTS }, (_, at) => ({
    ...ring,
    partId: `R-${at}`,
    name: `Ring ${at}`,
    lengthMm: 1 + at / 10
  }));
}

/** @param say told each line */
export async function measureOwners(say) {
  const folder = mkdtempSync(join(tmpdir(), 'lodestone-bench-owners-'));
  const second = mkdtempSync(join(tmpdir(), 'lodestone-bench-second-'));
  for (const each of [folder, second]) chmodSync(each, 0o711);
  const { default: pg } = await import('pg');
  const one = await serve(folder, { DATABASE_URL: '' });
  const url = databaseOf(folder);
  const other = await serve(second, { DATABASE_URL: url(APP), LODESTONE_MIGRATE_URL: url(OWNER) });
  const admin = new pg.Client({ connectionString: url(ADMIN) });
  await admin.connect();
  try {
    const document = JSON.parse(readFileSync(join(ROOT, 'demo/heron.json'), 'utf8'));
    const parts = ringsOf(JSON.parse(readFileSync(join(ROOT, 'demo/drawer.json'), 'utf8')));
    const first = await measureSignIn(one.url, await invite(url(OWNER)), say);
    const put = parts.map((part) => ({ document: part, basedOn: null }));
    await post(one.url, '/api/drawer/changes', { changeId: randomUUID(), put, remove: [] }, first);
    for (const count of COUNTS) {
      await makeOwners(admin, count, document);
      const { rows: trains } = await admin.query(`select owner, id from train where owner like 'bench-%'`);
      const bare = await startBare(url(ADMIN));
      say(`\n${count} ${count === 1 ? 'owner' : 'owners'} of ${TRAINS} trains and ${PARTS} parts each:`);
      for (const [name, route] of Object.entries(routesOver(trains, document))) {
        const [ours, reference] = await measured(
          { url: one.url, makeRequest: route.ours },
          ...(route.bare ? [{ url: bare.url, makeRequest: route.bare }] : [])
        );
        const ratio = reference ? `   ${(ours.perSecond / reference.perSecond).toFixed(2)} × bare` : '';
        say(`  ${name.padEnd(30)} ${figures(ours)}${ratio}`);
      }
      bare.stop();
      const { rows } = await admin.query('select pg_database_size(current_database()) as bytes');
      say(`  the database takes ${(Number(rows[0].bytes) / 1e6).toFixed(0)} MB`);
    }
    await measureTwo([one.url, other.url], admin, document, say);
    await measureGuard(one.url, admin, document, say);
  } finally {
    await admin.end();
    await other.stop();
    await one.stop();
    for (const each of [folder, second]) rmSync(each, { recursive: true, force: true });
  }
}

/** Numbers of the newest revisions, as far as they were made here. */
const heads = new Map();

const any = (from) => from[Math.floor(Math.random() * from.length)];

/** How the main routes are asked, each time for another owner. */
function routesOver(trains, document) {
  const asked = (path) => () => {
    const { owner, id } = any(trains);
    return { path: path(id), headers: cookieOf(owner) };
  };
  // Each connection saves trains of its own: none meets another.
  const save = (worker) => {
    const mine = trains.filter((_, at) => at % 4 === worker);
    const { owner, id } = any(mine);
    const basedOn = heads.get(id) ?? 1;
    return {
      path: `/api/trains/${id}/revisions`,
      method: 'POST',
      headers: cookieOf(owner),
      body: JSON.stringify({ saveId: randomUUID(), basedOn, document: { ...document, name: `Saved ${basedOn}` } }),
      settle: () => heads.set(id, basedOn + 1)
    };
  };
  return {
    'GET list of trains': { ours: asked(() => '/api/trains') },
    'GET train': { ours: asked((id) => `/api/trains/${id}`) },
    'GET document': {
      ours: asked((id) => `/api/trains/${id}/document`),
      bare: () => {
        const { owner, id } = any(trains);
        return { path: `/document/${id}?owner=${owner}` };
      }
    },
    'GET drawer': { ours: asked(() => '/api/drawer') },
    'POST revision': { ours: save }
  };
}

async function post(url, path, content, headers = {}) {
  const answer = await fetch(`${url}${path}`, {
    method: 'POST',
    headers: { ...headers, 'content-type': 'application/json' },
    body: JSON.stringify(content)
  });
  if (!answer.ok) throw new Error(`${path}: ${answer.status} ${await answer.text()}`);
  return answer;
}

/** @returns what the browser of whoever joined shows */
async function measureSignIn(url, link, say) {
  const joined = await post(url, '/api/join', { secret: link.split('#')[1], name: 'Bench', passphrase: PHRASE });
  const took = [];
  for (let at = 0; at < 20; at++) {
    const began = performance.now();
    await post(url, '/api/sign-in', { name: 'Bench', passphrase: PHRASE });
    took.push(performance.now() - began);
  }
  took.sort((a, b) => a - b);
  say(`\nSigning in (Argon2id, 19 MiB, 2 passes): median ${took[10].toFixed(0)} ms, longest ${took[19].toFixed(0)} ms`);
  return { cookie: joined.headers.get('set-cookie').split(';')[0] };
}

/** Both servers at once, beside one alone, a second each in turn. */
async function measureTwo([one, other], admin, document, say) {
  const { rows: trains } = await admin.query(`select owner, id from train where owner like 'bench-%'`);
  const { 'GET document': route } = routesOver(trains, document);
  let turn = 0;
  const [alone, both] = await measured(
    { url: one, makeRequest: route.ours },
    { url: one, makeRequest: (worker) => ({ ...route.ours(worker), at: turn++ % 2 === 0 ? one : other }) }
  );
  say(
    `\nGET document, one server and two on this machine (both share its cores with the database and with the asker):`
  );
  say(`  ${'one'.padEnd(30)} ${figures(alone)}`);
  say(`  ${'two'.padEnd(30)} ${figures(both)}`);
}

/** The same with and without the guard on each row, a second each in turn. */
async function measureGuard(url, admin, document, say) {
  const { rows: trains } = await admin.query(`select owner, id from train where owner like 'bench-%'`);
  const { rows: tables } = await admin.query(`select relname as name from pg_class where relrowsecurity`);
  const guard = async (isOn) => {
    for (const { name } of tables) {
      await admin.query(`alter table ${name} ${isOn ? 'enable' : 'disable'} row level security`);
    }
  };
  say('\nThe guard on each row (row-level security), with 1000 owners:');
  for (const [name, { ours }] of Object.entries(routesOver(trains, document))) {
    const side = { url, makeRequest: ours };
    const [on, off] = await measured({ ...side, before: () => guard(true) }, { ...side, before: () => guard(false) });
    await guard(true);
    const cost = 100 * (off.perSecond / on.perSecond - 1);
    say(`  ${name.padEnd(30)} ${figures(on)}   without: ${figures(off)}   costs ${cost.toFixed(0)} %, aim 15`);
  }
}
