-- A form that was sent: by its token, and by the keyed hash of the address that was typed. It outlives the person, so
-- that a token is used up for good, and tells when the same address last asked the same page for something.
alter table form_sending drop constraint form_sending_contact_id_fkey;
alter table form_sending
  alter contact_id drop not null,
  add foreign key (contact_id) references contact on delete set null,
  add page_id bigint references page on delete cascade,
  add address_hash bytea;
create index form_sending_of_contact on form_sending (contact_id);
create index form_sending_of_address on form_sending (address_hash, at);
create index form_sending_by_age on form_sending (at);

-- What somebody was asked to confirm by email, because a form named an address that nobody may use without its owner.
create table confirmation (
  id bigint generated always as identity primary key,
  contact_id bigint not null references contact on delete cascade,
  page_id bigint not null references page on delete cascade,
  -- What was typed and shown; it counts from the click on.
  first_name text not null,
  source jsonb not null,
  wording text not null,
  sender_ip inet,
  -- What the person was before they waited; null: not on the list.
  state_before text,
  asked_at timestamptz not null,
  confirmed_at timestamptz
);
create index confirmation_of_contact on confirmation (contact_id, asked_at);
create index confirmation_open on confirmation (asked_at) where confirmed_at is null;

-- A change of address that was asked for on the preferences page; the link in the email works once.
create table address_change (
  id bigint generated always as identity primary key,
  contact_id bigint not null references contact on delete cascade,
  address text not null,
  address_key text not null,
  asked_at timestamptz not null,
  used_at timestamptz
);
create index address_change_of_contact on address_change (contact_id, asked_at);
create index address_change_to on address_change (address_key, asked_at);

-- Whom a merged person lives on in: links in their mail and jobs about them follow.
create table merged_contact (
  id bigint primary key,
  into_id bigint not null references contact on delete cascade,
  at timestamptz not null
);
create index merged_contact_into on merged_contact (into_id);

-- Tries to sign in, counted for the account and for where they come from.
drop table sign_in_failure;
create table sign_in_try (
  id bigint generated always as identity primary key,
  account_key text not null,
  source text not null,
  -- When its turn comes; later than it was made where too many came before it.
  turn_at timestamptz not null
);
create index sign_in_try_of_account on sign_in_try (account_key, turn_at);
create index sign_in_try_from on sign_in_try (source, turn_at);

-- A follow-up is started once by one activity, however often its job runs.
alter table enrolment
  add activity_id bigint,
  -- Somebody whose step failed is set aside, so that nobody else waits for them.
  add set_aside_at timestamptz,
  add problem text;
create unique index enrolment_by_activity on enrolment (activity_id, followup_id) where activity_id is not null;
create index enrolment_set_aside on enrolment (followup_id) where set_aside_at is not null and ended_at is null;

-- Who waits is looked for in live follow-ups only: a million who wait in a paused one are not walked past.
drop index enrolment_waking;
create index enrolment_due on enrolment (followup_id, wakes_at) where ended_at is null and set_aside_at is null;

-- What somebody asked for once more, by the form they sent: it goes once, however often its job runs.
alter table message add asked_by bigint;
create unique index message_asked_by on message (asked_by, email_id) where asked_by is not null;

create index import_change_of_contact on import_change (contact_id);
create index decision_of_enrolment on decision (enrolment_id);
create index message_sent on message (sent_at) where sent_at is not null;
create index message_by_state on message (state, queued_at desc, id desc);
drop index message_newest;
drop index message_unsent;

-- Two workers that start together wait for each other here.
create or replace function ensure_activity_month(day date) returns void language plpgsql as $body$
declare
  first date := date_trunc('month', day)::date;
  after date := (date_trunc('month', day) + interval '1 month')::date;
  part text := 'activity_' || to_char(first, 'YYYY_MM');
begin
  if to_regclass(part) is not null then return; end if;
  lock table activity in share update exclusive mode;
  if to_regclass(part) is not null then return; end if;
  execute format('create table %I (like activity including all)', part);
  execute format(
    'with moved as (delete from activity_default where at >= %L and at < %L returning *)
     insert into %I overriding system value select * from moved', first, after, part);
  execute format('alter table activity attach partition %I for values from (%L) to (%L)', part, first, after);
end $body$;

-- Plain names: what long work was asked to do, and what an email says.
alter table long_work rename column wish to payload;
alter table email rename column letter to content;
