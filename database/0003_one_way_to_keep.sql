-- One way to keep work: numbers that survive a restart, ids that belong to an owner, readings with names of their own,
-- and news of every change for whoever listens, on whatever server.

-- The drawer's states are numbered in the database, so that every server and every start counts alike.
create table drawer_state (
  owner text primary key,
  number bigint not null default 0 check (number >= 0)
);

insert into drawer_state (owner, number) select distinct owner, 1 from part;

-- Ids made by clients are unique for their owner only: another's id says nothing of mine.
alter table train_revision drop constraint train_revision_save_id_key;
alter table train_revision add unique (owner, save_id);
alter table drawer_change drop constraint drawer_change_pkey;
alter table drawer_change add primary key (owner, id);
-- What the change was: its id with another content is another change, and refused.
alter table drawer_change add digest bytea;

alter table part
  -- Written, never asked: the element has them.
  drop column kind, drop column name, drop column length_mm,
  -- Number of the drawer's state in which the part last changed.
  add changed_number bigint not null default 1;

alter table measurement add id text;
update measurement set id = gen_random_uuid()::text;
alter table measurement alter id set not null;
alter table measurement drop constraint measurement_pkey;
alter table measurement add primary key (owner, part_id, id);

-- Number of the drawer's state a train last followed: when it was put together, or deleted.
alter table assembly add drawer_number bigint not null default 0;
alter table train add drawer_number bigint not null default 0;

-- News go out with the commit, in the order of the commits, to all who listen on any server.
create function tell_of_revision() returns trigger
language plpgsql as $$
begin
  perform pg_notify('lodestone', json_build_object('owner', new.owner, 'train', new.train_id, 'number', new.number)::text);
  return null;
end
$$;

create trigger train_revision_is_told
  after insert on train_revision
  for each row execute function tell_of_revision();

create function tell_of_train() returns trigger
language plpgsql as $$
begin
  perform pg_notify('lodestone', json_build_object('owner', new.owner, 'train', new.id, 'state', new.state)::text);
  return null;
end
$$;

create trigger train_state_is_told
  after update of state on train
  for each row when (old.state is distinct from new.state) execute function tell_of_train();

create function tell_of_drawer() returns trigger
language plpgsql as $$
begin
  perform pg_notify('lodestone', json_build_object('owner', new.owner, 'drawer', new.number)::text);
  return null;
end
$$;

create trigger drawer_state_is_told
  after insert or update on drawer_state
  for each row execute function tell_of_drawer();

do $$
begin
  if exists (select from pg_roles where rolname = 'lodestone_app') then
    grant select, insert, update on drawer_state to lodestone_app;
    grant update (drawer_number) on train to lodestone_app;
    grant update on measurement to lodestone_app;
    grant delete on drawer_change to lodestone_app;
  end if;
end
$$;
