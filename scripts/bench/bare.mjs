// The reference of the bench: Node's own server and node-postgres, the same questions to the same database, and nothing
// else. What the application takes longer is the price of checking, of pages, and of the framework.
import { createServer } from 'node:http';
import pg from 'pg';

const OWNER = 'local';
const pool = new pg.Pool({ connectionString: process.env.DATABASE_URL, max: 8 });

async function readDocument(id, owner = OWNER) {
  const { rows } = await pool.query(
    `select document from train_revision where owner = $1 and train_id = $2 order by number desc limit 1`,
    [owner, id]
  );
  return JSON.stringify(rows[0].document, null, 2);
}

async function saveRevision(id, { saveId, basedOn, document }) {
  const client = await pool.connect();
  try {
    await client.query('begin');
    await client.query('select state from train where owner = $1 and id = $2 for update', [OWNER, id]);
    const { rows } = await client.query(
      'select max(number) as head from train_revision where owner = $1 and train_id = $2',
      [OWNER, id]
    );
    if (rows[0].head !== basedOn) throw new Error('stale');
    const stored = await client.query(
      `insert into train_revision (owner, train_id, number, save_id, document) values ($1, $2, $3, $4, $5)
       returning number, hash, created_at`,
      [OWNER, id, basedOn + 1, saveId, JSON.stringify(document)]
    );
    await client.query('commit');
    return JSON.stringify({ id, revision: stored.rows[0], document });
  } finally {
    client.release();
  }
}

async function readDrawer() {
  const { rows } = await pool.query('select part_id, element, version from part where owner = $1 order by part_id', [
    OWNER
  ]);
  return JSON.stringify({ parts: rows });
}

const bodyOf = async (request) => {
  const chunks = [];
  for await (const chunk of request) chunks.push(chunk);
  return JSON.parse(Buffer.concat(chunks).toString());
};

createServer(async (request, response) => {
  const { pathname, searchParams } = new URL(request.url, 'http://here');
  const [, what, id] = pathname.split('/');
  let answer = '<!doctype html><title>bare</title>';
  if (what === 'document') answer = await readDocument(id, searchParams.get('owner') ?? undefined);
  if (what === 'revision') answer = await saveRevision(id, await bodyOf(request));
  if (what === 'drawer') answer = await readDrawer();
  response.writeHead(200, { 'content-type': 'application/json' });
  response.end(answer);
}).listen(Number(process.env.PORT), '127.0.0.1', () => console.log('ready'));
