-- Where people who hold devices are signed in to their own page, by a hash of what their browser keeps.
create table holder_sign_in (
  token_hash text primary key,
  person_id  text not null references person on delete cascade,
  csrf       text not null,
  expires_at timestamptz not null
);
create index holder_sign_in_expires on holder_sign_in (expires_at);
