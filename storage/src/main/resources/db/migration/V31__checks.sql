-- since when a device is in a group
alter table group_member add column since timestamptz not null default now();

-- A check: the devices of a group are not in order. Hours of its steps count since a device came into the group.
create table compliance_check (
  id             text primary key,
  version        int not null,
  name           text not null,
  group_id       text not null references device_group,
  own_group      boolean not null,
  advice         text not null,
  grace_hours    int not null,
  holder_hours   int,
  house_hours    int,
  withhold_hours int,
  created_at     timestamptz not null
);
create unique index compliance_check_name on compliance_check (lower(name));
create index compliance_check_group on compliance_check (group_id);

-- How a device is with the checks, as it was judged last; and whether it has yet to be told.
alter table device_state add column order_state text not null default 'in-order'
  check (order_state in ('in-order', 'in-grace', 'out-of-order'));
alter table device_state add column order_due boolean not null default false;
create index device_state_order on device_state (order_state) where order_state <> 'in-order';
create index device_state_order_due on device_state (device_id) where order_due;

-- What a device is told about it, and what it was told last: the state, and a line for each reason.
create table device_order (
  device_id text primary key references device on delete cascade,
  said      text not null,
  told      text not null default '',
  told_at   timestamptz
);
