-- A version of an app lies here as a package, or with the store it comes from.
alter table app_release alter column file_id drop not null;
alter table app_release add column sha256 text;
update app_release set sha256 = file_id;
alter table app_release alter column sha256 set not null;
alter table app_release add column address text;
alter table app_release add constraint app_release_whence check ((file_id is null) = (address is not null));

-- what a platform's store says of an app, as it was read last
create table store_app (
  app_id     text primary key references app on delete cascade,
  platform   text not null references gateway on delete cascade,
  licensing  text not null check (licensing in ('free', 'by-device', 'by-holder')),
  prices     jsonb not null,
  sold       boolean not null,
  read_at    timestamptz not null,
  -- devices or holders that are to have it and got no license the last time they were handed out
  lacking    bigint not null default 0
);

-- licenses of one app for one place, as the vendor's portal knows it
create table license_pool (
  id        text primary key,
  version   int not null,
  app_id    text not null references app on delete cascade,
  place     text not null,
  -- whose devices draw on it; null for those of every site
  site_id   text references site on delete set null,
  owned     bigint not null,
  -- given away in the portal, to devices or holders unknown here
  elsewhere bigint not null,
  fault     text not null default '',
  unique (app_id, place)
);

-- one license, held in the name of a device (its serial number) or of a holder (their mail address in small letters)
create table license (
  app_id    text not null references app on delete cascade,
  name      text not null,
  pool_id   text not null references license_pool on delete cascade,
  state     text not null check (state in ('asked', 'held', 'returning')),
  at        timestamptz not null,
  primary key (app_id, name)
);
create index license_pool_of on license (pool_id, state);

-- something changed that licenses follow from
create unlogged table license_due (
  at timestamptz not null
);

-- what holders picked from the shelf and have not got yet
create table app_wish (
  device_id text not null references device on delete cascade,
  app       text not null,
  at        timestamptz not null,
  primary key (device_id, app)
);
