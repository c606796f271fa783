-- Pages become block documents with versions. What stood in a capture page becomes a landing page and a thank-you page.
create table picture (
  id bigint generated always as identity primary key,
  name text not null,
  alt text not null default '',
  width integer not null,
  height integer not null,
  -- Part of the address: it changes when the picture is replaced, so that browsers may keep each for ever.
  edition text not null,
  created_at timestamptz not null
);

create table picture_file (
  picture_id bigint not null references picture on delete cascade,
  width integer not null,
  format text not null check (format in ('webp', 'jpg')),
  content bytea not null,
  primary key (picture_id, width, format)
);
-- What is compressed already is stored as it is.
alter table picture_file alter content set storage external;
alter table file alter content set storage external;

create table course (
  id bigint generated always as identity primary key,
  name text not null,
  created_at timestamptz not null
);

create table page_version (
  page_id bigint not null references page on delete cascade,
  number integer not null,
  content jsonb not null,
  -- Counts the saves of a draft: a save that began from an older one is refused.
  revision integer not null default 1,
  made_at timestamptz not null,
  made_by text not null,
  primary key (page_id, number)
);

alter table page rename slug to path;
alter table page
  add purpose text not null default 'landing',
  add published_version integer,
  add published_at timestamptz,
  add published_by text,
  add archived_at timestamptz,
  add course_id bigint references course,
  add lesson_number integer,
  add foreign key (id, published_version) references page_version (page_id, number) deferrable initially deferred;
create index page_of_course on page (course_id, lesson_number) where course_id is not null;

-- Who has a page open, so that the second one is told.
create table page_editor (
  page_id bigint not null references page on delete cascade,
  name text not null,
  seen_at timestamptz not null,
  primary key (page_id, name)
);

-- Addresses that pages had before: they lead on to where the page is now.
create table page_former_path (
  path text primary key,
  page_id bigint not null references page on delete cascade
);
create index page_former_path_of_page on page_former_path (page_id);

-- Sections that are kept to be used again.
create table saved_section (
  id bigint generated always as identity primary key,
  name text not null,
  section jsonb not null,
  created_at timestamptz not null
);

create table lesson_seen (
  contact_id bigint not null references contact on delete cascade,
  page_id bigint not null references page on delete cascade,
  at timestamptz not null,
  primary key (contact_id, page_id)
);
create index lesson_seen_of_page on lesson_seen (page_id);

-- Who looked at what. A stranger is a hash that is salted anew each day, so that nobody is recognised the day after.
create table visit (
  id bigint generated always as identity primary key,
  page_id bigint not null references page on delete cascade,
  at timestamptz not null,
  visitor bytea not null,
  contact_id bigint references contact on delete set null,
  device text not null check (device in ('phone', 'tablet', 'computer')),
  source jsonb not null default '{}'
);
create index visit_of_page on visit (page_id, at);
create index visit_of_contact on visit (contact_id) where contact_id is not null;

create table visit_salt (
  day date primary key,
  salt bytea not null
);

alter table business
  add brand jsonb,
  add site jsonb not null default '{}';

create function pg_temp.part_id() returns text language sql volatile as
  $$ select substr(md5(random()::text || clock_timestamp()::text), 1, 10) $$;

create function pg_temp.block(kind text, given jsonb) returns jsonb language sql volatile as
  $$ select jsonb_build_object('id', pg_temp.part_id(), 'kind', kind, 'hiddenOnPhones', false, 'shownTo', null,
       'guidance', '') || given $$;

create function pg_temp.words(paragraph text) returns jsonb language sql volatile as
  $$ select pg_temp.block('text', jsonb_build_object('content', jsonb_build_object('type', 'doc', 'content',
       jsonb_build_array(case when paragraph = '' then jsonb_build_object('type', 'paragraph')
         else jsonb_build_object('type', 'paragraph', 'content',
           jsonb_build_array(jsonb_build_object('type', 'text', 'text', paragraph))) end)))) $$;

create function pg_temp.section(columns jsonb) returns jsonb language sql volatile as
  $$ select jsonb_build_object('id', pg_temp.part_id(), 'hiddenOnPhones', false, 'shownTo', null,
       'look', '{"background": "plain", "picture": null, "width": "page"}'::jsonb, 'columns', columns) $$;

