-- What is each device's own and is told to it alone: the name, the place, the holder, attributes, secrets.
--   desired   digest of what the device should hold
--   told_for  the desired digest the device has given its last word about, and accepted what it holds since
create table device_self (
  device_id   text primary key references device on delete cascade,
  desired     text,
  told_for    text,
  accepted    text,
  exit_secret bytea
);

-- Devices something of that changed of since it was worked out; a device may be there more than once. Rows are
-- only ever added and taken away, so that whoever changes a unit of thousands waits for no session.
create table own_due (device_id text not null);
create index own_due_device on own_due (device_id);

insert into device_self (device_id) select id from device;
insert into own_due select id from device;

-- whoever changes what devices are told of themselves, it is noted here, so that nobody can forget to
create function own_of_device() returns trigger language plpgsql as $$
begin
  if tg_op = 'INSERT' then
    insert into device_self (device_id) values (new.id);
  end if;
  insert into own_due values (new.id);
  return null;
end $$;
create trigger own_of_new_device after insert on device for each row execute function own_of_device();
create trigger own_of_changed_device after update of name, asset, unit_id, site_id, person_id, mode on device
  for each row when ((old.name, old.asset, old.unit_id, old.site_id, old.person_id, old.mode)
    is distinct from (new.name, new.asset, new.unit_id, new.site_id, new.person_id, new.mode))
  execute function own_of_device();

create function own_of_holder() returns trigger language plpgsql as $$
begin
  insert into own_due select id from device where person_id = new.id and retired_at is null;
  return null;
end $$;
create trigger own_of_changed_holder after update of name, login, mail on person
  for each row when ((old.name, old.login, old.mail) is distinct from (new.name, new.login, new.mail))
  execute function own_of_holder();

create function own_of_unit() returns trigger language plpgsql as $$
begin
  insert into own_due select id from device where unit_id = new.id and retired_at is null;
  return null;
end $$;
create trigger own_of_changed_unit after update of name on unit
  for each row when (old.name is distinct from new.name) execute function own_of_unit();

create function own_of_site() returns trigger language plpgsql as $$
begin
  insert into own_due select id from device where site_id = new.id and retired_at is null;
  return null;
end $$;
create trigger own_of_changed_site after update of name on site
  for each row when (old.name is distinct from new.name) execute function own_of_site();

create function own_of_attributes() returns trigger language plpgsql as $$
begin
  insert into own_due select distinct subject_id from changed join device_self on device_id = subject_id;
  return null;
end $$;
create trigger own_of_new_attributes after insert on attribute_value
  referencing new table as changed for each statement execute function own_of_attributes();
create trigger own_of_changed_attributes after update on attribute_value
  referencing new table as changed for each statement execute function own_of_attributes();
create trigger own_of_gone_attributes after delete on attribute_value
  referencing old table as changed for each statement execute function own_of_attributes();

create function own_of_attribute_name() returns trigger language plpgsql as $$
begin
  insert into own_due select subject_id from attribute_value join device_self on device_id = subject_id
   where attribute_id = new.id;
  return null;
end $$;
create trigger own_of_changed_attribute_name after update of name on attribute
  for each row when (old.name is distinct from new.name) execute function own_of_attribute_name();
