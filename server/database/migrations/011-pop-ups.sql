-- Pop-ups: small documents with the rules by which they open.
create table pop_up (
  id bigint generated always as identity primary key,
  name text not null,
  key text not null unique,
  -- Of two that are due the first in this order opens.
  position integer not null,
  published_version integer,
  published_at timestamptz,
  published_by text,
  archived_at timestamptz,
  created_at timestamptz not null
);

create table pop_up_version (
  pop_up_id bigint not null references pop_up on delete cascade,
  number integer not null,
  content jsonb not null,
  revision integer not null default 1,
  made_at timestamptz not null,
  made_by text not null,
  primary key (pop_up_id, number)
);
alter table pop_up
  add foreign key (id, published_version) references pop_up_version (pop_up_id, number) deferrable initially deferred;

create table pop_up_editor (
  pop_up_id bigint not null references pop_up on delete cascade,
  name text not null,
  seen_at timestamptz not null,
  primary key (pop_up_id, name)
);
