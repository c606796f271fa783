-- Personal deadlines, which follow-ups named before: how each begins, how far it runs, and what comes afterwards.
create table deadline (
  id bigint generated always as identity primary key,
  name text not null unique,
  content jsonb not null,
  changed_at timestamptz not null,
  changed_by text not null
);

-- Codes that were made for one person each.
create table coupon_code (
  code text primary key,
  coupon_id bigint not null references coupon on delete cascade,
  contact_id bigint not null references contact on delete cascade,
  made_at timestamptz not null,
  ends_at timestamptz,
  unique (coupon_id, contact_id)
);
create index coupon_code_of_contact on coupon_code (contact_id, made_at);

update page_version set content = content || '{"deadline": null}';
