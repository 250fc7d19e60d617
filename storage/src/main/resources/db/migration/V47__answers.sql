-- What a holder answered, and when a message was read.
alter table command add column answer text;
alter table command add column read_at timestamptz;
