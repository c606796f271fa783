-- Forms become things of the Library, with versions as pages have them; what stood in a block of a page becomes one.
create table form (
  id bigint generated always as identity primary key,
  name text not null,
  -- By which other sites know it.
  key text not null unique,
  published_version integer,
  published_at timestamptz,
  published_by text,
  archived_at timestamptz,
  created_at timestamptz not null
);

create table form_version (
  form_id bigint not null references form on delete cascade,
  number integer not null,
  content jsonb not null,
  revision integer not null default 1,
  made_at timestamptz not null,
  made_by text not null,
  primary key (form_id, number)
);
alter table form
  add foreign key (id, published_version) references form_version (form_id, number) deferrable initially deferred;

create table form_editor (
  form_id bigint not null references form on delete cascade,
  name text not null,
  seen_at timestamptz not null,
  primary key (form_id, name)
);

-- The words that people agree to. Other words in the same place of a form are another wording; it outlives the form.
create table consent_wording (
  id bigint generated always as identity primary key,
  form_id bigint references form on delete set null,
  field text not null,
  number integer not null,
  name text not null,
  words text not null,
  created_at timestamptz not null,
  unique (form_id, field, number)
);

-- What proves a consent: the words, the version of the form and of the page, the site, and how it was confirmed.
alter table consent
  add wording_id bigint references consent_wording,
  add form_id bigint references form on delete set null,
  add form_version integer,
  add page_id bigint references page on delete set null,
  add page_version integer,
  add site text,
  add confirmed_at timestamptz;
create index consent_of_wording on consent (wording_id, contact_id) where wording_id is not null;

-- What a form was sent with, until its address is confirmed.
alter table confirmation
  alter page_id drop not null,
  drop constraint confirmation_page_id_fkey,
  add foreign key (page_id) references page on delete set null,
  add form_id bigint references form on delete cascade,
  add form_version integer,
  add page_version integer,
  add site text,
  add answers jsonb not null default '{}',
  -- The sending, by which the page can ask for the email once more.
  add token text,
  add resent integer not null default 0,
  add reminded_at timestamptz,
  -- How often the link in the email was used.
  add clicks integer not null default 0;
create index confirmation_of_form on confirmation (form_id, asked_at);
create index confirmation_of_token on confirmation (token) where token is not null;

-- Who never confirmed is forgotten; how many they were is not.
create table confirmation_forgotten (
  form_id bigint not null references form on delete cascade,
  source text not null,
  day date not null,
  people integer not null,
  primary key (form_id, source, day)
);

alter table form_sending add form_id bigint references form on delete cascade, add source_ip inet;
-- Old sendings are looked for once a night, and there are two days of them: not worth an index.
drop index form_sending_by_age;
create index form_sending_of_source on form_sending (source_ip, at) where source_ip is not null;

-- How often a form was seen, begun and sent, by place and day.
create table form_count (
  form_id bigint not null references form on delete cascade,
  place text not null,
  day date not null,
  seen integer not null default 0,
  begun integer not null default 0,
  sent integer not null default 0,
  primary key (form_id, place, day)
);

create temporary table form_block on commit drop as
  select page.id page_id, page.name page_name, page.created_at, page.published_version,
    version.number, version.made_at, version.made_by, block
  from page join page_version version on version.page_id = page.id
  cross join lateral jsonb_path_query(version.content, '$.document.sections[*].columns[*].blocks[*] ? (@.kind == "form")') block;

create function pg_temp.form_content(block jsonb) returns jsonb language sql immutable as $$
  select jsonb_build_object(
    'title', '', 'next', 'Next', 'button', block->>'button', 'privacy', block->>'privacy', 'known', 'fill',
    'slips', true, 'domains', '[]'::jsonb, 'throwaway', 'warn',
    'confirm', jsonb_build_object('when', 'never', 'countries', '[]'::jsonb, 'waitingTag', null, 'confirmedTag', null,
      'click', 'button', 'remind', false,
      'letter', '{"subject": "Please confirm your address", "words": "One click, and you get what you asked for.", "button": "Yes, that was me"}'::jsonb,
      'waiting', '{"title": "One more step: look in your mailbox", "words": "We have sent you an email with a button. Press it, and what you asked for comes to you."}'::jsonb,
      'next', '{"to": "nowhere"}'::jsonb),
    'after', case when block#>>'{next,to}' = 'nowhere'
      then '{"then": "message", "title": "Thank you", "words": "Look into your mailbox: we have written to you."}'::jsonb
      else jsonb_build_object('then', 'go', 'target', block->'next') end,
    'actions', case when jsonb_typeof(block->'tag') = 'number'
      then jsonb_build_array(jsonb_build_object('does', 'addTag', 'tag', block->'tag')) else '[]'::jsonb end,
    'steps', jsonb_build_array(jsonb_build_object('id', 'firststep', 'title', '', 'fields',
      case when (block->>'askFirstName')::boolean then '[{"asks": "firstName", "id": "firstname", "label": "First name", "hint": "", "required": false, "fault": "", "example": ""}]'::jsonb else '[]'::jsonb end
      || '[{"asks": "address", "id": "address", "label": "Email address", "hint": "", "required": true, "fault": "", "example": ""}]'::jsonb
      || jsonb_build_array(jsonb_build_object('asks', 'consent', 'id', 'consent', 'label', block->>'consentWording',
        'topics', '[]'::jsonb, 'required', true, 'fault', '')))))
