-- which profiles make a shape ---------------------------------------------------------------------
create table shape_profile (
  shape_key  text not null references shape on delete cascade,
  profile_id text not null,
  version    int not null,
  nearness   int not null,
  primary key (shape_key, profile_id)
);
create index shape_profile_profile on shape_profile (profile_id);
insert into shape_profile
select key, split_part(part, ':', 1), split_part(part, ':', 2)::int, split_part(part, ':', 3)::int
  from shape, unnest(string_to_array(layers, ',')) part where layers <> '';
alter table shape drop column layers;

-- what changes with every publication and check-in, beside what hardly ever does. Narrow, with room
-- on each page, and no index on what a publication writes, so that rows are written in place.
create table device_state (
  device_id       text primary key references device on delete cascade,
  shape_key       text,
  desired_digest  text not null,
  reported_digest text,
  standing        text not null check
    (standing in ('settled', 'catching-up', 'drifted', 'blocked', 'silent', 'retired')),
  standing_reason text not null default '',
  refused         text not null default '',
  change_id       text,
  facts_at        timestamptz,
  last_seen       timestamptz
) with (fillfactor = 45);
insert into device_state
select id, shape_key, desired_digest, reported_digest, standing, standing_reason, refused, change_id,
       facts_at, last_seen
  from device;
create index device_state_last_seen
  on device_state (coalesce(last_seen, '-infinity'::timestamptz), device_id);

alter table device
  drop column shape_key, drop column desired_digest, drop column reported_digest,
  drop column agreed_digest, drop column standing, drop column standing_reason,
  drop column refused, drop column change_id, drop column facts_at, drop column last_seen,
  add column version int not null default 0;
alter table device set (fillfactor = 85);
drop index device_by_enrolled;
create index device_by_enrolled on device (enrolled_at, id);

-- what each change moved: one row for each of its devices. Without references, since those would
-- cost more than the move itself; it goes with the change.
create table change_device (
  change_id  text not null,
  device_id  text not null,
  from_shape text,
  to_shape   text not null,
  primary key (change_id, device_id)
);

-- lists are of managed devices, or of retired ones
drop index device_by_name;
create index device_by_name on device (lower(name), id) where retired_at is null;
create index device_retired_by_name on device (lower(name), id) where retired_at is not null;
-- for what few devices are
create index device_managed_as on device (ownership, mode, platform) where retired_at is null;

-- when a node took a letter to send it
alter table invitation add mail_taken_at timestamptz;
