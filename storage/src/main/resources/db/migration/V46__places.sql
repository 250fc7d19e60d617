-- Outlines of sites, with the box around each.
--   outline  longitude and latitude of each corner, one after the other
alter table site add column outline double precision[];
alter table site add column south double precision;
alter table site add column west double precision;
alter table site add column north double precision;
alter table site add column east double precision;

-- Where each device was last, for maps; the site whose outline it was in.
create table last_position (
  device_id text primary key references device on delete cascade,
  at        timestamptz not null,
  latitude  double precision not null,
  longitude double precision not null,
  accuracy  double precision,
  source    text not null,
  until     timestamptz not null,
  site_id   text references site on delete set null
);
create index last_position_place on last_position (latitude, longitude);
create index last_position_until on last_position (until);
insert into last_position (device_id, at, latitude, longitude, accuracy, source, until)
select distinct on (device_id) device_id, at, latitude, longitude, accuracy, source, until
  from device_position order by device_id, at desc;

-- What is drawn under the devices; one row once somebody has chosen.
create table house_map (
  only_one    boolean primary key default true check (only_one),
  version     integer not null,
  kind        text not null,
  address     text not null,
  layers      text not null,
  attribution text not null,
  drawing     text
);

-- Who looked at where devices are, and when that was told last.
create table map_look (
  account_id text primary key,
  at         timestamptz not null
);
