-- the connection to a platform's push, registrar and store ----------------------------------------
create table gateway (
  platform            text primary key,
  version             int not null,
  services            text not null,
  roots               text not null,
  push_request        text,
  push_request_key    bytea,
  push_certificate    text,
  push_key            bytea,
  push_account        text,
  push_topic          text,
  push_expires_at     timestamptz,
  -- the fewest days before the end that somebody was told of
  push_told           int,
  push_fault          text not null default '',
  registrar_token     bytea,
  registrar_account   text,
  registrar_synced_at timestamptz,
  registrar_fault     text not null default '',
  default_profile_id  text references enrollment_profile,
  store_token         bytea,
  store_account       text,
  store_checked_at    timestamptz,
  store_fault         text not null default ''
);

-- devices that resellers registered for the organisation
create table registrar_device (
  platform      text not null references gateway on delete cascade,
  serial        text not null,
  imei          text,
  model         text not null,
  kind          text not null,
  order_number  text not null,
  registered_at timestamptz not null,
  assigned      boolean not null,
  primary key (platform, serial)
);
create index registrar_device_model on registrar_device (platform, assigned, serial);

-- nodes that are up; one not heard of for a while is gone
create unlogged table node (
  id       text primary key,
  heard_at timestamptz not null
);
-- where a device without an open socket can be woken (RFC 8030 push resource)
create table push_subscription (
  device_id text primary key references device on delete cascade,
  platform  text not null,
  endpoint  text not null,
  pushed_at timestamptz
);
-- which node holds a device's socket
create unlogged table open_socket (
  device_id text primary key,
  node_id   text not null
);

-- what somebody should know, each said once
create table house_notice (
  id        text primary key,
  key       text not null unique,
  title     text not null,
  detail    text not null,
  link      text not null,
  urgent    boolean not null,
  at        timestamptz not null,
  mailed_at timestamptz,
  over_at   timestamptz
);
create index house_notice_open on house_notice (id desc) where over_at is null;
