-- What is each device's own and is told to it alone: the name, the place, the holder, attributes, secrets.
--   due       something of it changed since it was worked out
--   desired   digest of what the device should hold
--   told_for  the desired digest the device has given its last word about, and accepted what it holds since
create table device_self (
  device_id   text primary key references device on delete cascade,
  due         boolean not null default true,
  desired     text,
  told_for    text,
  accepted    text,
  exit_secret bytea
);
create index device_self_due on device_self (device_id) where due;
insert into device_self (device_id) select id from device;

-- whoever changes what devices are told of themselves, it is noted here, so that nobody can forget to
create function own_of_devices_due(ids text[]) returns void language sql as $$
  update device_self set due = true
   where device_id in (select s.device_id from device_self s where s.device_id = any(ids) and not s.due
                        order by s.device_id for update)
$$;

create function own_of_device() returns trigger language plpgsql as $$
begin
  if tg_op = 'INSERT' then
    insert into device_self (device_id) values (new.id);
  else
    update device_self set due = true where device_id = new.id and not due;
  end if;
  return null;
end $$;
create trigger own_of_new_device after insert on device for each row execute function own_of_device();
create trigger own_of_changed_device after update of name, asset, unit_id, site_id, person_id, mode on device
  for each row when ((old.name, old.asset, old.unit_id, old.site_id, old.person_id, old.mode)
    is distinct from (new.name, new.asset, new.unit_id, new.site_id, new.person_id, new.mode))
  execute function own_of_device();

create function own_of_holder() returns trigger language plpgsql as $$
begin
  perform own_of_devices_due(array(select id from device where person_id = new.id and retired_at is null));
  return null;
end $$;
create trigger own_of_changed_holder after update of name, login, mail on person
  for each row when ((old.name, old.login, old.mail) is distinct from (new.name, new.login, new.mail))
  execute function own_of_holder();

create function own_of_unit() returns trigger language plpgsql as $$
begin
  perform own_of_devices_due(array(select id from device where unit_id = new.id and retired_at is null));
  return null;
end $$;
create trigger own_of_changed_unit after update of name on unit
  for each row when (old.name is distinct from new.name) execute function own_of_unit();

create function own_of_site() returns trigger language plpgsql as $$
begin
  perform own_of_devices_due(array(select id from device where site_id = new.id and retired_at is null));
  return null;
end $$;
create trigger own_of_changed_site after update of name on site
  for each row when (old.name is distinct from new.name) execute function own_of_site();

create function own_of_attributes() returns trigger language plpgsql as $$
begin
  if tg_op = 'DELETE' then
    perform own_of_devices_due(array(select distinct subject_id from was));
  else
    perform own_of_devices_due(array(select distinct subject_id from became));
  end if;
  return null;
end $$;
create trigger own_of_new_attributes after insert on attribute_value
  referencing new table as became for each statement execute function own_of_attributes();
create trigger own_of_changed_attributes after update on attribute_value
  referencing new table as became for each statement execute function own_of_attributes();
create trigger own_of_gone_attributes after delete on attribute_value
  referencing old table as was for each statement execute function own_of_attributes();

create function own_of_attribute_name() returns trigger language plpgsql as $$
begin
  perform own_of_devices_due(array(select subject_id from attribute_value where attribute_id = new.id));
  return null;
end $$;
create trigger own_of_changed_attribute_name after update of name on attribute
  for each row when (old.name is distinct from new.name) execute function own_of_attribute_name();
