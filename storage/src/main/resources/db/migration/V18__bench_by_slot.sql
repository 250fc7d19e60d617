-- Numbers on a bench go by slot: they are reserved for what is plugged in when the first of it joins.
alter table bench_device add reserved_key text, add reserved_number bigint;
-- A device that is managed is left alone until somebody says that it may be erased.
alter table bench_device add erase_said_by text;
alter table bench_device drop constraint bench_device_stage_check;
alter table bench_device add check
  (stage in ('plugged', 'held', 'erasing', 'erased', 'joined', 'refused'));
-- what the cable said last that cannot be
alter table bench_session add fault text not null default '';

-- who let an arrival in, or refused it
alter table arrival add settled_by text;
