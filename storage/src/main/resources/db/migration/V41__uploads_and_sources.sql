-- A package on its way here, in parts that are there whole or not at all: whoever was cut off goes on where it stopped.
create table upload (
  id         text primary key,
  account_id text not null,
  bytes      bigint not null,
  begun_at   timestamptz not null
);
create table upload_part (
  upload_id text not null references upload on delete cascade,
  starts_at bigint not null,
  content   bytea not null,
  primary key (upload_id, starts_at)
);

-- where later versions of an app of one's own are looked for
create table app_source (
  app_id    text primary key references app on delete cascade,
  version   integer not null,
  address   text not null,
  release   text not null check (release in ('none', 'early', 'all')),
  handled   bigint not null,
  tag       text not null default '',
  looked_at timestamptz,
  fault     text not null default ''
);
