import { MOST_LINKS, type ShareLink } from '$lib/api/share.ts';
import { asOwner, readAs } from './database.ts';
import { hashOf, isSecret, makeSecret } from './owners/secrets.ts';

interface Row {
  id: string;
  made_at: Date;
  expires_at: Date | null;
}

const toLink = ({ id, made_at, expires_at }: Row): ShareLink => ({
  id,
  madeAt: made_at.toISOString(),
  ...(expires_at ? { expiresAt: expires_at.toISOString() } : {})
});

/** Links of a train that still hold, the newest first. */
export const listLinks = (owner: string, trainId: string): Promise<ShareLink[]> =>
  readAs(owner, async (on) => {
    const { rows } = await on.query<Row>(
      `select id, made_at, expires_at from share_link
        where owner = $1 and train_id = $2 and (expires_at is null or expires_at > now())
        order by made_at desc, id`,
      [owner, trainId]
    );
    return rows.map(toLink);
  });

/**
 * Makes a link to a train. Its secret is given out this once; only its hash is kept.
 *
 * @param days it holds; until it is taken back where undefined
 */
export function makeLink(
  owner: string,
  trainId: string,
  days: number | undefined
): Promise<{ kind: 'made'; link: ShareLink; secret: string } | { kind: 'missing' } | { kind: 'too many' }> {
  const { secret, hash } = makeSecret();
  return asOwner(owner, async (on) => {
    // One at a time for a train, so that the limit holds.
    const { rows: trains } = await on.query(
      `select from train where owner = $1 and id = $2 and state <> 'deleted' for update`,
      [owner, trainId]
    );
    if (trains.length === 0) return { kind: 'missing' };
    await on.query('delete from share_link where owner = $1 and train_id = $2 and expires_at <= now()', [
      owner,
      trainId
    ]);
    const { rows } = await on.query<Row>(
      `insert into share_link (owner, train_id, token_hash, expires_at)
       select $1, $2, $3, now() + make_interval(days => $4)
        where (select count(*) from share_link where owner = $1 and train_id = $2) < $5
       returning id, made_at, expires_at`,
      [owner, trainId, hash, days ?? null, MOST_LINKS]
    );
    return rows[0] ? { kind: 'made', link: toLink(rows[0]), secret } : { kind: 'too many' };
  });
}

/** Takes a link back: it leads nowhere from now on. */
export const takeBackLink = (owner: string, id: string): Promise<void> =>
  asOwner(
    owner,
    async (on) => void (await on.query('delete from share_link where owner = $1 and id = $2', [owner, id]))
  );

/** The train a link leads to; undefined where it is none, holds no longer, or the train is gone. */
export async function trainOfLink(secret: string): Promise<{ owner: string; trainId: string } | undefined> {
  if (!isSecret(secret)) return undefined;
  const hash = hashOf(secret);
  // Whose it is only the link says: the database shows its row to whoever has it.
  const found = await readAs('', async (on) => {
    const shown = on.query(`select set_config('lodestone.link', $1, true)`, [hash.toString('hex')]);
    const { rows } = await on.query<{ owner: string; train_id: string }>(
      'select owner, train_id from share_link where token_hash = $1 and (expires_at is null or expires_at > now())',
      [hash]
    );
    await shown;
    return rows[0];
  });
  if (!found) return undefined;
  const { owner, train_id: trainId } = found;
  const { rowCount } = await readAs(owner, (on) =>
    on.query(`select from train where owner = $1 and id = $2 and state <> 'deleted'`, [owner, trainId])
  );
  return rowCount === 0 ? undefined : { owner, trainId };
}
