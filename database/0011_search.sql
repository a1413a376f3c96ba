-- Notes of records are found by their words: without the extension, which some servers do not have, by reading them all.
do $$
begin
  create extension if not exists pg_trgm;
exception
  when insufficient_privilege or undefined_file or feature_not_supported then
    raise notice 'pg_trgm is not there: notes are searched without an index';
end
$$;

do $$
begin
  if exists (select from pg_extension where extname = 'pg_trgm') then
    create index build_record_by_words on build_record using gin (lower(note) gin_trgm_ops) where note <> '';
  end if;
end
$$;
