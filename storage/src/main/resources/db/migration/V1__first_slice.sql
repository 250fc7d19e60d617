create extension if not exists pg_trgm;

-- who signs in, and what they did ---------------------------------------------------------------
create table account (
  id            text primary key,
  login         text not null unique,
  name          text not null,
  role          text not null check (role in ('owner', 'operator', 'helpdesk', 'reader')),
  password_hash text not null,
  created_at    timestamptz not null
);

create table sign_in (
  token_hash text primary key,
  account_id text not null references account on delete cascade,
  csrf       text not null,
  label      text not null,
  created_at timestamptz not null,
  expires_at timestamptz not null
);

create table journal (
  number   bigint primary key,
  at       timestamptz not null,
  actor    text not null,
  action   text not null,
  subject  text not null,
  summary  text not null,
  previous text not null,
  hash     text not null
);
create index journal_subject on journal (subject, number desc);

create function journal_is_append_only() returns trigger language plpgsql as $$
begin
  raise exception 'the journal is append-only';
end $$;
create trigger journal_append_only before update or delete or truncate on journal
  for each statement execute function journal_is_append_only();

-- the server's own identity ----------------------------------------------------------------------
create table authority (
  kind        text primary key check (kind in ('root', 'server')),
  certificate text not null,
  sealed_key  bytea not null,
  hosts       text not null
);

-- intake -----------------------------------------------------------------------------------------
create table terms (
  version    int primary key,
  title      text not null,
  text       text not null,
  created_at timestamptz not null
);

create table enrollment_profile (
  id              text primary key,
  version         int not null,
  name            text not null unique,
  ownership       text not null,
  mode            text not null,
  platforms       text[] not null,
  kinds           text[] not null,
  sign_in         text not null,
  passphrase_hash text,
  terms_version   int references terms,
  minimum_os      jsonb not null,
  approval        boolean not null,
  name_pattern    text not null,
  groups          text[] not null,
  tags            text[] not null,
  created_at      timestamptz not null
);

create table invitation (
  id           text primary key,
  profile_id   text not null references enrollment_profile,
  code_hash    text not null unique,
  sealed_code  bytea not null,
  note         text not null,
  uses         int not null default 0,
  uses_allowed int not null,
  expires_at   timestamptz not null,
  withdrawn_at timestamptz,
  created_at   timestamptz not null,
  created_by   text not null
);
create index invitation_newest on invitation (id desc);

-- devices ----------------------------------------------------------------------------------------
create table device (
  id              text primary key,
  name            text not null,
  platform        text not null,
  kind            text not null,
  maker           text not null,
  model           text not null,
  os_version      text not null,
  os_level        text not null,
  ownership       text not null,
  mode            text not null,
  enrollment_profile_id text references enrollment_profile,
  serial          text,
  imei            text,
  asset           text,
  standing        text not null,
  standing_reason text not null default '',
  shape_key       text,
  desired_digest  text not null,
  reported_digest text,
  agreed_digest   text,
  refused         text not null default '',
  change_id       text,
  facts           jsonb not null default '{}',
  facts_at        timestamptz,
  enrolled_at     timestamptz not null,
  last_seen       timestamptz,
  retired_at      timestamptz,
  sought          text generated always as
    (lower(name || ' ' || coalesce(serial, '') || ' ' || coalesce(imei, '') || ' ' || coalesce(asset, '')
       || ' ' || maker || ' ' || model)) stored
);
create unique index device_serial on device (serial) where serial is not null;
create unique index device_imei on device (imei) where imei is not null;
create unique index device_asset on device (asset) where asset is not null;
create index device_by_name on device (lower(name), id);
create index device_by_last_seen on device (last_seen desc nulls last, id);
create index device_by_enrolled on device (enrolled_at desc, id);
create index device_by_standing on device (standing, lower(name), id);
create index device_change on device (change_id, standing) where change_id is not null;
create index device_shape on device (shape_key);
create index device_sought on device using gin (sought gin_trgm_ops);

create table device_tag (
  device_id text not null references device on delete cascade,
  tag       text not null,
  primary key (device_id, tag)
);
create index device_tag_tag on device_tag (tag, device_id);

create table device_group (
  id         text primary key,
  version    int not null,
  name       text not null unique,
  created_at timestamptz not null
);
create table group_member (
  group_id  text not null references device_group on delete cascade,
  device_id text not null references device on delete cascade,
  primary key (group_id, device_id)
);
create index group_member_device on group_member (device_id);

-- everything a device stands for when targets are matched
create view device_target (device_id, kind, ref) as
  select id, 'everyone', '' from device where retired_at is null
  union all
  select id, 'device', id from device where retired_at is null
  union all
  select device_id, 'group', group_id from group_member
  union all
  select device_id, 'tag', tag from device_tag;

