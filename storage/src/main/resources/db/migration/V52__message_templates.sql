-- Words that are used again: what is filled in of a command, in all its languages.
create table message_template (
  id      text primary key,
  version integer not null,
  name    text not null,
  command text not null,
  fields  jsonb not null,
  made_by text not null
);
create unique index message_template_name on message_template (lower(name));
