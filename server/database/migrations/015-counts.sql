-- How an email was read, as far as that can be told.
alter table message
  -- What it was opened on first: a hint, by what the mail program says of itself.
  add device text check (device in ('phone', 'tablet', 'computer')),
  -- Its picture was asked for by a machine; a person may have opened it besides.
  add machine_opened_at timestamptz;
create index activity_unsubscribed on activity ((details->'message')) where kind = 'unsubscribed';
