-- Follow-ups have versions, as pages and emails do: `program` is what runs, or ran
-- last; the newest version is what is edited.
alter table followup
  add published_version integer,
  add published_at timestamptz,
  add published_by text,
  add archived_at timestamptz,
  -- Since when nobody moves.
  add paused_at timestamptz;
create table followup_version (
  followup_id bigint not null references followup on delete cascade,
  number integer not null,
  content jsonb not null,
  revision integer not null default 1,
  made_at timestamptz not null,
  made_by text not null,
  primary key (followup_id, number)
);
create table followup_editor (
  followup_id bigint not null references followup on delete cascade,
  name text not null,
  seen_at timestamptz not null,
  primary key (followup_id, name)
);
update followup set program = program || '{"leavesWhen": []}';
insert into followup_version (followup_id, number, content, made_at, made_by)
  select id, 1, program, created_at, 'Nurtel' from followup;
update followup set published_version = 1, published_at = created_at, published_by = 'Nurtel' where state <> 'draft';
update followup set paused_at = now() where state = 'paused';

-- What those inside wait for, by what is live: the transaction in which something happens wakes whom it concerns.
create table waits_for (
  followup_id bigint not null references followup on delete cascade,
  kind text not null,
  details jsonb not null
);
create index waits_for_kind on waits_for (kind);
create index waits_for_of_followup on waits_for (followup_id);

alter table enrolment
  -- The session that the start spoke of.
  add session_id bigint,
  -- How much later a pause made everything that is reckoned from the start (milliseconds).
  add shifted bigint not null default 0,
  -- Which coming of a date let them in: each lets somebody in once.
  add occasion text;
create unique index enrolment_by_occasion on enrolment (contact_id, followup_id, occasion) where occasion is not null;
create index enrolment_started on enrolment (contact_id, started_at);

create table personal_deadline (
  contact_id bigint not null references contact on delete cascade,
  offer text not null,
  ends_at timestamptz not null,
  primary key (contact_id, offer)
);

-- Who belonged to a segment when it was last looked at for a follow-up that starts by it.
create table followup_member (
  followup_id bigint not null references followup on delete cascade,
  segment_id bigint not null references segment on delete cascade,
  contact_id bigint not null references contact on delete cascade,
  primary key (followup_id, segment_id, contact_id)
);
create index followup_member_of_contact on followup_member (contact_id);

-- An email that the sending rules have no place for now is moved to another day, unless its step says otherwise.
alter table message add when_full text not null default 'move' check (when_full in ('move', 'skip'));
