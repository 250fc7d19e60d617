-- Wipes: what is known of each beyond its command.
--   before      what the device said it would take
--   after       what of it was there when it was read afterwards
--   denied_at   when it spoke as if nothing had happened
create table wipe (
  command_id  text primary key references command on delete cascade,
  device_id   text not null references device on delete cascade,
  kind        text not null check (kind in ('device', 'work')),
  retire      boolean not null default false,
  begun_at    timestamptz,
  proved_at   timestamptz,
  proof       text check (proof in ('blank', 'joined', 'read')),
  denied_at   timestamptz,
  revoked_at  timestamptz,
  revoked_by  text,
  restored_at timestamptz,
  before      text[] not null default '{}',
  after       text[] not null default '{}',
  check ((proved_at is null) = (proof is null)),
  check ((revoked_at is null) = (revoked_by is null))
);
create index wipe_device on wipe (device_id, command_id desc);

-- A device whose work part is wiped, or that erases itself, is to hold nothing; whatever is assigned.
alter table device_state add column emptied boolean not null default false;

-- Wipes may need a second person's word sooner; one person alone may wipe so many devices in an hour.
--   wiping  how many devices a dispatch wipes or releases
alter table thresholds add column wiping bigint;
alter table thresholds add column alone bigint not null default 10;
alter table dispatch add column agreed_by text;
alter table dispatch add column wiping int not null default 0;
create index dispatch_wiping on dispatch (at) where wiping > 0;

-- What is told a device of itself goes and comes with it.
create function own_of_emptied() returns trigger language plpgsql as $$
begin
  insert into own_due values (new.device_id);
  return null;
end $$;
create trigger own_of_emptied_device after update of emptied on device_state
  for each row when (old.emptied is distinct from new.emptied) execute function own_of_emptied();
