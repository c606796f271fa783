-- One address that sends each person on, by rules.
create table junction (
  id bigint generated always as identity primary key,
  name text not null,
  path text not null unique,
  labels text[] not null default '{}',
  published_version integer,
  published_at timestamptz,
  published_by text,
  archived_at timestamptz,
  created_at timestamptz not null
);

create table junction_version (
  junction_id bigint not null references junction on delete cascade,
  number integer not null,
  content jsonb not null,
  revision integer not null default 1,
  made_at timestamptz not null,
  made_by text not null,
  primary key (junction_id, number)
);
alter table junction
  add foreign key (id, published_version) references junction_version (junction_id, number) deferrable initially deferred;

create table junction_editor (
  junction_id bigint not null references junction on delete cascade,
  name text not null,
  seen_at timestamptz not null,
  primary key (junction_id, name)
);

-- Links that were copied before a path changed lead on, and texts that name them.
create table junction_former_path (
  path text primary key,
  junction_id bigint not null references junction on delete cascade
);

-- How many passed by each rule on each day of the business: people who are known, and visitors whom nobody knows.
create table junction_pass (
  junction_id bigint not null references junction on delete cascade,
  day date not null,
  -- The id of the rule, or '-' for otherwise.
  rule text not null,
  known integer not null default 0,
  strangers integer not null default 0,
  primary key (junction_id, day, rule)
);

-- A link from a form to a junction sends somebody on once: who uses it again goes where it led first.
create table junction_entry (
  token_hash bytea primary key,
  rule text not null,
  at timestamptz not null
);
create index junction_entry_at on junction_entry (at);
