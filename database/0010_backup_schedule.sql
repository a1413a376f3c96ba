-- Backups that are made by themselves, and kept in a folder of the server.
alter table setting
  add column backup_days integer check (backup_days between 1 and 365),
  add column backup_keep integer not null default 8 check (backup_keep between 1 and 200),
  -- When the last one was begun; whoever begins one says so first, so that of several servers only one does.
  add column backup_at timestamptz,
  add column backup_failure text;
