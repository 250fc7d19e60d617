-- Where devices of the organisation were, while a profile asks for it.
create table device_position (
  device_id text not null references device on delete cascade,
  at        timestamptz not null,
  latitude  double precision not null,
  longitude double precision not null,
  accuracy  double precision,
  source    text not null,
  until     timestamptz not null,
  primary key (device_id, at)
);
create index device_position_until on device_position (until);
