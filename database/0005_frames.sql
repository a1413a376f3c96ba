-- Test frames of a train: what they say is kept, their pixels for as long as they are among the newest.
create table frame (
  owner text not null,
  id uuid not null default gen_random_uuid(),
  train_id uuid not null,
  -- Counted from 1 for each train.
  number integer not null check (number >= 1),
  name text not null check (length(name) between 1 and 200),
  size bigint not null check (size > 0),
  -- Of the bytes as they came: the same file twice is one frame.
  hash bytea not null,
  -- What was read in it: stars, and what is wrong with them.
  reading jsonb not null,
  taken_at timestamptz not null default now(),
  primary key (owner, id),
  unique (owner, train_id, number),
  unique (owner, train_id, hash),
  foreign key (owner, train_id) references train (owner, id)
);

create table frame_piece (
  owner text not null,
  frame_id uuid not null,
  position integer not null check (position >= 1),
  bytes bytea not null,
  primary key (owner, frame_id, position),
  foreign key (owner, frame_id) references frame (owner, id) on delete cascade
);
-- They are compressed, or noise.
alter table frame_piece alter column bytes set storage external;

create function tell_of_frame() returns trigger
language plpgsql as $$
begin
  perform pg_notify('lodestone', json_build_object('owner', new.owner, 'train', new.train_id, 'frame', new.number)::text);
  return null;
end
$$;

create trigger frame_is_told
  after insert on frame
  for each row execute function tell_of_frame();

do $$
begin
  if exists (select from pg_roles where rolname = 'lodestone_app') then
    grant select, insert, delete on frame, frame_piece to lodestone_app;
  end if;
end
$$;
