-- who ended a device's management, and when the device itself heard of it and let go
alter table device add column retired_by text, add column let_go_at timestamptz;
-- whoever has not heard of it is looked for again and again
create index device_to_let_go on device (retired_at) where retired_at is not null and let_go_at is null;

-- the groups a device was picked for when its management ended: they are given back when it returns
create table group_left (
  device_id text not null references device (id) on delete cascade,
  group_id  text not null,
  name      text not null,
  primary key (device_id, group_id)
);