create function pg_temp.col(share integer, blocks jsonb) returns jsonb language sql volatile as
  $$ select jsonb_build_object('id', pg_temp.part_id(), 'share', share, 'blocks', blocks) $$;

create function pg_temp.page(title text, listed boolean, sections jsonb) returns jsonb language sql volatile as
  $$ select jsonb_build_object('title', title, 'description', '', 'language', 'en', 'listed', listed,
       'sharing', '{"title": "", "words": "", "picture": null}'::jsonb, 'limitedTo', null,
       'opens', '{"when": "atOnce"}'::jsonb, 'document', jsonb_build_object('sections', sections)) $$;

-- The path of a page was up to its maker; a new one needs no more than what the old one had.
create temporary table old_page on commit drop as
  select id, path, name, state, tag_id, content, created_at from page;

create temporary table thanks_page on commit drop as
  with made as (
    insert into page (path, name, state, purpose, content, created_at)
    select path || '/thanks', name || ': thank you', state, 'thankYou', '{}', created_at from old_page
    returning id, path, state, created_at
  )
  select made.id, old_page.id landing, made.state, made.created_at from made
  join old_page on made.path = old_page.path || '/thanks';

insert into page_version (page_id, number, content, made_at, made_by)
select old_page.id, 1, pg_temp.page(left(content->>'headline', 120), true, jsonb_build_array(pg_temp.section(
    jsonb_build_array(
      pg_temp.col(3, jsonb_build_array(
        pg_temp.block('heading', jsonb_build_object('words', content->>'headline', 'level', 1, 'align', 'start')),
        pg_temp.words(content->>'promise')) || case when jsonb_array_length(content->'points') = 0 then '[]'::jsonb
          else jsonb_build_array(pg_temp.block('list',
            jsonb_build_object('marker', 'ticks', 'items', content->'points'))) end),
      pg_temp.col(2, jsonb_build_array(pg_temp.block('form', jsonb_build_object(
        'button', left(content#>>'{form,button}', 80), 'askFirstName', true,
        'consentWording', content#>>'{form,consentWording}', 'privacy', '', 'tag', tag_id,
        'next', jsonb_build_object('to', 'page', 'page', thanks_page.id)))))))))
  , old_page.created_at, 'migration'
from old_page join thanks_page on thanks_page.landing = old_page.id;

insert into page_version (page_id, number, content, made_at, made_by)
select thanks_page.id, 1, pg_temp.page(left(content#>>'{thanks,headline}', 120), false, jsonb_build_array(
    pg_temp.section(jsonb_build_array(pg_temp.col(1, jsonb_build_array(
      pg_temp.block('heading', jsonb_build_object('words', content#>>'{thanks,headline}', 'level', 1, 'align', 'start')),
      pg_temp.block('list', jsonb_build_object('marker', 'numbers', 'items', content#>'{thanks,next}' ||
        jsonb_build_array('Nothing after five minutes? Look in the spam and promotions folders.'))),
      pg_temp.block('button', jsonb_build_object('label', 'Add us to your contacts', 'target',
        '{"to": "path", "path": "/contact-card.vcf"}'::jsonb, 'newWindow', false, 'look', 'outlined',
        'align', 'start')))
      || case when content#>'{thanks,offer}' is null then '[]'::jsonb else jsonb_build_array(
        pg_temp.block('heading',
          jsonb_build_object('words', left(content#>>'{thanks,offer,words}', 300), 'level', 2, 'align', 'start')),
        pg_temp.block('button', jsonb_build_object('label', left(content#>>'{thanks,offer,button}', 80), 'target',
          case when content#>>'{thanks,offer,href}' like '/%'
            then jsonb_build_object('to', 'path', 'path', content#>>'{thanks,offer,href}')
            else jsonb_build_object('to', 'web', 'url', content#>>'{thanks,offer,href}') end,
          'newWindow', false, 'look', 'filled', 'align', 'start'))) end)))))
  , old_page.created_at, 'migration'
from old_page join thanks_page on thanks_page.landing = old_page.id;

-- Who must confirm gets what the form promised when they do, whatever the page says by then.
alter table confirmation add block text, add tag_id bigint references tag on delete set null;
update confirmation set tag_id = old_page.tag_id from old_page where old_page.id = confirmation.page_id;

update page set published_version = 1, published_at = created_at, published_by = 'migration' where state = 'live';
set constraints all immediate;

alter table page drop state, drop tag_id, drop content, alter purpose drop default;
