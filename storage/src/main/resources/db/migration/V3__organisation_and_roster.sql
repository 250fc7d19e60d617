-- organisation -----------------------------------------------------------------------------------
create table unit (
  id         text primary key,
  version    int not null,
  code       text not null unique,
  name       text not null,
  parent_id  text references unit,
  created_at timestamptz not null
);
create index unit_parent on unit (parent_id);
-- which unit lies within which, itself included; kept with the tree
create table unit_within (
  unit_id     text not null references unit on delete cascade,
  ancestor_id text not null references unit on delete cascade,
  primary key (unit_id, ancestor_id)
);
create index unit_within_ancestor on unit_within (ancestor_id, unit_id);

create table site (
  id         text primary key,
  version    int not null,
  name       text not null unique,
  address    text not null,
  latitude   double precision,
  longitude  double precision,
  created_at timestamptz not null
);

create table person (
  id         text primary key,
  version    int not null,
  name       text not null,
  login      text unique,
  mail       text,
  unit_id    text references unit,
  site_id    text references site,
  created_at timestamptz not null,
  sought     text generated always as
    (lower(name || ' ' || coalesce(login, '') || ' ' || coalesce(mail, ''))) stored
);
create index person_by_name on person (lower(name), id);
create index person_sought on person using gin (sought gin_trgm_ops);
create index person_unit on person (unit_id);

alter table device add unit_id text references unit;
alter table device add site_id text references site;
alter table device add person_id text references person;
create index device_unit on device (unit_id);
create index device_site on device (site_id);
create index device_person on device (person_id);

create or replace view device_target (device_id, kind, ref) as
  select id, 'everyone', '' from device where retired_at is null
  union all
  select id, 'device', id from device where retired_at is null
  union all
  select device_id, 'group', group_id from group_member
  union all
  select device_id, 'tag', tag from device_tag
  union all
  select d.id, 'unit', w.ancestor_id
    from device d join unit_within w on w.unit_id = d.unit_id where d.retired_at is null
  union all
  select id, 'person', person_id from device where person_id is not null and retired_at is null;

-- roster -----------------------------------------------------------------------------------------
create table roster_entry (
  id         text primary key,
  version    int not null,
  serial     text,
  imei       text,
  asset      text,
  name       text not null default '',
  person_id  text references person on delete set null,
  unit_id    text references unit,
  site_id    text references site,
  tags       text[] not null default '{}',
  profile_id text references enrollment_profile,
  source     text not null,
  state      text not null check (state in ('expected', 'arrived', 'withdrawn')),
  device_id  text references device on delete set null,
  created_at timestamptz not null,
  changed_at timestamptz not null,
  sought     text generated always as
    (lower(coalesce(serial, '') || ' ' || coalesce(imei, '') || ' ' || coalesce(asset, '') || ' '
       || name)) stored
);
create unique index roster_serial on roster_entry (serial)
  where serial is not null and state <> 'withdrawn';
create unique index roster_imei on roster_entry (imei)
  where imei is not null and state <> 'withdrawn';
create unique index roster_asset on roster_entry (asset)
  where asset is not null and state <> 'withdrawn';
create index roster_newest on roster_entry (id desc);
create index roster_state on roster_entry (state, id desc);
create index roster_sought on roster_entry using gin (sought gin_trgm_ops);
create index roster_device on roster_entry (device_id);
create index roster_profile on roster_entry (profile_id);
create index roster_unit on roster_entry (unit_id);

-- a sheet that is being read; its rows wait here until they are taken over
create table roster_import (
  id         text primary key,
  state      text not null check (state in ('checking', 'checked', 'saved', 'failed')),
  reason     text not null default '',
  columns    json not null,
  profile_id text references enrollment_profile on delete cascade,
  total      int not null,
  done       int not null default 0,
  sheet      text not null,
  created_at timestamptz not null,
  created_by text not null
);
create table roster_import_row (
  import_id text not null references roster_import on delete cascade,
  line      int not null,
  serial    text,
  imei      text,
  asset     text,
  name      text not null,
  person    text not null,
  unit      text not null,
  site      text not null,
  tags      text[] not null,
  profile   text not null,
  person_id text,
  unit_id   text,
  site_id   text,
  profile_id text,
  notes     text[] not null,
  faults    text[] not null,
  primary key (import_id, line)
);
create index roster_import_row_serial on roster_import_row (import_id, serial);
create index roster_import_row_imei on roster_import_row (import_id, imei);
create index roster_import_row_asset on roster_import_row (import_id, asset);

-- names ------------------------------------------------------------------------------------------
create table sequence (
  key  text primary key,
  last bigint not null
);
create table sequence_number (
  key       text not null references sequence,
  number    bigint not null,
  device_id text references device on delete set null,
  taken_at  timestamptz not null,
  freed_at  timestamptz,
  primary key (key, number)
);
create index sequence_number_free on sequence_number (key, number) where freed_at is not null;
create index sequence_number_device on sequence_number (device_id);

alter table enrollment_profile add roster_only boolean not null default false;
alter table enrollment_profile add fill_gaps boolean not null default false;
alter table enrollment_profile add unit_id text references unit;
alter table enrollment_profile add site_id text references site;
alter table invitation add person_id text references person on delete set null;
create index invitation_person on invitation (person_id);
-- headings of sheets as somebody matched them, for the next sheet
create table roster_column (
  heading text primary key,
  field   text not null
);

-- arrivals: which refusal it was, so that they can be counted
alter table arrival add refusal text;
create index arrival_started on arrival (started_at);
