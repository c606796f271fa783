-- Links that emails and pages share: where one leads, and what a click does, is set in one place.
create table named_link (
  id bigint generated always as identity primary key,
  name text not null,
  name_key text generated always as (lower(name)) stored unique,
  target jsonb not null,
  actions jsonb not null default '[]',
  changed_at timestamptz not null,
  changed_by text not null
);
create table named_link_click (
  id bigint generated always as identity primary key,
  link_id bigint not null references named_link on delete cascade,
  -- Nobody that we know, on a page.
  contact_id bigint references contact on delete cascade,
  machine boolean not null,
  at timestamptz not null
);
create index named_link_click_of on named_link_click (link_id, contact_id);
create index named_link_click_of_contact on named_link_click (contact_id);
create table named_link_done (
  link_id bigint not null references named_link on delete cascade,
  contact_id bigint not null references contact on delete cascade,
  at timestamptz not null,
  primary key (link_id, contact_id)
);
create index named_link_done_of_contact on named_link_done (contact_id);

-- Clicks that came in haste wait here until it is known whether all links were followed at once, as scanners do.
alter table machine_click
  add undecided boolean not null default false,
  add decide_at timestamptz,
  add device text not null default 'computer';
create index machine_click_undecided on machine_click (decide_at) where undecided;

-- They do not want their opens and clicks counted.
alter table contact add untracked boolean not null default false;
