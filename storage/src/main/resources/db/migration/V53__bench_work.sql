-- What devices on a bench tell by the cable, and what the cable is to do to them.
alter table bench_device add column facts jsonb not null default '{}';

--   said   what has to be said besides, such as a version
--   state  queued | given | done | failed
create table bench_work (
  id         text primary key,
  session_id text not null,
  serial     text not null,
  what       text not null,
  said       text not null,
  state      text not null check (state in ('queued', 'given', 'done', 'failed')),
  reason     text not null default '',
  ordered_at timestamptz not null,
  ordered_by text not null,
  given_at   timestamptz,
  ended_at   timestamptz,
  foreign key (session_id, serial) references bench_device on delete cascade
);
create index bench_work_device on bench_work (session_id, serial, id);
