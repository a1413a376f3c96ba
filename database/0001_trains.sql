-- Trains and their immutable revisions. The database keeps the invariants: numbers without gaps,
-- one revision a save, documents that never change once stored.

create table train (
  id uuid primary key default gen_random_uuid(),
  owner text not null,
  state text not null default 'active' check (state in ('active', 'archived', 'deleted')),
  state_changed_at timestamptz not null default now(),
  created_at timestamptz not null default now(),
  unique (owner, id)
);

create table train_revision (
  owner text not null,
  train_id uuid not null,
  number integer not null check (number >= 1),
  -- The revision before this one; its foreign key is what forbids gaps.
  previous integer generated always as (nullif(number - 1, 0)) stored,
  -- Made by the client, so that a retry after a lost reply finds what it stored.
  save_id uuid not null unique,
  document jsonb not null check (jsonb_typeof(document) = 'object' and document ->> 'lodestone' like 'train/%'),
  -- SHA-256 of the document as stored; the trigger below fills it in.
  hash bytea not null,
  created_at timestamptz not null default now(),
  primary key (train_id, number),
  unique (owner, train_id, number),
  foreign key (owner, train_id) references train (owner, id),
  foreign key (owner, train_id, previous) references train_revision (owner, train_id, number)
);

create index train_by_owner on train (owner, state);

create function hash_document() returns trigger
language plpgsql as $$
begin
  new.hash := sha256(convert_to(new.document::text, 'UTF8'));
  return new;
end
$$;

create trigger train_revision_is_hashed
  before insert on train_revision
  for each row execute function hash_document();

create function refuse_change() returns trigger
language plpgsql as $$
begin
  raise exception '% is never changed or deleted', tg_table_name using errcode = 'restrict_violation';
end
$$;

create trigger train_revision_is_immutable
  before update or delete on train_revision
  for each row execute function refuse_change();

create trigger train_revision_is_kept
  before truncate on train_revision
  for each statement execute function refuse_change();

-- The application's role owns nothing and cannot touch what is immutable even without the triggers.
do $$
begin
  if exists (select from pg_roles where rolname = 'lodestone_app') then
    grant select, insert on train, train_revision to lodestone_app;
    grant update (state, state_changed_at) on train to lodestone_app;
  end if;
end
$$;
