-- Search by any part of an address or name.
create extension if not exists pg_trgm;

alter table contact
  add phone text,
  add language text,
  -- Own fields by id: {"3": "Coptic"}.
  add fields jsonb not null default '{}',
  -- Where the first visit came from.
  add source jsonb not null default '{}',
  add paused_until timestamptz,
  add import_id bigint,
  -- What search looks in; each word begins after a space.
  add search_key text generated always as (' ' || lower(address || ' ' || first_name || ' ' || last_name)) stored,
  -- What the list sorts by; who has no name comes last.
  add name_key text collate "C" generated always as (
    coalesce(nullif(lower(btrim(first_name || ' ' || last_name)), ''), U&'\+10FFFF')) stored;
-- The planner must know rare names from common ones to choose how to find them.
alter table contact alter column search_key set statistics 1000;
create index contact_search on contact using gin (search_key gin_trgm_ops);
create index contact_by_name on contact (name_key, id) where not rehearsal;
create index contact_by_address on contact (address_key collate "C", id) where not rehearsal;
create index contact_of_import on contact (import_id) where import_id is not null;

-- An address that a person had before they were merged: who writes from it is still that person.
create table other_address (
  address_key text primary key,
  address text not null,
  contact_id bigint not null references contact on delete cascade,
  at timestamptz not null
);
create index other_address_of_contact on other_address (contact_id);

-- People who must not come back: an address as a keyed hash, so that the list tells nobody who is on it.
create table suppression (
  address_hash bytea primary key,
  reason text not null check (reason in ('erased', 'listed')),
  at timestamptz not null
);

create table field (
  id bigint generated always as identity primary key,
  name text not null,
  name_key text generated always as (lower(name)) stored unique,
  kind text not null check (kind in ('text', 'number', 'date', 'yesNo', 'oneOf', 'manyOf')),
  options jsonb not null default '[]',
  archived_at timestamptz,
  created_at timestamptz not null
);

-- When a worker took the message to send it: no other takes it meanwhile.
alter table message add taken_at timestamptz;

alter table tag add description text not null default '';

create table topic (
  id bigint generated always as identity primary key,
  name text not null,
  name_key text generated always as (lower(name)) stored unique,
  description text not null default '',
  archived_at timestamptz,
  created_at timestamptz not null
);

create table contact_topic (
  contact_id bigint not null references contact on delete cascade,
  topic_id bigint not null references topic on delete cascade,
  agreed boolean not null,
  at timestamptz not null,
  by text not null,
  primary key (contact_id, topic_id)
);
create index contact_topic_agreed on contact_topic (topic_id, contact_id) where agreed;

alter table consent add topic_id bigint references topic on delete set null, add import_id bigint;
create index consent_of_import on consent (import_id) where import_id is not null;

create table segment (
  id bigint generated always as identity primary key,
  name text not null,
  name_key text generated always as (lower(name)) stored unique,
  tree jsonb not null,
  created_at timestamptz not null,
  updated_at timestamptz not null
);

-- How many people a segment had, a row a day.
create table segment_count (
  segment_id bigint not null references segment on delete cascade,
  day date not null,
  people bigint not null,
  primary key (segment_id, day)
);

create table scorecard (
  id bigint generated always as identity primary key,
  name text not null,
  name_key text generated always as (lower(name)) stored unique,
  card jsonb not null,
  -- Rules that take the place of `card` once everybody's score has been worked out by them.
  next_card jsonb,
  created_at timestamptz not null,
  updated_at timestamptz not null
);

-- A score at any moment: steady + sum of fading[i] * 0.5 ^ (age / half-life i of the card).
create table contact_score (
  -- No foreign keys: their checks take half the time of writing a million scores. Who deletes a person or a
  -- scorecard deletes the scores too.
  scorecard_id bigint not null,
  contact_id bigint not null,
  as_of timestamptz not null,
  steady float8 not null,
  fading float8[] not null,
  band text not null,
  -- When time alone moves the person into another band.
  crosses_at timestamptz,
  primary key (contact_id, scorecard_id)
);
create index contact_score_crossing on contact_score (crosses_at) where crosses_at is not null;

-- What people buy, answer and attend; each is filled by its own part of the product.
create table product (
  id bigint generated always as identity primary key,
  name text not null,
  created_at timestamptz not null
);
create table quiz (
  id bigint generated always as identity primary key,
  name text not null,
  created_at timestamptz not null
);
create table live_session (
  id bigint generated always as identity primary key,
  name text not null,
  created_at timestamptz not null
);

-- Work that takes longer than a request: what it is, how far it is, and what came of it.
create table long_work (
  id bigint generated always as identity primary key,
  kind text not null,
  title text not null,
  state text not null default 'waiting' check (state in ('waiting', 'running', 'done', 'cancelled', 'failed')),
  wish jsonb not null default '{}',
  done bigint not null default 0,
  total bigint,
  step text not null default '',
  result jsonb,
  cancel_asked boolean not null default false,
  created_at timestamptz not null,
  ended_at timestamptz
);
create index long_work_open on long_work (id) where state in ('waiting', 'running');

create table import (
  id bigint generated always as identity primary key,
  file_name text not null,
  size bigint not null,
  -- How the file is to be read: encoding, delimiter, column names, samples.
  format jsonb not null,
  choices jsonb,
  state text not null check (state in ('uploaded', 'checking', 'checked', 'running', 'done', 'undoing', 'undone')),
  counts jsonb,
  work_id bigint references long_work,
  created_at timestamptz not null,
  ended_at timestamptz
);

-- The bytes of an uploaded file: in the database, so that any worker on any machine can read them.
create table import_chunk (
  import_id bigint not null references import on delete cascade,
  n int not null,
  data bytea not null,
  primary key (import_id, n)
);
alter table import_chunk alter column data set storage external;

-- What people were before an import changed them, so that it can be undone.
create table import_change (
  import_id bigint not null references import on delete cascade,
  contact_id bigint not null references contact on delete cascade,
  before jsonb not null,
  after jsonb not null,
  primary key (import_id, contact_id)
);
