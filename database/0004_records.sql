-- What was built: a record points at the revision it was built from, which never changes, and never changes itself.
create table build_record (
  owner text not null,
  -- Made by whoever asks for it, so that a retry after a lost reply makes no second one.
  id uuid not null,
  train_id uuid not null,
  -- Counted from 1 for each train.
  number integer not null check (number >= 1),
  revision integer not null,
  note text not null default '' check (length(note) <= 4000),
  finished_at timestamptz not null default now(),
  primary key (owner, id),
  unique (owner, train_id, number),
  foreign key (owner, train_id, revision) references train_revision (owner, train_id, number)
);

create trigger build_record_is_immutable
  before update or delete on build_record
  for each row execute function refuse_change();

create trigger build_record_is_kept
  before truncate on build_record
  for each statement execute function refuse_change();

create table record_photo (
  owner text not null,
  record_id uuid not null,
  position integer not null check (position between 1 and 24),
  bytes bytea not null,
  width integer not null,
  height integer not null,
  hash bytea not null,
  primary key (owner, record_id, position),
  -- The same picture twice is once.
  unique (owner, record_id, hash),
  foreign key (owner, record_id) references build_record (owner, id)
);

create trigger record_photo_is_immutable
  before update or delete on record_photo
  for each row execute function refuse_change();

do $$
begin
  if exists (select from pg_roles where rolname = 'lodestone_app') then
    grant select, insert on build_record, record_photo to lodestone_app;
  end if;
end
$$;
