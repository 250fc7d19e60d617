-- Nobody agrees to what was asked for long ago: what was true then may not be any more.
alter table proposal add column lapses_at timestamptz;
update proposal set lapses_at = proposed_at + interval '14 days';
alter table proposal alter column lapses_at set not null;
