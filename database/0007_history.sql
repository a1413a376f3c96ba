-- States of a train that got a name: one a revision, and a name may be changed or taken away.
create table revision_name (
  owner text not null,
  train_id uuid not null,
  number integer not null,
  name text not null check (char_length(name) between 1 and 200),
  named_at timestamptz not null default now(),
  primary key (owner, train_id, number),
  foreign key (owner, train_id, number) references train_revision (owner, train_id, number) on delete cascade
);

do $$
begin
  if exists (select from pg_roles where rolname = 'lodestone_app') then
    grant select, insert, update, delete on revision_name to lodestone_app;
  end if;
end
$$;
