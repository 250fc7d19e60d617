-- What people write is counted, so that nobody overwrites what they have not seen.
alter table attribute add column version int not null default 0;
alter table connection add column version int not null default 0;
-- of a gateway by itself: its row is written by every reading of the registrar too
alter table gateway add column edited int not null default 0;
