-- the commands of a dispatch in their order, and the few that went wrong among very many
drop index command_dispatch;
create index command_dispatch on command (dispatch_id, id desc) include (state);
create index command_went_wrong on command (id desc) where state in ('failed', 'expired');
