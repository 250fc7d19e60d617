-- typed fields of one's own, on devices, people and units ------------------------------------------
create table attribute (
  id         text primary key,
  name       text not null,
  kind       text not null check (kind in ('device', 'person', 'unit')),
  type       text not null check (type in ('text', 'number', 'date', 'choice')),
  choices    text[] not null,
  created_at timestamptz not null
);
create unique index attribute_name on attribute (kind, lower(name));
create table attribute_value (
  attribute_id text not null references attribute on delete cascade,
  subject_id   text not null,
  value        text not null,
  primary key (attribute_id, subject_id)
);
create index attribute_value_subject on attribute_value (subject_id);
