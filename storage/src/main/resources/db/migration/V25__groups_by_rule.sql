-- who is in a group follows from what was picked, from its rule, and from the groups inside it
alter table device_group add column rule text;

create table group_pick (
  group_id  text not null references device_group on delete cascade,
  device_id text not null references device on delete cascade,
  primary key (group_id, device_id)
);
create index group_pick_device on group_pick (device_id);
insert into group_pick select group_id, device_id from group_member;

create table group_inside (
  group_id  text not null references device_group on delete cascade,
  inside_id text not null references device_group,
  primary key (group_id, inside_id)
);
create index group_inside_of on group_inside (inside_id);

-- what a rule names, so that it is neither deleted nor renamed under it
create table group_mention (
  group_id text not null references device_group on delete cascade,
  kind     text not null,
  ref      text not null,
  primary key (group_id, kind, ref)
);
create index group_mention_of on group_mention (kind, ref);
