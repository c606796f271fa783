-- Emails become block documents with versions, as pages have them. What was made of an email stays with its version.
alter table email
  add published_version integer,
  add published_at timestamptz,
  add published_by text,
  add archived_at timestamptz,
  -- What it is about: who does not want that does not get it.
  add topic_id bigint references topic;

create table email_version (
  email_id bigint not null references email on delete cascade,
  number integer not null,
  content jsonb not null,
  revision integer not null default 1,
  made_at timestamptz not null,
  made_by text not null,
  -- Made once when it is published; only what is personal is merged for each person.
  subject_template text,
  html_template text,
  text_template text,
  -- The links of the email that its templates number, in that order.
  links bigint[] not null default '{}',
  -- Who sees the parts that not everybody sees, in the order in which the templates number them.
  conditions jsonb not null default '[]',
  primary key (email_id, number)
);
alter table email
  add foreign key (id, published_version) references email_version (email_id, number) deferrable initially deferred;

create table email_editor (
  email_id bigint not null references email on delete cascade,
  name text not null,
  seen_at timestamptz not null,
  primary key (email_id, name)
);

-- A link is told by its block, and within that by a part: it stays the same however the email is rewritten.
alter table email_link
  add block text,
  add part text,
  -- What a click does.
  add actions jsonb not null default '[]',
  -- It stands in the email no more; mail that was sent with it still leads on.
  add gone boolean not null default false;

create function pg_temp.email_words(given text) returns text language sql immutable as $$
  select regexp_replace(regexp_replace(regexp_replace(given,
    '\{\{ *person\.first_name *(?:\| *default: *"([^"{}]*)" *)?\}\}', '{first name or ''\1''}', 'g'),
    '\{\{ *person\.last_name *(?:\| *default: *"([^"{}]*)" *)?\}\}', '{last name or ''\1''}', 'g'),
    '\{\{ *person\.address *\}\}', '{email address}', 'g')
$$;

create function pg_temp.email_target(given jsonb) returns jsonb language sql immutable as $$
  select case
    when given ? 'to' then given
    when given ? 'url' then jsonb_build_object('to', 'web', 'url', given->'url')
    when given ? 'file' then jsonb_build_object('to', 'file', 'file', given->'file')
    when given ? 'path' then jsonb_build_object('to', 'path', 'path', given->'path')
    else '{"to": "nowhere"}' end
$$;

create function pg_temp.email_inlines(line text) returns jsonb language sql immutable as $$
  select coalesce(jsonb_agg(case when part ~ '^\{(first name|last name|email address)'
      then jsonb_build_object('type', 'mergeField', 'attrs', jsonb_build_object(
        'field', case when part like '{first%' then 'firstName' when part like '{last%' then 'lastName' else 'address' end,
        'fallback', coalesce(substring(part from ' or ''([^'']*)'''), '')))
      else jsonb_build_object('type', 'text', 'text', part) end order by n), '[]')
  from regexp_matches(line, '\{(?:first name|last name|email address)[^{}]*\}|[^{]+|\{', 'g') with ordinality m (found, n),
    lateral (select found[1] part) one
  where part <> ''
$$;

create function pg_temp.email_paragraph(words text) returns jsonb language sql immutable as $$
  select jsonb_build_object('type', 'paragraph', 'content', (
    select coalesce(jsonb_agg(node order by n, k), '[]') from (
      select n, 0 k, '{"type": "hardBreak"}'::jsonb node from generate_series(2, cardinality(string_to_array(words, E'\n'))) n
      union all
      select n, k::int, node from unnest(string_to_array(words, E'\n')) with ordinality l (line, n),
        jsonb_array_elements(pg_temp.email_inlines(line)) with ordinality i (node, k)) nodes))
$$;

create function pg_temp.email_block(given jsonb, n bigint) returns jsonb language sql immutable as $$
  select jsonb_build_object('id', 'block' || lpad(n::text, 4, '0'), 'kind', given->'kind') || case given->>'kind'
    when 'heading' then jsonb_build_object('words', left(pg_temp.email_words(given->>'words'), 300))
    when 'text' then jsonb_build_object('content', jsonb_build_object('type', 'doc', 'content',
      jsonb_build_array(pg_temp.email_paragraph(pg_temp.email_words(given->>'words')))))
    else jsonb_build_object('label', left(pg_temp.email_words(given->>'label'), 80), 'target', pg_temp.email_target(given->'target')) end
$$;

insert into email_version (email_id, number, content, made_at, made_by, subject_template, html_template, text_template, links)
  select id, 1, jsonb_build_object(
      'subject', left(pg_temp.email_words(content->>'subject'), 300),
      'preheader', left(pg_temp.email_words(content->>'preheader'), 300),
      'purpose', purpose,
      'document', jsonb_build_object('sections', jsonb_build_array(jsonb_build_object('id', 'section1', 'look', '{}'::jsonb,
        'columns', jsonb_build_array(jsonb_build_object('id', 'column1', 'blocks', (
          select coalesce(jsonb_agg(pg_temp.email_block(block, n) order by n), '[]')
          from jsonb_array_elements(content->'blocks') with ordinality b (block, n)))))))),
    created_at, 'Nurtel', content->>'subject', html_template, text_template,
    coalesce((select array_agg(link.id order by link.position) from email_link link where link.email_id = email.id), '{}')
  from email;
update email set published_version = 1, published_at = created_at, published_by = 'Nurtel';

update email_link set target = pg_temp.email_target(target), part = 'button',
  block = coalesce((select 'block' || lpad(n::text, 4, '0') from (
      select n, row_number() over (order by n) - 1 position
      from email, jsonb_array_elements(content->'blocks') with ordinality b (block, n)
      where email.id = email_id and b.block->>'kind' = 'button') buttons
    where buttons.position = email_link.position), 'gone' || id);
alter table email_link
  alter block set not null,
  alter part set not null,
  drop constraint email_link_email_id_position_key,
  add unique (email_id, block, part);

-- What is checked at the end is checked now: a table with checks to come cannot be altered.
set constraints all immediate;
alter table email drop content, drop html_template, drop text_template;

-- The version that somebody was sent; the published one until then.
alter table message add email_version integer,
  -- When a link of it was first followed: it counts once, however often it is.
  add clicked_at timestamptz;
update message set clicked_at = clicked.at
from (select (details->>'message')::bigint message, min(at) at from activity where kind = 'emailClicked' group by 1) clicked
where message.id = clicked.message;
create index activity_of_link on activity ((details->'link')) where kind = 'emailClicked';

-- What a click does is done once for a person and a link.
create table link_done (
  link_id bigint not null references email_link on delete cascade,
  contact_id bigint not null references contact on delete cascade,
  at timestamptz not null,
  primary key (link_id, contact_id)
);
create index link_done_of_contact on link_done (contact_id);

-- Followed by a machine, such as a scanner of mail: it counts for nobody and does nothing.
create table machine_click (
  id bigint generated always as identity primary key,
  message_id bigint not null references message on delete cascade,
  link_id bigint not null references email_link on delete cascade,
  agent text not null,
  at timestamptz not null
);
create index machine_click_of_link on machine_click (link_id);
create index machine_click_of_message on machine_click (message_id);
