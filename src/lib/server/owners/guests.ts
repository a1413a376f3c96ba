import { MOST_GUESTS, type Guest, type GuestMay, type SharedTrain } from '$lib/api/owners.ts';
import { asOwner, readAs } from '../database.ts';
import { ownerNamed } from './accounts.ts';
import type { Asking } from './asking.ts';
import { Remembered, forgetOwner } from './remembered.ts';
import type { Shared } from './sessions.ts';

interface Row {
  guest: string;
  guest_name: string;
  may: GuestMay;
  made_at: Date;
}

/** With whom a train is shared. */
export const listGuests = (owner: string, trainId: string): Promise<Guest[]> =>
  readAs(owner, async (on) => {
    const { rows } = await on.query<Row>(
      'select guest, guest_name, may, made_at from train_guest where owner = $1 and train_id = $2 order by guest_name, guest',
      [owner, trainId]
    );
    return rows.map(({ guest, guest_name: name, may, made_at }) => ({
      guest,
      name,
      may,
      since: made_at.toISOString()
    }));
  });

/** Shares a train with another owner, or changes what they may. @param by name of its owner, as the guest is told */
export async function addGuest(
  owner: string,
  trainId: string,
  { by, name, may }: { by: string; name: string; may: GuestMay }
): Promise<'shared' | 'no such owner' | 'oneself' | 'missing' | 'too many'> {
  const guest = await ownerNamed(name);
  if (!guest) return 'no such owner';
  if (guest.owner === owner) return 'oneself';
  return asOwner(owner, async (on) => {
    const { rowCount } = await on.query(
      `select from train where owner = $1 and id = $2 and state <> 'deleted' for update`,
      [owner, trainId]
    );
    if (rowCount === 0) return 'missing';
    const { rowCount: shared } = await on.query(
      `insert into train_guest (owner, train_id, guest, may, owner_name, guest_name)
       select $1, $2, $3, $4, $5, $6
        where (select count(*) from train_guest where owner = $1 and train_id = $2 and guest <> $3) < $7
       on conflict (owner, train_id, guest) do update set may = excluded.may`,
      [owner, trainId, guest.owner, may, by, guest.name, MOST_GUESTS]
    );
    return shared === 1 ? 'shared' : 'too many';
  }).finally(() => forgetOwner(guest.owner));
}

/** Shares a train with somebody no longer; they may leave it by themselves too. */
export async function dropGuest(actor: string, trainId: string, guest: string): Promise<void> {
  await asOwner(actor, (on) =>
    on.query('delete from train_guest where train_id = $1 and guest = $2 and (owner = $3 or guest = $3)', [
      trainId,
      guest,
      actor
    ])
  );
  forgetOwner(guest);
}

/** Trains that others share with an owner, the last changed first. */
export const listShared = (owner: string): Promise<SharedTrain[]> =>
  readAs(owner, async (on) => {
    const { rows } = await on.query<{ id: string; name: string | null; by: string; may: GuestMay; at: Date }>(
      `select train.id, head.name, owner_name as by, may, head.created_at as at
         from train_guest
         join train on train.owner = train_guest.owner and train.id = train_id
         join lateral (
           select document ->> 'name' as name, created_at from train_revision
            where owner = train.owner and train_id = train.id
            order by number desc limit 1
         ) head on true
        where guest = $1 and train.state <> 'deleted'
        order by head.created_at desc, train.id`,
      [owner]
    );
    return rows.map(({ id, name, by, may, at }) => ({
      id,
      name: name ?? 'a train without a name',
      by,
      may,
      savedAt: at.toISOString()
    }));
  });

const allShared = new Remembered<ReadonlyMap<string, Shared>>();

/** The same for one train, by who asks: a session knows what is shared with it. */
export const sharedTrainOf = async (
  asking: Extract<Asking, { owner: string }>,
  trainId: string
): Promise<Shared | undefined> =>
  asking.kind === 'session' ? asking.shared[trainId] : sharedTrain(asking.owner, trainId);

/** Another's train that is shared with somebody; undefined where it is their own, or not there for them. */
export async function sharedTrain(actor: string, trainId: string): Promise<Shared | undefined> {
  const shared = await allShared.get(actor, async () => ({ value: await sharedWith(actor), owner: actor }));
  return shared?.get(trainId);
}

const sharedWith = (actor: string): Promise<ReadonlyMap<string, Shared>> =>
  readAs(actor, async (on) => {
    const { rows } = await on.query<Shared & { id: string }>(
      `select train.id, train_guest.owner, owner_name as by, may
         from train_guest join train on train.owner = train_guest.owner and train.id = train_id
        where guest = $1 and state <> 'deleted'`,
      [actor]
    );
    return new Map(rows.map(({ id, ...shared }) => [id, shared]));
  });

/** The train a record is of, where it is another's. */
export const trainOfRecord = (actor: string, recordId: string): Promise<string | undefined> =>
  readAs(actor, async (on) => {
    const { rows } = await on.query<{ train_id: string }>(
      'select train_id from build_record where id = $1 and owner <> $2',
      [recordId, actor]
    );
    return rows[0]?.train_id;
  });