create table est_grant (
  username      text primary key,
  device_id     text not null references device on delete cascade,
  password_hash text not null,
  expires_at    timestamptz not null,
  used_at       timestamptz
);
create index est_grant_device on est_grant (device_id);

create table device_certificate (
  serial     text primary key,
  device_id  text not null references device on delete cascade,
  state      text not null check (state in ('issued', 'active', 'revoked')),
  not_after  timestamptz not null,
  created_at timestamptz not null
);
create index device_certificate_device on device_certificate (device_id);

create table arrival (
  id            text primary key,
  invitation_id text references invitation,
  profile_id    text references enrollment_profile,
  device_id     text references device on delete set null,
  device_key    text not null,
  platform      text not null,
  model         text not null,
  identifier    text not null,
  step          text not null,
  outcome       text not null check (outcome in ('under-way', 'waiting', 'done', 'refused', 'abandoned')),
  reason        text not null default '',
  approved      boolean not null default false,
  started_at    timestamptz not null,
  changed_at    timestamptz not null
);
create index arrival_newest on arrival (id desc);
create index arrival_device on arrival (device_id) where device_id is not null;
create index arrival_of_device on arrival (invitation_id, device_key);

-- rules ------------------------------------------------------------------------------------------
create sequence publication;

create table profile (
  id                text primary key,
  version           int not null,
  name              text not null unique,
  description       text not null,
  draft             jsonb not null,
  draft_changed     boolean not null,
  published_version int,
  created_at        timestamptz not null,
  changed_at        timestamptz not null
);
create table profile_version (
  profile_id   text not null references profile on delete cascade,
  number       int not null,
  name         text not null,
  content      jsonb not null,
  publication  bigint not null,
  published_at timestamptz not null,
  published_by text not null,
  primary key (profile_id, number)
);
-- the assignments in effect: those of each profile's published version
create table assignment (
  profile_id text not null references profile on delete cascade,
  kind       text not null,
  ref        text not null,
  excluded   boolean not null,
  nearness   int not null,
  primary key (profile_id, kind, ref, excluded)
);
create index assignment_target on assignment (kind, ref);

create table shape (
  key       text primary key,
  platform  text not null,
  mode      text not null,
  os_level  text not null,
  layers    text not null,
  digest    text not null,
  created_at timestamptz not null
);
create table desired_tree (
  digest     text primary key,
  sealed     bytea not null,
  created_at timestamptz not null
);
create table refusal (
  device_id text not null references device on delete cascade,
  path      text not null,
  format    text not null,
  value_hash text not null,
  code      int not null,
  reason    text not null,
  at        timestamptz not null,
  primary key (device_id, path)
);
create table change (
  id         text primary key,
  title      text not null,
  profile_id text references profile on delete set null,
  version    int,
  total      int not null,
  at         timestamptz not null,
  actor      text not null
);

-- acting -----------------------------------------------------------------------------------------
create table dispatch (
  id         text primary key,
  command    text not null,
  fields     jsonb not null,
  reason     text not null,
  at         timestamptz not null,
  expires_at timestamptz not null,
  actor      text not null,
  total      int not null,
  -- the same request sent twice under one key takes effect once
  account_id text not null,
  idempotency_key text,
  request_hash text not null,
  unique (account_id, idempotency_key)
);
create table command (
  id          text primary key,
  dispatch_id text not null references dispatch,
  device_id   text not null references device,
  command     text not null,
  state       text not null check (state in ('queued', 'delivered', 'done', 'failed', 'expired', 'cancelled')),
  reason      text not null default '',
  queued_at   timestamptz not null,
  delivered_at timestamptz,
  ended_at    timestamptz,
  expires_at  timestamptz not null
);
create index command_queued on command (device_id, id) where state = 'queued';
create index command_open on command (expires_at) where state in ('queued', 'delivered');
create index command_dispatch on command (dispatch_id, state);
create index command_device on command (device_id, id desc);

create table dm_session (
  device_id    text primary key references device on delete cascade,
  session_id   text not null,
  msg_id       int not null,
  request_hash text not null,
  response     bytea not null,
  state        text not null,
  changed_at   timestamptz not null
);

create table activity (
  id        bigint generated always as identity primary key,
  device_id text not null references device on delete cascade,
  at        timestamptz not null,
  kind      text not null,
  text      text not null
);
create index activity_device on activity (device_id, id desc);

-- jobs (db-scheduler's own table) ----------------------------------------------------------------
create table scheduled_tasks (
  task_name            text not null,
  task_instance        text not null,
  task_data            bytea,
  execution_time       timestamptz not null,
  picked               boolean not null,
  picked_by            text,
  last_success         timestamptz,
  last_failure         timestamptz,
  consecutive_failures int,
  last_heartbeat       timestamptz,
  version              bigint not null,
  priority             smallint,
  state                text,
  primary key (task_name, task_instance)
);
create index scheduled_tasks_execution on scheduled_tasks (execution_time);
