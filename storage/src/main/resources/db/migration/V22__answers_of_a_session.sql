-- Every message of the session at hand has its answer kept: whichever is repeated gets its own again.
create table dm_answer (
  device_id    text not null references dm_session on delete cascade,
  session_id   text not null,
  msg_id       int not null,
  request_hash text not null,
  response     bytea not null,
  primary key (device_id, session_id, msg_id)
);
insert into dm_answer select device_id, session_id, msg_id, request_hash, response from dm_session;
alter table dm_session drop column request_hash, drop column response;
