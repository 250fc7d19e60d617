-- A command that is ordered for a time is planned until then, and queued from then on.
alter table command drop constraint command_state_check;
alter table command add constraint command_state_check
  check (state in ('planned', 'queued', 'delivered', 'done', 'failed', 'expired', 'cancelled'));
alter table dispatch add column due_at timestamptz;
create index dispatch_due on dispatch (due_at) where due_at is not null;
