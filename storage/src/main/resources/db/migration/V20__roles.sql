-- The role that serves owns no table, so it may not analyze one: this does it in the owner's name.
create function analyze_roster_sheet() returns void language sql security definer
  set search_path = public as 'analyze roster_import_row';
