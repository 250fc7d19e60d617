-- When a published profile reaches whom it is assigned to; outside of that it has no rows in "assignment".
alter table profile add column in_force boolean not null default true;
alter table profile add column in_force_from timestamptz;
alter table profile add column in_force_until timestamptz;
