-- the number a sequence begins with
alter table sequence add first_number bigint not null default 1;

-- preparing many devices one after the other ---------------------------------------------------------
create table bench_session (
  id            text primary key,
  name          text not null,
  profile_id    text not null references enrollment_profile,
  invitation_id text not null unique references invitation,
  name_pattern  text not null,
  first_number  bigint not null,
  asset_prefix  text not null,
  group_id      text references device_group on delete set null,
  unit_id       text references unit,
  site_id       text references site,
  wifi_name     text not null,
  wifi_secret   bytea,
  erase         boolean not null,
  racks         int not null,
  open          boolean not null default true,
  created_at    timestamptz not null,
  created_by    text not null
);
create table bench_device (
  session_id   text not null references bench_session on delete cascade,
  serial       text not null,
  rack         int not null,
  slot         int not null,
  stage        text not null check (stage in ('plugged', 'erasing', 'erased', 'joined', 'refused')),
  reason       text not null default '',
  device_id    text references device on delete set null,
  plugged_at   timestamptz not null,
  changed_at   timestamptz not null,
  unplugged_at timestamptz,
  primary key (session_id, serial)
);
create index bench_device_slot on bench_device (session_id, rack, slot) where unplugged_at is null;
