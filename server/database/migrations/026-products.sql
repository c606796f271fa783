-- Products, which had a name only: what they bring, and their price lists.
alter table product
  add column labels text[] not null default '{}',
  add column published_version integer,
  add column published_at timestamptz,
  add column published_by text,
  add column archived_at timestamptz;

create table product_version (
  product_id bigint not null references product on delete cascade,
  number integer not null,
  content jsonb not null,
  revision integer not null default 1,
  made_at timestamptz not null,
  made_by text not null,
  primary key (product_id, number)
);
alter table product
  add foreign key (id, published_version) references product_version (product_id, number) deferrable initially deferred;
insert into product_version (product_id, number, content, made_at, made_by)
  select id, 1, jsonb_build_object('title', name, 'description', '', 'pictures', '[]'::jsonb, 'brings', '[]'::jsonb,
    'bringsNothing', false, 'after', '{"to": "nowhere"}'::jsonb, 'taxed', true, 'prices', '[]'::jsonb), created_at, ''
  from product;

create table product_editor (
  product_id bigint not null references product on delete cascade,
  name text not null,
  seen_at timestamptz not null,
  primary key (product_id, name)
);

-- How the business taxes what it sells.
alter table business add column tax jsonb not null default '{}';

-- Words that buyers type, and what each takes off.
create table coupon (
  id bigint generated always as identity primary key,
  code text not null unique,
  content jsonb not null,
  changed_at timestamptz not null,
  changed_by text not null
);
