-- Several owners on one server: how they sign in, from where they are signed in, and what their scripts may do. Where one
-- person uses the server, all of it stays empty, and everything is “local”.

-- Ids of all who ever had rows here, and nothing else of them: what is done for everybody is done one by one.
create table known_owner (id text primary key check (id ~ '^[A-Za-z0-9-]{1,64}$'));
insert into known_owner (id) values ('local');

create table account (
  owner text primary key references known_owner (id),
  name text not null check (char_length(name) between 1 and 60),
  -- The name as it is compared: without difference of case or of how a letter is written.
  name_key text not null unique,
  -- Argon2id, as a PHC string; none for whoever signs in with passkeys alone.
  passphrase text,
  made_at timestamptz not null default now(),
  -- Whoever is shut out keeps what is theirs, and may be let in again.
  closed_at timestamptz
);

-- Who may invite others and shut them out.
create table keeper (owner text primary key references account (owner));

create table passkey (
  owner text not null references account (owner),
  -- As the authenticator calls it (WebAuthn, credential id).
  id bytea primary key,
  public_key bytea not null,
  counter bigint not null,
  transports text[] not null default '{}',
  name text not null check (char_length(name) between 1 and 60),
  made_at timestamptz not null default now(),
  used_at timestamptz
);
create index passkey_by_owner on passkey (owner);

create table session (
  owner text not null references account (owner),
  id uuid primary key default gen_random_uuid(),
  -- SHA-256 of what the browser shows.
  token_hash bytea not null unique check (octet_length(token_hash) = 32),
  device text check (char_length(device) between 1 and 60),
  made_at timestamptz not null default now(),
  used_at timestamptz not null default now(),
  expires_at timestamptz not null
);
create index session_by_owner on session (owner);

create table access_token (
  owner text not null references account (owner),
  id uuid primary key default gen_random_uuid(),
  token_hash bytea not null unique check (octet_length(token_hash) = 32),
  name text not null check (char_length(name) between 1 and 60),
  scope text not null check (scope in ('read', 'frames', 'write')),
  made_at timestamptz not null default now(),
  used_at timestamptz,
  expires_at timestamptz
);
create index access_token_by_owner on access_token (owner);

-- A link by which somebody becomes an owner, or, where it names one, gets in again.
create table invitation (
  id uuid primary key default gen_random_uuid(),
  token_hash bytea not null unique check (octet_length(token_hash) = 32),
  made_by text not null,
  for_owner text references known_owner (id),
  keeps boolean not null default false,
  made_at timestamptz not null default now(),
  expires_at timestamptz not null
);

-- What an authenticator is asked to sign: once, and not for long.
create table challenge (
  id uuid primary key default gen_random_uuid(),
  challenge text not null,
  made_at timestamptz not null default now()
);

-- Wrong tries, counted by whom or from where (as a hash): the counting outlives a restart, and all servers share it.
create table attempt (
  what bytea primary key check (octet_length(what) = 32),
  count integer not null,
  since timestamptz not null
);

do $$
declare
  owned text;
begin
  foreach owned in array array['account', 'keeper', 'passkey', 'session', 'access_token'] loop
    execute format('alter table %I enable row level security', owned);
    execute format('alter table %I force row level security', owned);
    execute format('create policy of_its_owner on %I using (owner = current_setting(''lodestone.owner'', true))', owned);
  end loop;
end
$$;
alter table invitation enable row level security;
alter table invitation force row level security;

-- Before it is known who asks, what they show finds its own row, and no other.
create policy of_whoever_signs_in on account for select
  using (name_key = current_setting('lodestone.name', true));
create policy of_whoever_has_it on passkey for select
  using (id = decode(nullif(current_setting('lodestone.passkey', true), ''), 'hex'));
create policy of_whoever_has_it on session for select
  using (token_hash = decode(nullif(current_setting('lodestone.secret', true), ''), 'hex'));
create policy of_whoever_has_it on access_token for select
  using (token_hash = decode(nullif(current_setting('lodestone.secret', true), ''), 'hex'));
create policy of_whoever_has_it on invitation
  using (token_hash = decode(nullif(current_setting('lodestone.secret', true), ''), 'hex'))
  with check (false);

-- A keeper sees who there is, lets in and shuts out. Of what is theirs a keeper sees nothing.
create function is_keeper() returns boolean
language sql
stable
as $$
  select exists (select from keeper where owner = current_setting('lodestone.owner', true))
$$;
create policy of_a_keeper_to_see on account for select using (is_keeper());
create policy of_a_keeper_to_change on account for update using (is_keeper());
create policy of_a_keeper_to_see on session for select using (is_keeper());
create policy of_a_keeper_to_end on session for delete using (is_keeper());
create policy of_a_keeper_to_see on access_token for select using (is_keeper());
create policy of_a_keeper_to_end on access_token for delete using (is_keeper());
create policy of_whoever_made_it on invitation
  using (made_by = current_setting('lodestone.owner', true) and is_keeper());

-- Makes an owner of whoever has an invitation, or lets one in again whom it names: the one way to an account.
-- It acts as the owner of the tables; the application's role can make none by itself. Null where the invitation does not
-- hold (any more).
create function accept_invitation(secret bytea, new_owner text, new_name text, new_key text, new_passphrase text)
returns text
language plpgsql
security definer
set search_path from current
as $$
declare
  found_one invitation;
  of_owner text;
begin
  perform set_config('lodestone.secret', encode(secret, 'hex'), true);
  delete from invitation where token_hash = secret and expires_at > now() returning * into found_one;
  if not found then
    return null;
  end if;
  of_owner := coalesce(found_one.for_owner, new_owner);
  perform set_config('lodestone.owner', of_owner, true);
  insert into known_owner (id) values (of_owner) on conflict do nothing;
  insert into account (owner, name, name_key, passphrase) values (of_owner, new_name, new_key, new_passphrase)
    on conflict (owner) do update set passphrase = excluded.passphrase, closed_at = null;
  if found_one.keeps then
    insert into keeper (owner) values (of_owner) on conflict do nothing;
  end if;
  -- Whoever was signed in before this is not any more.
  delete from session where owner = of_owner;
  return of_owner;
end
$$;
revoke all on function accept_invitation(bytea, text, text, text, text) from public;

-- Every server hears at once when somebody is let in, signed out, or shut out: what it remembers of them is over.
create function tell_of_access() returns trigger
language plpgsql as $$
begin
  perform pg_notify('lodestone', json_build_object('owner', coalesce(new.owner, old.owner), 'access', true)::text);
  return null;
end
$$;
create trigger session_is_told after delete on session for each row execute function tell_of_access();
create trigger access_token_is_told after delete on access_token for each row execute function tell_of_access();
create trigger account_is_told after update on account for each row execute function tell_of_access();
create trigger keeper_is_told after insert or delete on keeper for each row execute function tell_of_access();

do $$
begin
  if exists (select from pg_roles where rolname = 'lodestone_app') then
    grant select on known_owner, account, keeper to lodestone_app;
    grant update (name, name_key, passphrase, closed_at) on account to lodestone_app;
    grant select, insert, delete on passkey, session, access_token, invitation, challenge to lodestone_app;
    grant update (counter, used_at, name) on passkey to lodestone_app;
    grant update (used_at, expires_at) on session to lodestone_app;
    grant update (used_at) on access_token to lodestone_app;
    grant select, insert, update, delete on attempt to lodestone_app;
    grant execute on function accept_invitation(bytea, text, text, text, text) to lodestone_app;
  end if;
end
$$;
