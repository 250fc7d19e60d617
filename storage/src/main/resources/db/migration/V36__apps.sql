-- Apps, whatever they come from, and what is known of each version.
create table app (
  id          text primary key,
  version     integer not null,
  key         text not null unique check (key ~ '^[a-z0-9-]{1,32}$'),
  package_id  text not null unique,
  name        text not null,
  publisher   text not null,
  summary     text not null,
  category    text not null,
  origin      text not null check (origin in ('package', 'store', 'system', 'web')),
  signer_name text,
  signer_key  text,
  icon        bytea,
  for_all     bigint,
  for_early   bigint,
  created_at  timestamptz not null,
  changed_at  timestamptz not null
);
create index app_by_name on app (lower(name), id);

-- one version of an app; what it says never changes
create table app_release (
  app_id        text not null references app on delete cascade,
  code          bigint not null,
  version       text not null,
  lowest        jsonb not null,
  permissions   text[] not null,
  bytes         bigint not null,
  installed     bigint not null,
  notes         text not null,
  configuration jsonb,
  file_id       text not null references stored_file,
  brought_at    timestamptz not null,
  brought_by    text not null,
  primary key (app_id, code)
);
create index app_release_file on app_release (file_id);

-- A profile of the kind app assigns one app.
alter table profile drop constraint profile_kind_check;
alter table profile add constraint profile_kind_check check (kind in ('profile', 'kit', 'app'));
alter table profile add column app_id text references app;
alter table profile add constraint profile_app check ((kind = 'app') = (app_id is not null));
create index profile_app on profile (app_id) where app_id is not null;

-- What a device should have besides its policy follows from its shape; the narrow table says which that is, what the
-- device told of its apps, and when to look at them although it tells nothing new.
alter table shape add column wanted text not null default '';
-- a shape in one line, as its key is made of it: it is read with every change, its profiles are joined to seldom
alter table shape add column line text not null default '';
update shape s set line = concat_ws('|', s.platform, s.mode, s.os_level, coalesce((
  select string_agg(concat_ws(':', p.profile_id, p.version, p.nearness), ',' order by p.profile_id collate "C")
    from shape_profile p where p.shape_key = s.key), ''));
alter table shape alter column line drop default;
alter table device_state add column wanted text not null default '';
alter table device_state add column inventory text;
alter table device_state add column apps_due timestamptz;

-- the apps on devices, as they told them
create table device_app (
  device_id     text not null references device on delete cascade,
  app           text not null,
  name          text not null,
  version       text not null,
  active        boolean not null,
  managed       boolean not null,
  bytes         bigint not null,
  source        text not null,
  configuration text not null,
  node          text not null,
  primary key (device_id, app)
);
create index device_app_app on device_app (app, version);

-- the latest attempt to bring an app to a device or take it away
create table app_attempt (
  device_id     text not null references device on delete cascade,
  app           text not null,
  id            text not null,
  action        text not null check (action in ('install', 'remove')),
  release       bigint not null,
  configuration text not null,
  state         text not null check (state in ('sent', 'under-way', 'done', 'failed')),
  tries         integer not null,
  at            timestamptz not null,
  code          integer not null,
  reason        text not null,
  primary key (device_id, app)
);
create index app_attempt_app on app_attempt (app, state);

-- what a device was told its holder may pick, by path
create table device_shelf (
  device_id text primary key references device on delete cascade,
  told      jsonb not null
);
