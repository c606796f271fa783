-- What somebody is about to buy, from the address on: kept whether they go on or not.
create table cart (
  id bigint generated always as identity primary key,
  token_hash bytea not null unique,
  page_id bigint references page on delete set null,
  block text not null,
  -- Nobody, where an address must not come back by itself.
  contact_id bigint references contact on delete cascade,
  address text not null,
  address_key text not null,
  first_name text not null default '',
  last_name text not null default '',
  phone text,
  -- They came by a link of their own mail, or were put on the list by this very cart.
  trusted boolean not null,
  rehearsal boolean not null default false,
  -- What they agreed to besides, in its own words, and the topics that it is for.
  agreed jsonb,
  items jsonb not null,
  country char(2),
  vat_number text,
  coupon text,
  terms text,
  -- Where its card is typed.
  card_session text not null,
  source jsonb not null default '{}',
  began_at timestamptz not null,
  changed_at timestamptz not null,
  left_at timestamptz,
  ordered_at timestamptz
);
-- Open carts cost nothing until they are due to be looked at.
create index cart_open on cart (changed_at) where left_at is null and ordered_at is null and not rehearsal;
create index cart_rehearsed on cart (id) where rehearsal and left_at is null and ordered_at is null;
create index cart_of_contact on cart (contact_id);

create table customer_order (
  id bigint generated always as identity primary key,
  cart_id bigint references cart on delete set null,
  -- What was taken with one click after this order was paid.
  after_id bigint references customer_order on delete cascade,
  page_id bigint references page on delete set null,
  contact_id bigint references contact on delete set null,
  address text not null,
  first_name text not null default '',
  last_name text not null default '',
  country char(2),
  vat_number text,
  currency char(3) not null,
  coupon text,
  off bigint not null default 0,
  net bigint not null,
  tax bigint not null,
  total bigint not null,
  state text not null check (state in ('open', 'paid', 'failed')),
  -- Why it failed.
  failure text,
  refunded bigint not null default 0,
  test boolean not null,
  -- Card fields of this order, and the card that was kept.
  card_session text not null,
  method text,
  placed_at timestamptz not null,
  paid_at timestamptz,
  disputed_at timestamptz,
  -- Of a subscription: nothing more is due from then on, and why.
  ended_at timestamptz,
  ended_by text
);
-- A cart is bought once, however often its button is pressed.
create unique index customer_order_of_cart on customer_order (cart_id) where state in ('open', 'paid');
create index customer_order_after on customer_order (after_id) where after_id is not null;
create index customer_order_of_contact on customer_order (contact_id);
create index customer_order_test on customer_order (id) where test;
create index customer_order_by_time on customer_order (placed_at desc, id desc);

create table order_line (
  order_id bigint not null references customer_order on delete cascade,
  n integer not null,
  kind text not null,
  product_id bigint not null references product,
  version integer not null,
  price_id text not null,
  title text not null,
  words text not null,
  amount bigint not null,
  rate integer not null,
  net bigint not null,
  tax bigint not null,
  total bigint not null,
  -- A subscription goes on: how often, how many times, from when, and for how much.
  renews jsonb,
  primary key (order_id, n)
);
create index order_line_of_product on order_line (product_id, price_id);

create table payment (
  id bigint generated always as identity primary key,
  order_id bigint not null references customer_order on delete cascade,
  -- The first is made with the order, others when they are due: each stands for a line, and which time of it.
  n integer not null,
  line integer,
  turn integer not null default 0,
  due_at timestamptz not null,
  net bigint not null,
  tax bigint not null,
  total bigint not null,
  state text not null check (state in ('due', 'asked', 'confirming', 'paid', 'failed')),
  charge text unique,
  confirm_url text,
  failure text,
  tries integer not null default 0,
  -- A card that failed is tried again on later days, each time as a charge of its own.
  attempt integer not null default 0,
  -- When the gateway is asked what became of it.
  look_at timestamptz,
  asked_at timestamptz,
  paid_at timestamptz,
  unique (order_id, n)
);
create index payment_to_look_at on payment (look_at) where look_at is not null;
create index payment_due on payment (due_at) where state = 'due' and n > 0;

create table refund (
  id bigint generated always as identity primary key,
  payment_id bigint not null references payment on delete cascade,
  amount bigint not null check (amount > 0),
  state text not null check (state in ('asked', 'done', 'failed')),
  reason text not null default '',
  -- What the products brought is taken back: tags, and what buyers may see.
  takes_back boolean not null default false,
  asked_at timestamptz not null,
  asked_by text not null,
  done_at timestamptz,
  failure text
);
create index refund_of_payment on refund (payment_id);

-- Numbers without gaps: the last one is kept with the business and given in the transaction that pays.
alter table business add column last_invoice bigint not null default 0;
alter table business add column takes text not null default 'test' check (takes in ('test', 'live'));
create table invoice (
  number bigint primary key,
  order_id bigint not null references customer_order,
  payment_id bigint references payment,
  refund_id bigint unique references refund,
  kind text not null check (kind in ('invoice', 'credit')),
  issued_at timestamptz not null,
  content jsonb not null
);
create index invoice_of_order on invoice (order_id);
create unique index invoice_of_payment on invoice (payment_id) where kind = 'invoice';

-- How many were sold at a price, those held included whose payment is under way.
create table price_sale (
  product_id bigint not null references product on delete cascade,
  price_id text not null,
  sold bigint not null default 0,
  primary key (product_id, price_id)
);

create table coupon_use (
  coupon_id bigint not null references coupon on delete cascade,
  order_id bigint not null references customer_order on delete cascade,
  address_key text not null,
  primary key (coupon_id, order_id)
);

-- What the card gateway has told, each once.
create table gateway_event (
  id text primary key,
  received_at timestamptz not null
);
