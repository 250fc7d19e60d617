-- Accounts can be changed and shut, and their sign-ins listed and ended: by an id, as the token's hash
-- is nobody's business.
alter table account add column version int not null default 1, add column disabled_at timestamptz;
alter table sign_in add column id text;
update sign_in set id = md5(token_hash);
alter table sign_in alter column id set not null;
create unique index sign_in_id on sign_in (id);
create index sign_in_account on sign_in (account_id);
