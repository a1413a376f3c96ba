-- What is kept for how long: trains that were deleted can be removed for good, frames have a room, old readings shrink.

-- Where the simulated focuser of a train stands, so that every server and every start finds it there.
create table simulated_focuser (
  owner text not null,
  train_id uuid not null,
  memory jsonb not null,
  primary key (owner, train_id),
  foreign key (owner, train_id) references train (owner, id) on delete cascade
);

create table setting (
  owner text primary key,
  -- Room for the pixels of frames, bytes; as usual where nothing is said.
  frame_bytes bigint check (frame_bytes between 0 and 1000000000000000),
  -- When the demo was loaded, or found not to be wanted: whoever deletes it all does not get it back.
  demo_at timestamptz
);

-- Work that is due, until it is done: a start that is cut short begins it again.
create table due (
  owner text not null,
  what text not null check (what in ('demo frames')),
  primary key (owner, what)
);

-- Several revisions of one transaction have an order too.
alter table train_revision alter created_at set default clock_timestamp();

-- What never changes can go with its train, and only by the function below, which says so for as long as it works.
create or replace function refuse_change() returns trigger
language plpgsql as $$
begin
  if tg_op = 'DELETE' and current_setting('lodestone.purges', true) = 'yes' then
    return old;
  end if;
  raise exception '% is never changed or deleted', tg_table_name using errcode = 'restrict_violation';
end
$$;

-- Removes a deleted train with everything that hangs on it. It acts as the owner of the tables: the application's role
-- can delete nothing of this by itself.
create function purge_train(of_owner text, of_train uuid) returns boolean
language plpgsql
security definer
set search_path from current
as $$
begin
  if of_owner is distinct from current_setting('lodestone.owner', true) then
    raise exception 'a train is removed for its owner only' using errcode = 'insufficient_privilege';
  end if;
  perform from train where owner = of_owner and id = of_train and state = 'deleted' for update;
  if not found then
    return false;
  end if;
  perform set_config('lodestone.purges', 'yes', true);
  delete from record_photo
   where owner = of_owner
     and record_id in (select id from build_record where owner = of_owner and train_id = of_train);
  delete from build_record where owner = of_owner and train_id = of_train;
  delete from frame where owner = of_owner and train_id = of_train;
  delete from train_revision where owner = of_owner and train_id = of_train;
  delete from train where owner = of_owner and id = of_train;
  perform set_config('lodestone.purges', '', true);
  perform pg_notify('lodestone', json_build_object('owner', of_owner, 'train', of_train, 'state', 'deleted')::text);
  return true;
end
$$;

revoke all on function purge_train(text, uuid) from public;

do $$
begin
  if exists (select from pg_roles where rolname = 'lodestone_app') then
    grant select, insert, update, delete on simulated_focuser, setting, due to lodestone_app;
    grant update (reading) on frame to lodestone_app;
    grant execute on function purge_train(text, uuid) to lodestone_app;
  end if;
end
$$;
