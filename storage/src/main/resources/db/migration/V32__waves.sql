-- Where among ten thousand a device comes; core.change.Wave decides the same.
create function wave_bucket(salt text, device text) returns int language sql immutable parallel safe as $$
  select cast(('x' || substr(encode(sha256(convert_to(salt || device, 'UTF8')), 'hex'), 1, 7))::bit(28) as int) % 10000
$$;

-- Published versions that have not reached everybody yet, wave by wave.
create table spreading (
  profile_id text primary key references profile on delete cascade,
  version    int not null,
  -- what devices have that are not reached yet; nothing before the first version
  before     int,
  plan       jsonb not null,
  salt       text not null,
  devices    bigint not null,
  step       int not null,
  reach      int not null,
  groups     text[] not null,
  state      text not null check (state in ('going', 'stopped')),
  reason     text not null default '',
  begun_at   timestamptz not null,
  -- of each wave so far the change that it was
  changes    text[] not null
);
