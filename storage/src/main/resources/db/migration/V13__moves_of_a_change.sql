-- What each change moved: the moves it is made of, and which device made which. A move is written
-- once and not with every device, and devices are found by their change alone: of a change of a
-- hundred thousand devices most of the time was spent on keeping both.
create table change_move (
  change_id  text not null,
  nr         int  not null,
  from_shape text,
  to_shape   text not null,
  primary key (change_id, nr)
);

insert into change_move
select change_id, row_number() over (partition by change_id order by from_shape, to_shape),
       from_shape, to_shape
  from (select distinct change_id, from_shape, to_shape from change_device) m;

alter table change_device add column move int;
update change_device d set move = m.nr
  from change_move m
 where m.change_id = d.change_id and m.to_shape = d.to_shape
   and m.from_shape is not distinct from d.from_shape;
alter table change_device
  alter column move set not null,
  drop constraint change_device_pkey, drop column from_shape, drop column to_shape;
create index change_device_change on change_device (change_id);
