-- Apps that come with the OS have one release of code 0, which says which platforms they come with; there is no package
-- of it. A release that is a page of the web says which it opens.
alter table app_release drop constraint app_release_whence;
alter table app_release add constraint app_release_whence
  check (case when code = 0 then file_id is null and address is null
              else (file_id is null) = (address is not null) end);
alter table app_release add column opens text;

-- what comes with the OS is blocked while it is forbidden, and let in again
alter table app_attempt drop constraint app_attempt_action_check;
alter table app_attempt add constraint app_attempt_action_check check (action in ('install', 'remove', 'activate'));

-- who signs what is made here
alter table authority drop constraint authority_kind_check;
alter table authority add constraint authority_kind_check check (kind in ('root', 'server', 'recovery', 'signer'));
