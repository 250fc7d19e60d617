-- Devices that stand badly are few and asked for often. Those that settle or catch up are not in here,
-- so that a publication to everybody writes no entry.
create index device_state_rare on device_state (standing, device_id)
  where standing in ('drifted', 'blocked', 'silent');
