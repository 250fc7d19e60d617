-- What may still expire; a command that waits for its hours to come round again may as well.
drop index command_open;
create index command_open on command (expires_at) where state in ('planned', 'queued', 'delivered');
