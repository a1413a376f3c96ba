-- Links by which somebody else may look at one train. Of what the link says only a hash is kept.
create table share_link (
  owner text not null,
  id uuid not null default gen_random_uuid(),
  train_id uuid not null,
  -- SHA-256 of the secret part of the link.
  token_hash bytea not null unique check (octet_length(token_hash) = 32),
  made_at timestamptz not null default now(),
  expires_at timestamptz,
  primary key (owner, id),
  foreign key (owner, train_id) references train (owner, id) on delete cascade
);

create index share_link_by_train on share_link (owner, train_id);

do $$
begin
  if exists (select from pg_roles where rolname = 'lodestone_app') then
    grant select, insert, delete on share_link to lodestone_app;
  end if;
end
$$;
