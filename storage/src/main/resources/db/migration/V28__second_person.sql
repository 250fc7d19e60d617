-- From how many devices on what is asked before they are changed; one row, once the owner has set it.
create table thresholds (
  only_one boolean primary key default true check (only_one),
  version  integer not null,
  number   bigint not null,
  reason   bigint,
  second   bigint
);

alter table change add column reason text;
alter table change add column agreed_by text;

-- Rehearsals that were saved for a second person's word.
--   intent     what is to be done
--   rehearsal  what it would do, as it was when it was proposed
create table proposal (
  id          text primary key,
  version     integer not null,
  title       text not null,
  intent      jsonb not null,
  note        text not null,
  rehearsal   jsonb not null,
  state       text not null,
  proposed_at timestamptz not null,
  proposed_by text not null,
  proposer_id text not null,
  decided_at  timestamptz,
  decided_by  text,
  reason      text,
  change_id   text references change on delete set null
);
create index proposal_waiting on proposal (id desc) where state = 'waiting';
