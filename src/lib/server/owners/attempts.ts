import { createHash } from 'node:crypto';
import { asOwner } from '../database.ts';

/** Wrong tries of one kind: so many, in so many minutes, and then none until they are over. */
interface Limit {
  kind: string;
  most: number;
  minutes: number;
}

/** Of one name from one address; of one name from anywhere; of one address for any name. */
const LIMITS = {
  both: { kind: 'both', most: 10, minutes: 15 },
  name: { kind: 'name', most: 100, minutes: 60 },
  address: { kind: 'address', most: 50, minutes: 15 }
} as const satisfies Record<string, Limit>;

const keyOf = ({ kind }: Limit, of: string): Buffer => createHash('sha256').update(`${kind} ${of}`).digest();

/** Who tries what: the name that is signed in with, where there is one, and the address it comes from. */
export interface Try {
  name?: string;
  address: string;
}

const limitsOf = ({ name, address }: Try): [Limit, Buffer][] => [
  [LIMITS.address, keyOf(LIMITS.address, address)],
  ...(name === undefined
    ? []
    : ([
        [LIMITS.both, keyOf(LIMITS.both, `${address} ${name}`)],
        [LIMITS.name, keyOf(LIMITS.name, name)]
      ] as [Limit, Buffer][]))
];

/**
 * Counts a try before it is known whether it is right, so that many at once do not slip through together; {@link forgive}
 * takes it back.
 *
 * @returns seconds until another may be made; 0 where this one may
 */
export function countTry(tried: Try): Promise<number> {
  return asOwner('', async (on) => {
    const waits: number[] = [];
    // In one order, so that two never wait for each other.
    for (const [{ most, minutes }, what] of limitsOf(tried)) {
      const { rows } = await on.query<{ count: number; wait: number }>(
        `insert into attempt as a (what, count, since) values ($1, 1, now())
         on conflict (what) do update
           set count = case when a.since < now() - make_interval(mins => $2) then 1 else least(a.count + 1, 1000000) end,
               since = case when a.since < now() - make_interval(mins => $2) then now() else a.since end
         returning count, ceil(extract(epoch from since + make_interval(mins => $2) - now()))::int as wait`,
        [what, minutes]
      );
      const [{ count, wait }] = rows as [{ count: number; wait: number }];
      if (count > most) waits.push(Math.max(1, wait));
    }
    return Math.max(0, ...waits);
  });
}

/** Takes back a try that was right: of its name all of them, of its address this one. */
export async function forgive(tried: Try): Promise<void> {
  await asOwner('', async (on) => {
    for (const [{ kind }, what] of limitsOf(tried)) {
      await (kind === 'both'
        ? on.query('delete from attempt where what = $1', [what])
        : on.query('update attempt set count = greatest(count - 1, 0) where what = $1', [what]));
    }
  });
}

/** Forgets what no limit looks back to. */
export const forgetAttempts = (): Promise<void> =>
  asOwner('', async (on) => {
    await on.query(`delete from attempt where since < now() - interval '1 day'`);
    await on.query(`delete from challenge where made_at < now() - interval '1 hour'`);
  });
