-- when a device was last seen within the outline of the site it belongs to, and which that was
alter table last_position
  add column home_at      timestamptz,
  add column home_site_id text references site on delete set null;
update last_position p
   set home_at = p.at, home_site_id = p.site_id
  from device d
 where d.id = p.device_id and d.site_id = p.site_id;
