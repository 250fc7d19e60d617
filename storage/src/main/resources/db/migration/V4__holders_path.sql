-- what a holder goes through ----------------------------------------------------------------------
alter table enrollment_profile add directory_group text;
alter table enrollment_profile add first_run jsonb not null
  default '{"skipped": [], "language": "", "region": "", "wallpaper": ""}';
alter table enrollment_profile add ready_gate jsonb not null
  default '{"profiles": false, "osVersions": {}}';
alter table enrollment_profile add removable boolean not null default false;
alter table enrollment_profile add comes_back boolean not null default true;
-- deleted ones stay on file for the devices that joined by them
alter table enrollment_profile add removed_at timestamptz;
alter table enrollment_profile drop constraint enrollment_profile_name_key;
create unique index enrollment_profile_name on enrollment_profile (name) where removed_at is null;

-- an enrollment profile as it was, each time it was written
create table enrollment_profile_version (
  profile_id text not null references enrollment_profile on delete cascade,
  number     int not null,
  content    jsonb not null,
  written_at timestamptz not null,
  written_by text not null,
  primary key (profile_id, number)
);
create index invitation_profile on invitation (profile_id);
create index device_enrollment_profile on device (enrollment_profile_id);

alter table device add enrollment_version int;
-- the ready gate a device is at; none when it has been handed over
alter table device add ready_gate jsonb;
-- what it was last told of the gate
alter table device add gate_told text;
create index device_at_gate on device (id) where ready_gate is not null;

alter table terms add language text not null default 'en';
create table terms_translation (
  version  int not null references terms,
  language text not null,
  title    text not null,
  text     text not null,
  primary key (version, language)
);
create table terms_acceptance (
  id          bigint generated always as identity primary key,
  version     int not null references terms,
  device_id   text not null references device on delete cascade,
  person_id   text references person on delete set null,
  language    text not null,
  accepted_at timestamptz not null
);
create index terms_acceptance_version on terms_acceptance (version, id desc);
create index terms_acceptance_device on terms_acceptance (device_id, id desc);

-- an attempt is known again by its device and profile, whatever way it came
create index arrival_of_profile on arrival (profile_id, device_key);
