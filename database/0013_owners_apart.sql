-- Rows of one owner are not there for another, whatever is asked: the database itself sees to it, also for the role that
-- owns the tables. Each transaction says for whom it acts (lodestone.owner); without that there is nothing.
--
-- A migration that changes rows has to lift this for its own transaction: alter table … no force row level security.
do $$
declare
  has_owner text;
begin
  for has_owner in
    select columns.table_name
      from information_schema.columns
      join pg_class on pg_class.relname = columns.table_name and pg_class.relkind = 'r'
                   and pg_class.relnamespace = current_schema()::regnamespace
     where columns.column_name = 'owner' and columns.table_schema = current_schema()
  loop
    execute format('alter table %I enable row level security', has_owner);
    execute format('alter table %I force row level security', has_owner);
    execute format(
      'create policy of_its_owner on %I using (owner = current_setting(''lodestone.owner'', true))', has_owner);
  end loop;
end
$$;

-- Whose a link is only the link says: whoever shows what its hash was made of sees its row, and no other.
create policy of_whoever_has_it on share_link for select
  using (token_hash = decode(nullif(current_setting('lodestone.link', true), ''), 'hex'));

-- Words are compared after the owner, never before: no index over words is asked any more. Notes are read by owner.
drop index if exists build_record_by_words;
