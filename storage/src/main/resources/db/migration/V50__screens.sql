-- Looking at a device's screen together with its holder: who and how long, never what.
--   node     where the device is to open its screen: the node at which somebody is there to look
--   seen_at  when that node last said that it goes on
create table assist (
  dispatch_id text primary key references dispatch on delete cascade,
  command_id  text not null unique references command on delete cascade,
  device_id   text not null references device on delete cascade,
  account_id  text not null,
  shows       text not null,
  taps        boolean not null,
  watched_at  timestamptz,
  node        text,
  begun_at    timestamptz,
  seen_at     timestamptz,
  ended_at    timestamptz,
  ended_by    text
);
create index assist_going on assist (watched_at) where watched_at is not null and ended_at is null;
create index assist_device on assist (device_id, dispatch_id desc);

-- Pictures of screens, until they are too old.
create table screenshot (
  command_id text primary key references command on delete cascade,
  device_id  text not null references device on delete cascade,
  shows      text not null,
  taken_at   timestamptz not null,
  until      timestamptz not null,
  sha256     text not null,
  media_type text not null,
  picture    bytea not null
);
create index screenshot_device on screenshot (device_id, command_id desc);
create index screenshot_until on screenshot (until);

-- What a command brought back, such as what a script wrote.
create table command_output (
  command_id text primary key references command on delete cascade,
  output     text not null
);
