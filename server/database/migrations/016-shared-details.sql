-- Named values that pages and emails say: set in one place.
create table shared_detail (
  id bigint generated always as identity primary key,
  name text not null,
  name_key text generated always as (lower(name)) stored unique,
  -- What it was called before: texts that name it so go on saying it.
  former_names text[] not null default '{}',
  content jsonb not null,
  changed_at timestamptz not null,
  changed_by text not null
);
alter table field add former_names text[] not null default '{}';

-- Texts name a merge field as one types it: rich text too.
create function pg_temp.named(content jsonb) returns jsonb language sql as $$
  select regexp_replace(regexp_replace(regexp_replace(content::text,
    '"attrs": \{"field": "firstName", "fallback"', '"attrs": {"name": "first name", "fallback"', 'g'),
    '"attrs": \{"field": "lastName", "fallback"', '"attrs": {"name": "last name", "fallback"', 'g'),
    '"attrs": \{"field": "address", "fallback"', '"attrs": {"name": "email address", "fallback"', 'g')::jsonb
$$;
update page_version set content = pg_temp.named(content) where content::text like '%"mergeField"%';
update email_version set content = pg_temp.named(content) where content::text like '%"mergeField"%';
update pop_up_version set content = pg_temp.named(content) where content::text like '%"mergeField"%';
update saved_section set section = pg_temp.named(section) where section::text like '%"mergeField"%';
