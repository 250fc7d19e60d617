-- A kit is a profile that takes others along; it says of itself only which files there are.
alter table profile add column kind text not null default 'profile' check (kind in ('profile', 'kit'));

-- Who assigned a profile: itself, or a kit. What a kit leaves out it leaves out of the kit alone.
alter table assignment add column source text references profile on delete cascade;
update assignment set source = profile_id;
alter table assignment alter column source set not null;
-- devices that are out of order go without
alter table assignment add column when_in_order boolean not null default false;
alter table assignment drop constraint assignment_pkey;
alter table assignment add primary key (profile_id, source, kind, ref, excluded);
create index assignment_source on assignment (source);

-- whether what goes along with kits only in order is withheld from a device
alter table device_state add column withheld boolean not null default false;
