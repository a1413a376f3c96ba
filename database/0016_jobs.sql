-- What is done for everybody without being asked for is handed out by a queue (schema pgboss, made by pg-boss itself: see
-- scripts/setup/jobs.mjs). Who has anything to do is asked in one go: with a hundred thousand owners a transaction for
-- each would take minutes.

-- Owners whose backup is due. Each is looked at as that owner: nobody's rows can be seen in any other way.
create function owners_with_backup_due() returns setof text
language plpgsql as $$
declare
  before text := current_setting('lodestone.owner', true);
  each text;
begin
  for each in select id from known_owner order by id loop
    perform set_config('lodestone.owner', each, true);
    if exists (
      select from setting
       where owner = each
         and backup_days is not null
         and (backup_at is null or backup_at <= now() - make_interval(days => backup_days))
    ) then
      return next each;
    end if;
  end loop;
  perform set_config('lodestone.owner', coalesce(before, ''), true);
end
$$;
