-- how each account likes its lists: columns and saved views
create table list_layout (
  account_id text not null references account on delete cascade,
  list       text not null,
  content    jsonb not null,
  primary key (account_id, list)
);

-- wrong tries at a secret within a window, counted over all nodes
create unlogged table failed_try (
  scope text not null,
  key   text not null,
  tries int not null,
  until timestamptz not null,
  primary key (scope, key)
);
create index failed_try_until on failed_try (until);
