-- A train shared with another owner, to look at or to edit: it stays its owner's. Who acts is always told as who they are
-- (lodestone.owner); what of another's rows they see, and what they may write, these policies say, and nothing else.
create table train_guest (
  owner text not null,
  train_id uuid not null,
  guest text not null references known_owner (id) check (guest <> owner),
  may text not null check (may in ('read', 'edit')),
  -- Names as they were then: of each other owners see nothing else.
  owner_name text not null,
  guest_name text not null,
  made_at timestamptz not null default now(),
  primary key (owner, train_id, guest),
  foreign key (owner, train_id) references train (owner, id) on delete cascade
);
create index train_guest_by_guest on train_guest (guest);

alter table train_guest enable row level security;
alter table train_guest force row level security;
create policy of_its_owner on train_guest using (owner = current_setting('lodestone.owner', true));
create policy of_its_guest on train_guest for select using (guest = current_setting('lodestone.owner', true));
create policy of_its_guest_to_leave on train_guest for delete using (guest = current_setting('lodestone.owner', true));

-- Whether whoever acts may do something with another's train.
create function is_guest(of_owner text, of_train uuid, how text) returns boolean
language sql
stable
as $$
  select exists (
    select from train_guest
     where owner = of_owner and train_id = of_train
       and guest = current_setting('lodestone.owner', true) and (how = 'read' or may = 'edit'))
$$;

do $$
declare
  seen text;
begin
  foreach seen in array array['train_revision', 'revision_name', 'build_record', 'frame', 'assembly', 'holding',
                              'simulated_focuser'] loop
    execute format('create policy of_guests_to_see on %I for select using (is_guest(owner, train_id, ''read''))', seen);
  end loop;
  -- What belongs to the train itself may be written; what stands in the drawer, or was written down for good, may not.
  foreach seen in array array['revision_name', 'frame', 'simulated_focuser'] loop
    execute format('create policy of_guests_to_edit on %I using (is_guest(owner, train_id, ''edit''))', seen);
  end loop;
end
$$;
create policy of_guests_to_see on train for select using (is_guest(owner, id, 'read'));
-- Locked for as long as something is saved.
create policy of_guests_to_lock on train for update using (is_guest(owner, id, 'edit'));
create policy of_guests_to_add on train_revision for insert with check (is_guest(owner, train_id, 'edit'));
create policy of_guests_to_see on record_photo for select
  using (exists (select from build_record
                  where build_record.owner = record_photo.owner and build_record.id = record_photo.record_id
                    and is_guest(build_record.owner, build_record.train_id, 'read')));
create policy of_guests_to_see on frame_piece for select
  using (exists (select from frame where frame.owner = frame_piece.owner and frame.id = frame_piece.frame_id
                                     and is_guest(frame.owner, frame.train_id, 'read')));
create policy of_guests_to_edit on frame_piece
  using (exists (select from frame where frame.owner = frame_piece.owner and frame.id = frame_piece.frame_id
                                     and is_guest(frame.owner, frame.train_id, 'edit')));

-- Whose session a browser shows, who that is, and what is shared with them, in one question.
create function signed_in(hash bytea)
returns table (owner text, session uuid, name text, keeps boolean, used_at timestamptz, shared jsonb)
language plpgsql
as $$
declare
  found_one session;
begin
  perform set_config('lodestone.secret', encode(hash, 'hex'), true);
  select * into found_one from session where token_hash = hash and expires_at > now();
  if not found then
    return;
  end if;
  perform set_config('lodestone.owner', found_one.owner, true);
  return query
    select account.owner, found_one.id, account.name, is_keeper(), found_one.used_at,
           (select jsonb_object_agg(train.id, jsonb_build_object(
                     'owner', train_guest.owner, 'by', train_guest.owner_name, 'may', train_guest.may))
              from train_guest join train on train.owner = train_guest.owner and train.id = train_guest.train_id
             where train_guest.guest = found_one.owner and train.state <> 'deleted')
      from account where account.owner = found_one.owner and closed_at is null;
end
$$;

-- A guest hears at once of what is shared, and of what is not any more.
create function tell_of_guest() returns trigger
language plpgsql as $$
declare
  of_whom train_guest := coalesce(new, old);
begin
  perform pg_notify('lodestone', json_build_object('owner', of_whom.guest, 'access', true)::text);
  return null;
end
$$;
create trigger train_guest_is_told
  after insert or update or delete on train_guest
  for each row execute function tell_of_guest();

-- A train that is deleted, or brought back, is so for its guests too.
create function tell_guests() returns trigger
language plpgsql as $$
begin
  perform pg_notify('lodestone', json_build_object('owner', guest, 'access', true)::text)
    from train_guest where owner = new.owner and train_id = new.id;
  return null;
end
$$;
create trigger train_state_is_told_to_guests
  after update of state on train
  for each row when (old.state is distinct from new.state) execute function tell_guests();

do $$
begin
  if exists (select from pg_roles where rolname = 'lodestone_app') then
    grant select, insert, update, delete on train_guest to lodestone_app;
  end if;
end
$$;
