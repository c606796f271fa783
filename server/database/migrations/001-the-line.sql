-- Workspace: one install serves one business; several people of it sign in.
create table business (
  id smallint primary key default 1 check (id = 1),
  name text not null,
  postal_address text not null,
  sender_name text not null,
  sender_address text not null,
  zone text not null,
  currency char(3) not null,
  created_at timestamptz not null
);

create table account (
  id bigint generated always as identity primary key,
  address text not null,
  address_key text not null unique,
  name text not null,
  password_hash text not null,
  created_at timestamptz not null
);

-- The cookie holds the token; only its hash is kept, so a read of this table opens no session.
create table sign_in (
  token_hash bytea primary key,
  account_id bigint not null references account on delete cascade,
  csrf_token text not null,
  created_at timestamptz not null,
  expires_at timestamptz not null
);

create table sign_in_failure (
  who text not null,
  at timestamptz not null
);
create index sign_in_failure_who on sign_in_failure (who, at);

-- Audience.
create table contact (
  id bigint generated always as identity primary key,
  address text not null,
  address_key text not null unique,
  first_name text not null default '',
  last_name text not null default '',
  zone text,
  country char(2),
  marketing_state text not null default 'neverAsked'
    check (marketing_state in ('waiting', 'subscribed', 'unsubscribed', 'bounced', 'complained', 'neverAsked')),
  rehearsal boolean not null default false,
  -- Milliseconds by which a rehearsal person's clock is ahead of the business's.
  clock_ahead bigint not null default 0 check (rehearsal or clock_ahead = 0),
  created_at timestamptz not null,
  updated_at timestamptz not null
);
create index contact_newest on contact (created_at desc, id desc) where not rehearsal;

create table tag (
  id bigint generated always as identity primary key,
  name text not null,
  name_key text generated always as (lower(name)) stored unique,
  created_at timestamptz not null
);

create table contact_tag (
  contact_id bigint not null references contact on delete cascade,
  tag_id bigint not null references tag on delete cascade,
  added_at timestamptz not null,
  added_by text not null,
  primary key (contact_id, tag_id)
);
create index contact_tag_by_tag on contact_tag (tag_id, contact_id);

create table consent (
  id bigint generated always as identity primary key,
  contact_id bigint not null references contact on delete cascade,
  given boolean not null,
  wording text not null,
  source text not null,
  sender_ip inet,
  at timestamptz not null
);
create index consent_of_contact on consent (contact_id, at);

-- The single record of what people did and what was done to them: append-only, a partition a month.
create table activity (
  id bigint generated always as identity,
  contact_id bigint not null,
  kind text not null,
  details jsonb not null,
  at timestamptz not null,
  primary key (id, at)
) partition by range (at);
create index activity_of_contact on activity (contact_id, at desc);
create index activity_of_kind on activity (kind, at desc);

create table activity_default partition of activity default;

-- Capture.
create table file (
  id bigint generated always as identity primary key,
  name text not null,
  media_type text not null,
  content bytea not null,
  created_at timestamptz not null
);

create table page (
  id bigint generated always as identity primary key,
  slug text not null unique,
  name text not null,
  state text not null check (state in ('draft', 'live')),
  tag_id bigint references tag,
  content jsonb not null,
  created_at timestamptz not null
);

-- One row a form that was sent: the token of the page view makes sending it twice the same as once.
create table form_sending (
  token text primary key,
  contact_id bigint not null references contact on delete cascade,
  at timestamptz not null
);

-- Email.
create table email (
  id bigint generated always as identity primary key,
  name text not null,
  purpose text not null check (purpose in ('transactional', 'marketing')),
  letter jsonb not null,
  -- Made once from the letter; only what is personal is merged for each person.
  html_template text not null,
  text_template text not null,
  created_at timestamptz not null
);

create table email_link (
  id bigint generated always as identity primary key,
  email_id bigint not null references email on delete cascade,
  position integer not null,
  label text not null,
  target jsonb not null,
  unique (email_id, position)
);

-- Follow-ups.
create table followup (
  id bigint generated always as identity primary key,
  name text not null,
  state text not null check (state in ('draft', 'live', 'paused', 'closing', 'archived')),
  program jsonb not null,
  created_at timestamptz not null
);

create table enrolment (
  id bigint generated always as identity primary key,
  followup_id bigint not null references followup on delete cascade,
  contact_id bigint not null references contact on delete cascade,
  started_at timestamptz not null,
  step text,
  -- On the person's own clock, and the same moment on the business's: they differ in rehearsal only.
  due_at timestamptz,
  wakes_at timestamptz,
  ended_at timestamptz,
  check ((step is null) = (ended_at is not null))
);
create index enrolment_waking on enrolment (wakes_at) where ended_at is null;
create index enrolment_of_contact on enrolment (contact_id, followup_id);
create index enrolment_inside on enrolment (followup_id, step) where ended_at is null;

create table decision (
  id bigint generated always as identity primary key,
  enrolment_id bigint not null references enrolment on delete cascade,
  contact_id bigint not null,
  step text,
  outcome text not null,
  reason text not null,
  at timestamptz not null
);
create index decision_of_contact on decision (contact_id, at desc);

-- Everything that goes out. One person gets one email of one step of one enrolment once.
create table message (
  id bigint generated always as identity primary key,
  email_id bigint not null references email,
  contact_id bigint not null references contact on delete cascade,
  enrolment_id bigint references enrolment on delete cascade,
  step text,
  purpose text not null check (purpose in ('transactional', 'marketing')),
  state text not null default 'queued' check (state in ('queued', 'sent', 'held', 'failed')),
  queued_at timestamptz not null,
  sent_at timestamptz,
  attempts integer not null default 0,
  problem text,
  unique (enrolment_id, step)
);
create index message_newest on message (queued_at desc, id desc);
create index message_unsent on message (queued_at) where state = 'queued';
create index message_of_contact on message (contact_id);

-- Who works: a row a worker process, kept fresh by it.
create table worker (
  id text primary key,
  started_at timestamptz not null,
  seen_at timestamptz not null,
  -- Names under which the job queue knows its holds on jobs: freed when the process is found dead.
  holders text[] not null
);

-- Makes the partition of the month that holds `day`. Rows that came before it did lie in the default
-- partition (a rehearsal may run years ahead) and move over.
create function ensure_activity_month(day date) returns void language plpgsql as $body$
declare
  first date := date_trunc('month', day)::date;
  after date := (date_trunc('month', day) + interval '1 month')::date;
  part text := 'activity_' || to_char(first, 'YYYY_MM');
begin
  if to_regclass(part) is not null then return; end if;
  execute format('create table %I (like activity including all)', part);
  execute format(
    'with moved as (delete from activity_default where at >= %L and at < %L returning *)
     insert into %I overriding system value select * from moved', first, after, part);
  execute format('alter table activity attach partition %I for values from (%L) to (%L)', part, first, after);
end $body$;
