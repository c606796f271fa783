-- From whom emails come. Each has said by a click that mail may come from its address.
create table sender (
  id bigint generated always as identity primary key,
  name text not null,
  address text not null,
  address_key text not null unique,
  -- When it was last asked, and when it said yes; the first one of the business needs not be asked.
  asked_at timestamptz,
  confirmed_at timestamptz,
  created_at timestamptz not null
);
insert into sender (name, address, address_key, confirmed_at, created_at)
  select sender_name, sender_address, lower(sender_address), created_at, created_at from business;
alter table business
  -- Where an email names no other.
  add sender_id bigint references sender,
  -- How much is sent, and when.
  add sending jsonb not null default '{}';
update business set sender_id = (select id from sender order by id limit 1);
alter table business drop column sender_name, drop column sender_address, alter column sender_id set not null;

alter table message
  -- When it was due before the sending rules moved it.
  add moved_from timestamptz,
  -- Somebody wants it out at once, whatever the rules say.
  add hurried boolean not null default false;
