-- Messages wait in the table itself: workers claim those that are due, the most urgent first.
alter table message
  -- On the business's clock. What was queued before this has been due since.
  add due_at timestamptz not null default '-infinity',
  -- What somebody waits for goes before what they agreed to get some day, and that before what goes to many.
  add priority smallint not null
    generated always as (case when purpose = 'transactional' then 0 when broadcast_id is null then 1 else 2 end) stored,
  -- When a mail server first could not take it: it is tried for two days from then.
  add first_tried_at timestamptz,
  -- What a worker has is locked while it has it.
  drop column taken_at;
create index message_due on message (priority, due_at, id) where state = 'queued';

-- Their jobs are not done by anybody any more.
do $$ begin
  if to_regclass('graphile_worker._private_jobs') is not null then
    delete from graphile_worker._private_jobs where key like 'message:%' and locked_at is null;
  end if;
end $$;
