-- Scans and drawings that published figures were read from: documents name them by the hash of what is kept.
create table scan (
  owner text not null,
  -- SHA-256 of the bytes.
  hash bytea not null check (hash = sha256(bytes)),
  type text not null check (type in ('application/pdf', 'image/jpeg')),
  bytes bytea not null,
  kept_at timestamptz not null default now(),
  primary key (owner, hash)
);

do $$
begin
  if exists (select from pg_roles where rolname = 'lodestone_app') then
    grant select, insert on scan to lodestone_app;
  end if;
end
$$;
