-- A broadcast is planned, made ready, can be called back, goes out, pauses, and ends.
alter table broadcast
  -- Who is meant, as it was asked for: they are looked up when it is made ready.
  add who jsonb,
  -- How many would have got it as it was planned.
  add expected integer not null default 0,
  -- When it goes out, on the business's clock; in each reader's own zone it is the same local time there.
  add goes_at timestamptz,
  add reader_zone boolean not null default false,
  -- From then on its messages are made.
  add prepare_at timestamptz,
  add paused_by text,
  add called_back_by text,
  -- Sent again to those who did not open this one: once.
  add again_of bigint references broadcast,
  -- The share that gets one of the variants first (percent), what decides, and when; by whom it was decided.
  add test_share smallint,
  add test_by text check (test_by in ('opens', 'clicks', 'signUps')),
  add decide_at timestamptz,
  add decides_itself boolean not null default false,
  add winner smallint,
  add decided_by text;
update broadcast set goes_at = created_at, prepare_at = created_at;
alter table broadcast alter column goes_at set not null, alter column prepare_at set not null;
create index broadcast_to_prepare on broadcast (prepare_at) where work_id is null and called_back_by is null;
create index broadcast_to_decide on broadcast (decide_at) where decides_itself and winner is null and called_back_by is null;
create unique index broadcast_again on broadcast (again_of) where called_back_by is null;
create index broadcast_by_moment on broadcast (goes_at);

-- What the readers of a split test get; one alone when it is no test.
create table broadcast_variant (
  broadcast_id bigint not null references broadcast on delete cascade,
  number smallint not null,
  email_id bigint not null references email,
  -- In place of the email's own.
  subject text,
  sender_name text,
  primary key (broadcast_id, number)
);
create index broadcast_variant_of_email on broadcast_variant (email_id);
insert into broadcast_variant (broadcast_id, number, email_id) select id, 1, email_id from broadcast;

alter table message
  add variant smallint,
  -- It went to somebody of the share that a split test was tried on.
  add tested boolean not null default false,
  drop constraint message_state_check,
  -- Waiting: until a broadcast goes on, or its test is decided.
  add constraint message_state_check check (state in ('queued', 'waiting', 'sent', 'held', 'failed'));
