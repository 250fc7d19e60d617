-- The two roles a node needs: pinwright_owner owns the database and migrates it when a node starts,
-- pinwright_service reads and writes rows, and can neither alter a table nor change the journal.
-- Run by psql, by a superuser, in the database that is to be Pinwright's; it may be run again:
--   PINWRIGHT_DB_OWNER_PASSWORD=… PINWRIGHT_DB_PASSWORD=… psql -d pinwright -f roles.sql
\set ON_ERROR_STOP on
\getenv owner_password PINWRIGHT_DB_OWNER_PASSWORD
\getenv service_password PINWRIGHT_DB_PASSWORD

select format('create role %I login', role)
  from unnest(array['pinwright_owner', 'pinwright_service']) role
 where not exists (select from pg_roles where rolname = role) \gexec
alter role pinwright_owner password :'owner_password';
alter role pinwright_service password :'service_password';
alter database :"DBNAME" owner to pinwright_owner;

-- what a superuser made in here while there was no role of its own for it
select format('alter %s %s owner to pinwright_owner',
              case relkind when 'S' then 'sequence' else 'table' end, c.oid::regclass)
  from pg_class c
 where relnamespace = 'public'::regnamespace and relkind in ('r', 'p', 'v', 'S')
   and relowner <> 'pinwright_owner'::regrole
   and not exists (select from pg_depend d where d.objid = c.oid and d.deptype in ('a', 'i', 'e')) \gexec
select format('alter function %s owner to pinwright_owner', p.oid::regprocedure)
  from pg_proc p
 where pronamespace = 'public'::regnamespace and proowner <> 'pinwright_owner'::regrole
   and not exists (select from pg_depend d where d.objid = p.oid and d.deptype = 'e') \gexec
