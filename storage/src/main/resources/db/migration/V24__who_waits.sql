-- Who waits for somebody is looked at every minute, among all who ever asked.
create index arrival_waits on arrival (started_at) where outcome = 'waiting' and not approved;
