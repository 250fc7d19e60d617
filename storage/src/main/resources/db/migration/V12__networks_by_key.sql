-- a profile can have several networks: the one each had is called "network"
update profile set draft = jsonb_set(draft, '{settings}',
  (select coalesce(jsonb_object_agg(regexp_replace(key, '^wifi\.', 'wifi[network].'), value), '{}')
     from jsonb_each(draft -> 'settings')))
 where exists (select 1 from jsonb_object_keys(draft -> 'settings') k where k like 'wifi.%');
update profile_version set content = jsonb_set(content, '{settings}',
  (select coalesce(jsonb_object_agg(regexp_replace(key, '^wifi\.', 'wifi[network].'), value), '{}')
     from jsonb_each(content -> 'settings')))
 where exists (select 1 from jsonb_object_keys(content -> 'settings') k where k like 'wifi.%');
