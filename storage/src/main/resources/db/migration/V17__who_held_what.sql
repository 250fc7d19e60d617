-- Somebody who was taken out keeps a name, so that what they accepted and held can be told; nothing
-- else of them is kept. left_at: since when the staff directory has not got them any more.
alter table person add removed_at timestamptz, add left_at timestamptz;
create index person_left on person (left_at) where left_at is not null and removed_at is null;

-- Who held a device from when to when; written by the database, whatever hands a device over.
create table device_holder (
  device_id text not null references device on delete cascade,
  person_id text not null references person,
  since     timestamptz not null,
  until     timestamptz
);
create index device_holder_device on device_holder (device_id, since);
create index device_holder_person on device_holder (person_id, since);
insert into device_holder (device_id, person_id, since)
  select id, person_id, enrolled_at from device where person_id is not null and retired_at is null;
insert into device_holder (device_id, person_id, since, until)
  select id, person_id, enrolled_at, retired_at from device
   where person_id is not null and retired_at is not null;

create function note_holder() returns trigger language plpgsql as $$
begin
  update device_holder set until = now() where device_id = new.id and until is null;
  if new.person_id is not null and new.retired_at is null then
    insert into device_holder (device_id, person_id, since) values (new.id, new.person_id, now());
  end if;
  return null;
end $$;
create trigger device_first_holder after insert on device
  for each row when (new.person_id is not null) execute function note_holder();
create trigger device_other_holder after update of person_id, retired_at on device
  for each row when (new.person_id is distinct from old.person_id
                     or (new.retired_at is null) <> (old.retired_at is null))
  execute function note_holder();
