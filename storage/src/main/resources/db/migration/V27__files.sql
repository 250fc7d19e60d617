-- Files devices are handed, each known by what is in it. The content is a large object: it is read in parts and
-- written as it comes in, so that no node holds it in memory; it becomes whole with the row that names it, in one
-- transaction; every node has it; and a backup of the database holds it.
create table stored_file (
  id           text primary key check (id ~ '^[0-9a-f]{64}$'),
  version      integer not null,
  name         text not null,
  kind         text not null,
  media_type   text not null,
  bytes        bigint not null,
  about        text not null,
  valid_until  timestamptz,
  told         integer,
  unused_since timestamptz,
  stored_at    timestamptz not null,
  stored_by    text not null,
  content      oid not null
);
create unique index stored_file_name on stored_file (lower(name));
create index stored_file_lapsing on stored_file (valid_until) where valid_until is not null;

-- what goes takes its content along
create function content_goes() returns trigger language plpgsql as $$
begin
  perform lo_unlink(old.content);
  return null;
end $$;
create trigger content_goes after delete on stored_file for each row execute function content_goes();

-- Which profiles name a file: their draft is number 0, their versions have their own.
create table file_use (
  profile_id text not null references profile on delete cascade,
  number     integer not null,
  file_id    text not null references stored_file,
  primary key (profile_id, number, file_id)
);
create index file_use_file on file_use (file_id);

-- whoever writes what a profile says, its files are noted here, so that nobody can forget to
create function files_in(content jsonb) returns setof text language sql immutable as $$
  select distinct m[1] from regexp_matches(content ->> 'settings', '"sha256:([0-9a-f]{64})"', 'g') m
$$;

create function files_of_draft() returns trigger language plpgsql as $$
begin
  delete from file_use where profile_id = new.id and number = 0;
  insert into file_use select new.id, 0, f.id from stored_file f where f.id in (select files_in(new.draft));
  return null;
end $$;
create trigger files_of_draft after insert or update of draft on profile
  for each row execute function files_of_draft();

create function files_of_version() returns trigger language plpgsql as $$
begin
  insert into file_use
  select new.profile_id, new.number, f.id from stored_file f where f.id in (select files_in(new.content));
  return null;
end $$;
create trigger files_of_version after insert on profile_version
  for each row execute function files_of_version();
