import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import pg from 'pg';
import { migrate } from '../../../scripts/setup/migrate.mjs';
import { MOST_LINKS } from '../api/share.ts';
import { closeDatabase } from './database.ts';
import { listLinks, makeLink, takeBackLink, trainOfLink } from './share.ts';
import { adminUrl, heron, ownerUrl } from './testing.ts';
import { changeState, createTrain } from './trains.ts';
import { PAGE_POLICY, trainPage } from './webPage.ts';

const owner = `share ${randomUUID()}`;
let id: string;

async function trainFor(by: string): Promise<string> {
  const outcome = await createTrain(by, randomUUID(), heron);
  if (outcome.kind !== 'stored') throw new Error(outcome.kind);
  return outcome.train.id;
}
async function linked(days?: number) {
  const outcome = await makeLink(owner, id, days);
  if (outcome.kind !== 'made') throw new Error(outcome.kind);
  return outcome;
}

beforeAll(async () => {
  await migrate(ownerUrl);
  id = await trainFor(owner);
});
afterAll(closeDatabase);

describe('a link to a train', () => {
  it('leads to that train, until it is taken back', async () => {
    const { link, secret } = await linked();
    expect(secret).toMatch(/^[\w-]{43}$/);
    expect(await trainOfLink(secret)).toEqual({ owner, trainId: id });
    expect((await listLinks(owner, id)).map((each) => each.id)).toContain(link.id);
    await takeBackLink('somebody else', link.id);
    expect(await trainOfLink(secret)).toBeDefined();
    await takeBackLink(owner, link.id);
    expect(await trainOfLink(secret)).toBeUndefined();
  });

  it('is kept as a hash only', async () => {
    const { secret } = await linked();
    const client = new pg.Client({ connectionString: adminUrl });
    await client.connect();
    const { rows } = await client.query<{ row: string }>('select share_link::text as row from share_link');
    await client.end();
    expect(rows.length).toBeGreaterThan(0);
    for (const { row } of rows) expect(row).not.toContain(secret);
  });

  it('ends when it expires, and with its train', async () => {
    const { link, secret } = await linked(7);
    expect(Date.parse(link.expiresAt!) - Date.parse(link.madeAt)).toBe(7 * 24 * 3600 * 1000);
    const client = new pg.Client({ connectionString: adminUrl });
    await client.connect();
    await client.query('update share_link set expires_at = now() where id = $1', [link.id]);
    await client.end();
    expect(await trainOfLink(secret)).toBeUndefined();
    const { secret: other } = await linked();
    await changeState(owner, id, 'deleted');
    expect(await trainOfLink(other)).toBeUndefined();
    expect(await makeLink(owner, id, undefined)).toEqual({ kind: 'missing' });
    await changeState(owner, id, 'active');
    expect(await trainOfLink(other)).toBeDefined();
  });

  it('is guessed by nobody, and nothing else leads anywhere', async () => {
    for (const text of ['', 'x', 'A'.repeat(43), `${'A'.repeat(42)}\0`, "' or 1=1 --", 'é'.repeat(43)]) {
      expect(await trainOfLink(text)).toBeUndefined();
    }
    expect(await makeLink('somebody else', id, undefined)).toEqual({ kind: 'missing' });
    expect(await listLinks('somebody else', id)).toEqual([]);
  });

  it('a train has so many at the most, also where they are made together', async () => {
    const full = await trainFor(owner);
    const made = await Promise.all(Array.from({ length: MOST_LINKS + 5 }, () => makeLink(owner, full, undefined)));
    expect(made.filter(({ kind }) => kind === 'made')).toHaveLength(MOST_LINKS);
    expect(await makeLink(owner, full, undefined)).toEqual({ kind: 'too many' });
  });
});

describe('the page of a train', () => {
  it('says what the application says, and holds nothing that runs or is fetched', () => {
    const page = trainPage(heron, 'mm', '2026-12-01T00:00:00Z');
    for (const figure of ['51.30 mm', '58.98 mm', '7.68 mm short']) expect(page).toContain(figure);
    for (const { name } of heron.elements)
      expect(page).toContain(name.replaceAll('&', '&amp;').replaceAll('"', '&quot;'));
    expect(page).not.toMatch(/<script|<link|<img|<iframe|href=|src=|url\(|@import|\son\w+="/i);
    const style = /<style>([\s\S]*?)<\/style>/.exec(page)![1]!;
    expect(PAGE_POLICY).toContain("default-src 'none'");
    expect(style.length).toBeGreaterThan(100);
  });

  it('of hostile names and notes stays words', () => {
    const bad = '</td><script>alert(1)</script><img src=x onerror="alert(1)">\'';
    const page = trainPage(
      {
        ...heron,
        name: bad,
        note: bad,
        host: { ...heron.host, name: bad },
        elements: heron.elements.map((element) => ({ ...element, name: bad, note: bad })) as typeof heron.elements
      },
      'mm',
      '2026-12-01T00:00:00Z'
    );
    expect(page).not.toMatch(/<script|<img|onerror="/i);
    expect(page).toContain('&lt;script&gt;');
  });
});
