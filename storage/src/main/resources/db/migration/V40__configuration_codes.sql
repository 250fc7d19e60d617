-- What an app on a device that is not enrolled reads from a printed code of a unit. The code is kept as a hash to find it
-- and sealed to show it; secrets of the configuration are sealed and never shown.
create table configuration_code (
  id             text primary key,
  app_id         text not null references app on delete cascade,
  unit_id        text not null references unit on delete cascade,
  name           text not null,
  code_hash      text not null unique,
  sealed_code    bytea not null,
  configuration  text not null,
  sealed_secrets bytea,
  made_at        timestamptz not null,
  made_by        text not null,
  until          timestamptz not null,
  revoked_at     timestamptz,
  read_times     bigint not null default 0,
  read_at        timestamptz
);
create index configuration_code_app on configuration_code (app_id, id);
create index configuration_code_unit on configuration_code (unit_id);
