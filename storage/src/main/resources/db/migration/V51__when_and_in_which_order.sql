-- When each command is sent, which is another moment in another zone.
--   due_at    planned until then
--   until_at  the end of the hours it may be delivered in; then it is planned for the next ones
--   rank      its place among those that wait for its device; those nobody placed come last
alter table command add column due_at timestamptz;
alter table command add column until_at timestamptz;
alter table command add column rank bigint not null default 1000000;
update command c set due_at = d.due_at from dispatch d
 where d.id = c.dispatch_id and c.state = 'planned';
drop index dispatch_due;
create index command_due on command (due_at) where state = 'planned';
create index command_until on command (until_at) where state = 'queued' and until_at is not null;

--   window_from, window_to  hours of every day, where each device is
--   zone                    of devices that do not tell theirs
alter table dispatch add column window_from text;
alter table dispatch add column window_to text;
alter table dispatch add column zone text;
alter table dispatch add column not_in_use boolean not null default false;
