-- Lost devices: a case from the report to its end, and what was written down on the way.
create table lost_case (
  id            text primary key,
  version       integer not null,
  device_id     text not null references device on delete cascade,
  state         text not null check (state in ('open', 'found', 'written-off')),
  what          text not null,
  lock_text     text not null,
  lock_phone    text not null,
  every_minutes int,
  looked_at     timestamptz,
  heard_at      timestamptz,
  opened_at     timestamptz not null,
  opened_by     text not null,
  ended_at      timestamptz,
  ended_by      text,
  words         text not null default '',
  check ((state = 'open') = (ended_at is null))
);
create unique index lost_case_open on lost_case (device_id) where state = 'open';
create index lost_case_device on lost_case (device_id, id desc);

--   kind  note | told | heard | opened | ended
create table case_entry (
  id      text primary key,
  case_id text not null references lost_case on delete cascade,
  at      timestamptz not null,
  by      text not null,
  kind    text not null,
  text    text not null,
  file_id text references stored_file
);
create index case_entry_case on case_entry (case_id, id desc);
create index case_entry_file on case_entry (file_id) where file_id is not null;
