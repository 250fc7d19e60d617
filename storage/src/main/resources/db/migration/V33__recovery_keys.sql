-- The number of the key that a device's disk opens with: it rises when somebody saw the one before.
alter table device_self add column recovery_number int not null default 1;

create function own_of_recovery() returns trigger language plpgsql as $$
begin
  insert into own_due values (new.device_id);
  return null;
end $$;
create trigger own_of_recovery after update of recovery_number on device_self
  for each row when (old.recovery_number <> new.recovery_number) execute function own_of_recovery();

-- what laptops hold anew: whom they wrap their keys for
insert into own_due select id from device where kind = 'laptop' and retired_at is null;

-- Keys that open disks, as the devices wrapped them; that which opens the wrapping is sealed elsewhere.
create table recovery_key (
  device_id   text not null references device on delete cascade,
  number      int not null,
  wrapped     bytea not null,
  received_at timestamptz not null,
  shown_at    timestamptz,
  shown_by    text,
  primary key (device_id, number)
);

alter table authority drop constraint authority_kind_check;
alter table authority add constraint authority_kind_check check (kind in ('root', 'server', 'recovery'));
