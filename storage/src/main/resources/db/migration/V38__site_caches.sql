-- A cache at a site, which fetches packages once and gives them to the devices there.
create table site_cache (
  site_id        text primary key references site on delete cascade,
  version        int not null,
  address        text not null,
  -- common name of its certificate
  name           text not null unique,
  password_hash  text,
  password_until timestamptz,
  -- serial number of the certificate that was issued last
  certificate    text,
  not_after      timestamptz,
  working        boolean not null,
  changed_at     timestamptz not null,
  fault          text not null,
  line_bytes     bigint not null default 0,
  served_bytes   bigint not null default 0
);

-- what was counted since it was summed up last: bytes over the line to the cache, and bytes devices have from it
create table site_cache_use (
  site_id text not null references site_cache on delete cascade,
  line    bigint not null,
  served  bigint not null
);
