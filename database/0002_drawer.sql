-- The drawer: parts and their copies, where they lie, what they measure, and which assembled train holds which copy.
-- The database keeps the invariants: a copy is in one assembled train at the most; what is held cannot be deleted.

create table location (
  id bigint generated always as identity primary key,
  owner text not null,
  parent_id bigint,
  name text not null check (name <> ''),
  unique (owner, id),
  unique nulls not distinct (owner, parent_id, name),
  foreign key (owner, parent_id) references location (owner, id)
);

create table part (
  owner text not null,
  part_id text not null check (part_id <> ''),
  kind text not null,
  name text not null,
  -- Published, mm; what was measured is in the table measurement.
  length_mm double precision not null check (length_mm >= 0),
  quantity integer not null check (quantity between 1 and 1000),
  owned boolean not null,
  price double precision check (price >= 0),
  state text not null check (state in ('in-use', 'spare', 'set-aside')),
  location_id bigint,
  -- The part as an element of a train, without what the other columns say of the drawer.
  element jsonb not null check (jsonb_typeof(element) = 'object'),
  -- Goes up with every change; a change based on an older one is refused.
  version integer not null default 1,
  -- Deleted parts are kept for undo, and because trains go on naming them.
  deleted_at timestamptz,
  changed_at timestamptz not null default now(),
  primary key (owner, part_id),
  foreign key (owner, location_id) references location (owner, id)
);

create index part_by_location on part (owner, location_id);

create table part_copy (
  owner text not null,
  part_id text not null,
  copy integer not null check (copy >= 1),
  primary key (owner, part_id, copy),
  foreign key (owner, part_id) references part (owner, part_id)
);

create table measurement (
  owner text not null,
  part_id text not null,
  position integer not null,
  length_mm double precision not null check (length_mm >= 0),
  zero_mm double precision,
  instrument text,
  max_error_mm double precision check (max_error_mm >= 0),
  measured_on date,
  note text,
  primary key (owner, part_id, position),
  foreign key (owner, part_id) references part (owner, part_id)
);

create table part_photo (
  owner text not null,
  part_id text not null,
  bytes bytea not null,
  width integer not null,
  height integer not null,
  hash bytea not null,
  primary key (owner, part_id),
  foreign key (owner, part_id) references part (owner, part_id)
);

-- A train that is put together, at the revision it was put together from.
create table assembly (
  owner text not null,
  train_id uuid not null,
  revision integer not null,
  assembled_at timestamptz not null default now(),
  primary key (owner, train_id),
  foreign key (owner, train_id, revision) references train_revision (owner, train_id, number)
);

-- The key is the rule: one copy, one assembled train.
create table holding (
  owner text not null,
  part_id text not null,
  copy integer not null,
  train_id uuid not null,
  element_id text not null,
  primary key (owner, part_id, copy),
  foreign key (owner, part_id, copy) references part_copy (owner, part_id, copy),
  foreign key (owner, train_id) references assembly (owner, train_id) on delete cascade
);

create index holding_by_train on holding (owner, train_id);

-- Changes that were carried out, by the id their sender made, so that a retry after a lost reply changes nothing.
create table drawer_change (
  id uuid primary key,
  owner text not null,
  at timestamptz not null default now()
);

do $$
begin
  if exists (select from pg_roles where rolname = 'lodestone_app') then
    grant select, insert on location, drawer_change to lodestone_app;
    grant select, insert, update on part to lodestone_app;
    grant select, insert, delete on part_copy, measurement, assembly, holding to lodestone_app;
    grant select, insert, update, delete on part_photo to lodestone_app;
  end if;
end
$$;
