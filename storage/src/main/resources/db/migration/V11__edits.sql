-- acting on many devices at once: what a change was about, whether it was taken back, and for each
-- device what it was like before and after, so that it can be.
alter table change
  add column devices int not null default 0,
  add column undoes text,
  add column undone_by text;

create table change_before (
  change_id text not null references change (id) on delete cascade,
  device_id text not null,
  before    jsonb not null,
  after     jsonb not null,
  primary key (change_id, device_id)
);
