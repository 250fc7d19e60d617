-- how each account likes its lists: columns and saved views
create table list_layout (
  account_id text not null references account on delete cascade,
  list       text not null,
  content    jsonb not null,
  primary key (account_id, list)
);
