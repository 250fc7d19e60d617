-- outgoing mail and the staff directory -------------------------------------------------------------
create table connection (
  kind       text primary key check (kind in ('mail', 'directory')),
  settings   jsonb not null,
  secret     bytea,
  checked_at timestamptz,
  fault      text not null default ''
);

alter table person add directory_key text unique;
alter table person add synced_at timestamptz;

-- whom an invitation is mailed to, and how that went
alter table invitation add mail text;
alter table invitation add mail_state text not null default 'none'
  check (mail_state in ('none', 'due', 'sent', 'failed'));
alter table invitation add mail_fault text not null default '';
alter table invitation add mailed_at timestamptz;
alter table invitation add mailed_times int not null default 0;
create index invitation_mail_due on invitation (id) where mail_state = 'due';
