-- at a site with a slow line, packages above a size come in at certain times of the week only
alter table site
  add column large_above_mb integer check (large_above_mb >= 0),
  add column large_hours    text,
  add check ((large_above_mb is null) = (large_hours is null));
