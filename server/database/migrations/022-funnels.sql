-- A funnel ties pages together and owns none of them: what stands on its line is named, and what hangs below it (forms,
-- follow-ups, emails) is found by what these name themselves.
create table funnel (
  id bigint generated always as identity primary key,
  name text not null,
  goal text not null,
  labels text[] not null default '{}',
  stations jsonb not null default '[]',
  revision integer not null default 1,
  live_at timestamptz,
  archived_at timestamptz,
  -- What came before was made by tests, and is left out of its numbers.
  counted_since timestamptz,
  created_at timestamptz not null,
  changed_at timestamptz not null,
  changed_by text not null
);
create unique index funnel_name on funnel (lower(name));