$$;

do $$
declare
  place record;
  version record;
  made bigint;
  latest integer;
  content jsonb;
  former jsonb;
begin
  for place in select page_id, block->>'id' block_id, min(page_name) page_name, min(created_at) created_at,
      row_number() over (partition by page_id order by block->>'id') n
    from form_block group by page_id, block->>'id' order by page_id, 2
  loop
    insert into form (name, key, created_at)
    values (left(place.page_name || case when place.n > 1 then ' ' || place.n else '' end, 120),
      replace(gen_random_uuid()::text, '-', ''), place.created_at) returning id into made;
    latest := 0;
    former := null;
    for version in select * from form_block
      where page_id = place.page_id and block->>'id' = place.block_id order by number
    loop
      content := pg_temp.form_content(version.block);
      if content is distinct from former then
        latest := latest + 1;
        insert into form_version (form_id, number, content, made_at, made_by)
        values (made, latest, content, version.made_at, version.made_by);
        former := content;
      end if;
      if version.number = version.published_version then
        update form set published_version = latest, published_at = version.made_at, published_by = 'migration'
        where id = made;
      end if;
    end loop;
    update form_block set block = block || jsonb_build_object('made', made)
    where page_id = place.page_id and block->>'id' = place.block_id;
  end loop;
end $$;

-- A published page needs its form, also where only another version of it was published.
update form set published_version = (select max(number) from form_version where form_id = form.id),
  published_at = created_at, published_by = 'migration' where published_version is null;

update page_version set content = jsonb_set(content, '{document,sections}', (
  select coalesce(jsonb_agg(case when jsonb_typeof(section->'columns') = 'array' then jsonb_set(section, '{columns}', (
    select coalesce(jsonb_agg(jsonb_set(col, '{blocks}', (
      select coalesce(jsonb_agg(case when block->>'kind' = 'form' then
        (block - '{button,askFirstName,consentWording,privacy,tag,next}'::text[]) || jsonb_build_object('form',
          (select (made.block->>'made')::bigint from form_block made
           where made.page_id = page_version.page_id and made.block->>'id' = block->>'id' limit 1))
        else block end order by b), '[]') from jsonb_array_elements(col->'blocks') with ordinality blocks (block, b)))
      order by c), '[]') from jsonb_array_elements(section->'columns') with ordinality cols (col, c)))
    else section end order by s), '[]') from jsonb_array_elements(content#>'{document,sections}') with ordinality sections (section, s)))
where jsonb_path_exists(content, '$.document.sections[*].columns[*].blocks[*] ? (@.kind == "form")');

update saved_section set section = jsonb_set(section, '{columns}', (
  select coalesce(jsonb_agg(jsonb_set(col, '{blocks}', (
    select coalesce(jsonb_agg(case when block->>'kind' = 'form' then
      (block - '{button,askFirstName,consentWording,privacy,tag,next}'::text[]) || '{"form": null}'::jsonb
      else block end order by b), '[]') from jsonb_array_elements(col->'blocks') with ordinality blocks (block, b)))
    order by c), '[]') from jsonb_array_elements(section->'columns') with ordinality cols (col, c)))
where jsonb_path_exists(section, '$.columns[*].blocks[*] ? (@.kind == "form")');

-- The first wording of each consent, and what people agreed to by it.
insert into consent_wording (form_id, field, number, name, words, created_at)
select form.id, 'consent', 1, form.name, field->>'label', form.created_at
from form join form_version on form_id = form.id and number = published_version
cross join lateral jsonb_path_query(content, '$.steps[*].fields[*] ? (@.asks == "consent")') field;

update consent set wording_id = wording.id, form_id = wording.form_id, form_version = 1
from consent_wording wording where consent.wording = wording.words and consent.given;

create temporary table form_of_page on commit drop as
  select distinct on (page_id) page_id, (block->>'made')::bigint form_id from form_block order by page_id, number desc;
update activity set details = details || jsonb_build_object('form', form_id)
from form_of_page where kind in ('formSent', 'confirmationAsked') and (details->>'page')::bigint = page_id;
update form_sending set form_id = form_of_page.form_id from form_of_page where form_sending.page_id = form_of_page.page_id;
update confirmation set
  form_id = coalesce(
    (select (made.block->>'made')::bigint from form_block made
     where made.page_id = confirmation.page_id and made.block->>'id' = confirmation.block limit 1),
    (select form_id from form_of_page where form_of_page.page_id = confirmation.page_id)),
  form_version = 1,
  answers = jsonb_build_object('firstName', first_name, 'own', '{}'::jsonb, 'agreed', '["consent"]'::jsonb);
delete from confirmation where form_id is null;
alter table confirmation
  alter form_id set not null, alter form_version set not null,
  drop first_name, drop wording, drop block, drop tag_id;
