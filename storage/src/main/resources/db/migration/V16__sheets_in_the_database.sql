-- A row of the roster can bar its device.
alter table roster_entry drop constraint roster_entry_state_check;
alter table roster_entry add check (state in ('expected', 'arrived', 'withdrawn', 'barred'));

-- A sheet is kept as it was brought, so that any node can check it, and again when its columns are
-- matched otherwise. Sheets under way are brought again.
drop table roster_import_row;
drop table roster_import;
create table roster_import (
  id         text primary key,
  -- unmatched: no column names a device
  state      text not null check
    (state in ('receiving', 'unmatched', 'checking', 'checked', 'saved', 'failed')),
  reason     text not null default '',
  headings   text[] not null,
  -- the column of each heading; empty for one that is left out
  fields     text[] not null,
  profile_id text references enrollment_profile on delete cascade,
  total      int not null default 0,
  done       int not null default 0,
  -- up to which line it is checked
  reached    int not null default 0,
  sheet      text not null,
  created_at timestamptz not null,
  created_by text not null
);
create index roster_import_open on roster_import (created_at)
  where state in ('receiving', 'checking');
create table roster_import_row (
  import_id  text not null references roster_import on delete cascade,
  line       int not null,
  -- as brought: a JSON array of texts
  cells      text not null,
  serial     text,
  imei       text,
  asset      text,
  name       text not null default '',
  person     text not null default '',
  unit       text not null default '',
  site       text not null default '',
  tags       text[] not null default '{}',
  profile    text not null default '',
  -- what the sheet says of its state; empty for nothing
  state      text not null default '',
  person_id  text,
  unit_id    text,
  site_id    text,
  profile_id text,
  -- the row of the roster it is about, as it was when it was checked
  entry_id   text,
  entry_at   timestamptz,
  becomes    text check (becomes in ('added', 'changed', 'same')),
  notes      text[] not null default '{}',
  faults     text[] not null default '{}',
  primary key (import_id, line)
);
create index roster_import_row_serial on roster_import_row (import_id, serial);
create index roster_import_row_imei on roster_import_row (import_id, imei);
create index roster_import_row_asset on roster_import_row (import_id, asset);
