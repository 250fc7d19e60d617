-- Commands that repeat, on behalf of whoever made them.
--   wanted  the order
create table standing_order (
  id            text primary key,
  version       integer not null,
  name          text not null,
  wanted        jsonb not null,
  command       text not null,
  whom          text not null,
  days          text[] not null,
  time          text not null,
  zone          text not null,
  minutes       bigint not null,
  paused        boolean not null,
  next_at       timestamptz,
  last_at       timestamptz,
  last_dispatch text references dispatch,
  fault         text not null default '',
  account_id    text not null,
  made_by       text not null
);
create unique index standing_order_name on standing_order (lower(name));
create index standing_order_next on standing_order (next_at) where next_at is not null;
