-- A deleted enrollment profile needs no unit, site or group any more: they may be deleted too.
update enrollment_profile set unit_id = null, site_id = null, groups = '{}' where removed_at is not null;
