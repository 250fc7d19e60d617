-- when a lost device went missing, and the site at which it rings by itself
alter table lost_case
  add column lost_at      timestamptz,
  add column ring_site_id text references site on delete set null,
  add column rung_at      timestamptz;
create index lost_case_rings on lost_case (ring_site_id) where ring_site_id is not null;
